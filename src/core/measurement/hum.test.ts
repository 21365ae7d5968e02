import { seeded } from '@/core/spectrum/noise';
import { captureSweep } from './capture';
import { humBeside } from './hum';

const sampleRateHz = 48_000;
const sweep = captureSweep({ levelDb: -6, seconds: 0.5, sampleRateHz });

/** The sweep 2 ms later, with noise and hum. */
function recorded(noise: number, hum: number, hz: number, seed = 4): Float64Array {
  const { gaussian } = seeded(seed);
  return sweep.map((_, i) => {
    const phase = (2 * Math.PI * hz * i) / sampleRateHz + 1;
    const heard = 0.5 * (sweep[i - 96] ?? 0);
    return heard + noise * gaussian() + hum * (Math.sin(phase) + 0.4 * Math.sin(3 * phase));
  });
}

test.each([50, 60] as const)('a hum of %d Hz is found and told from the other', (hz) => {
  const found = humBeside(recorded(1e-4, 1e-3, hz), sweep, sampleRateHz)!;
  expect(found.mainsHz).toBe(hz);
  // 0.25 at the peak over 1e-3·√(1.16/2).
  expect(Math.abs(found.belowPeakDb - 20 * Math.log10(0.2506 / 7.62e-4))).toBeLessThan(0.5);
});

test('noise alone, other tones and hum that is buried are passed over', () => {
  for (let seed = 1; seed <= 20; seed++)
    expect(humBeside(recorded(1e-3, 0, 50, seed), sweep, sampleRateHz)).toBeNull();
  expect(humBeside(recorded(1e-4, 1e-3, 83), sweep, sampleRateHz)).toBeNull();
  expect(humBeside(recorded(1e-3, 2e-4, 50), sweep, sampleRateHz)).toBeNull();
  expect(humBeside(recorded(1e-9, 1e-6, 50), sweep, sampleRateHz)).toBeNull();
});

test('a recording without silence says nothing', () => {
  const bare = sweep.subarray(9600, 9600 + 24_000);
  expect(humBeside(bare, bare, sampleRateHz)).toBeNull();
});

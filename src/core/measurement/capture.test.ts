import { seeded } from '@/core/spectrum/noise';
import { captureSweep, loopReference, recordedLevel } from './capture';
import { readSweep, sweepShape } from './sweep';
import { logGrid } from '@/core/grid/logGrid';

const sampleRateHz = 48_000;
const sweep = captureSweep({ levelDb: -12, seconds: 1, sampleRateHz });

/** A channel of a device: everything later, through a first-order low pass, with noise. */
function through(
  signal: Float64Array,
  { delay, cornerHz, gain, noise }: Record<'delay' | 'cornerHz' | 'gain' | 'noise', number>,
): Float64Array {
  const { gaussian } = seeded(delay + 3);
  const share = 1 - Math.exp((-2 * Math.PI * cornerHz) / sampleRateHz);
  let state = 0;
  return signal.map((_, i) => {
    state += share * ((i >= delay ? signal[i - delay] : 0) * gain - state);
    return state + noise * gaussian();
  });
}

test('the sweep is at its level, with silence on both sides', () => {
  const peak = Math.max(...sweep);
  expect(20 * Math.log10(peak)).toBeCloseTo(-12, 1);
  const first = sweep.findIndex((value) => value !== 0);
  expect(first / sampleRateHz).toBeCloseTo(0.2, 2);
  expect(sweepShape(sweep, sampleRateHz).toHz / 20_000).toBeCloseTo(1, 1);
});

test('a level check tells silence, too little, enough and too much', () => {
  const at = (gain: number, noise: number) =>
    recordedLevel(
      through(sweep, { delay: 900, cornerHz: 20_000, gain, noise }).map((value) =>
        Math.min(1, Math.max(-1, value)),
      ),
      sampleRateHz,
    );
  expect(at(0, 1e-3).verdict).toBe('silent');
  expect(at(0.02, 1e-5).verdict).toBe('low');
  const good = at(0.5, 1e-4);
  expect(good.verdict).toBe('good');
  expect(good.peakDb).toBeGreaterThan(-22);
  expect(good.noiseDb).toBeCloseTo(-80, 0);
  expect(at(10, 1e-4).verdict).toBe('clipped');
});

test('against a loop-back, the delay and the response of the device drop out', () => {
  // Both channels share the device: 30 ms of delay and a low pass at 9 kHz. The microphone is 144
  // samples (3 ms) later.
  const device = { cornerHz: 9000, gain: 0.7, noise: 1e-4 };
  const loop = through(sweep, { ...device, delay: 1440 });
  const microphone = through(sweep, { ...device, delay: 1440 + 144, gain: 0.35 });
  const reference = loopReference(loop, sweep, sampleRateHz);
  const frequencyHz = logGrid(100, 15_000, 6);
  const { response } = readSweep(microphone, reference, sampleRateHz, frequencyHz);
  frequencyHz.forEach((hz, i) => {
    expect(Math.abs(response.magnitude[i] - 20 * Math.log10(0.5))).toBeLessThan(0.2);
    const turns = response.phaseDeg![i] / 360 + hz * 0.003;
    expect(Math.abs(turns - Math.round(turns))).toBeLessThan(0.01);
  });
});

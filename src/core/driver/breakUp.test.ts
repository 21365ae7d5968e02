import { logGrid } from '@/core/grid/logGrid';
import { breakUpHz } from './breakUp';

const frequencyHz = logGrid(100, 20_000, 48);
/** Second-order low pass at 5 kHz with resonances: gain over the rest in dB, Q, frequency. */
const cone = (...peaks: readonly (readonly [gain: number, q: number, hz: number])[]) =>
  frequencyHz.map((hz) =>
    peaks.reduce(
      (db, [gain, q, at]) => {
        const off = q * (hz / at - at / hz);
        return db + 10 * Math.log10(1 + (10 ** (gain / 10) - 1) / (1 + off * off));
      },
      88 - 10 * Math.log10(1 + (hz / 5000) ** 4),
    ),
  );

test('a cone that breaks up is found at its first sharp peak, whatever lies above it', () => {
  const found = breakUpHz({ frequencyHz, magnitude: cone([9, 8, 4800], [12, 15, 9000]) }, 700)!;
  expect(Math.abs(Math.log2(found / 4800))).toBeLessThan(1 / 24);
});

test('broad rises, small ripple, the slope at the end and what lies below the cone are none', () => {
  expect(breakUpHz({ frequencyHz, magnitude: cone([6, 0.7, 3000]) }, 700)).toBeNull();
  expect(breakUpHz({ frequencyHz, magnitude: cone([2.5, 10, 3000]) }, 700)).toBeNull();
  expect(breakUpHz({ frequencyHz, magnitude: cone() }, 700)).toBeNull();
  expect(breakUpHz({ frequencyHz, magnitude: cone([10, 8, 400]) }, 700)).toBeNull();
});

test('points that lie closer together do not count for more', () => {
  const uneven = Float64Array.from([...logGrid(100, 3000, 12), ...logGrid(3050, 20_000, 96)]);
  const magnitude = uneven.map((hz) => 85 + 9 / (1 + (8 * (hz / 4800 - 4800 / hz)) ** 2));
  const found = breakUpHz({ frequencyHz: uneven, magnitude }, 700)!;
  expect(Math.abs(Math.log2(found / 4800))).toBeLessThan(1 / 24);
});

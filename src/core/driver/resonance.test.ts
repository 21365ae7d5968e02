import { logGrid } from '@/core/grid/logGrid';
import { resonanceNeedsDb, resonanceOf } from './resonance';

const hz = logGrid(10, 20_000, 48);

/** |Z| of Re with a parallel resonance and a coil: what a driver shows. */
function impedance(fs: number, rise: number, henries = 0.05e-3, re = 5.5): Float64Array {
  return hz.map((f) => {
    const x = (f / fs - fs / f) * 3;
    const [r, i] = [re + rise / (1 + x * x), (-rise * x) / (1 + x * x)];
    return Math.hypot(r, i + 2 * Math.PI * f * henries);
  });
}

test('the sheet says it, whatever the curve shows', () =>
  expect(resonanceOf({ fsHz: 31 }, { frequencyHz: hz, magnitude: impedance(50, 30) })).toEqual({
    hz: 31,
    isEstimated: false,
  }));

test.each([28, 74, 410, 850, 1700])('without a sheet the peak at %d Hz tells', (fs) => {
  const found = resonanceOf({ fsHz: null }, { frequencyHz: hz, magnitude: impedance(fs, 20) });
  expect(found!.isEstimated).toBe(true);
  // To the grid, of 48 points per octave.
  expect(Math.abs(Math.log2(found!.hz / fs))).toBeLessThan(1 / 48);
});

test('of two peaks, as a vented box has them, the higher one', () => {
  const [low, high] = [impedance(22, 18, 0), impedance(58, 34, 0)];
  const magnitude = hz.map((_, i) => Math.max(low[i], high[i]));
  expect(resonanceOf({ fsHz: null }, { frequencyHz: hz, magnitude })!.hz).toBeCloseTo(58, -1);
});

test.each<[string, Float64Array]>([
  ['a resistor', hz.map(() => 8)],
  ['a coil, which only rises', hz.map((f) => Math.hypot(5.5, 2 * Math.PI * f * 1e-3))],
  ['a ripple that is smaller than a resonance', hz.map((f) => 6 + 0.3 * Math.sin(3 * Math.log(f)))],
  ['a peak where only break-up is', impedance(6000, 30, 0)],
])('%s has none', (_, magnitude) =>
  expect(resonanceOf({ fsHz: null }, { frequencyHz: hz, magnitude })).toBeNull(),
);

test('an end of the table is no peak: the curve may go on rising', () => {
  const frequencyHz = Float64Array.of(20, 30, 40, 50);
  expect(
    resonanceOf({ fsHz: null }, { frequencyHz, magnitude: Float64Array.of(30, 20, 12, 9) }),
  ).toBeNull();
});

// A tweeter 12 dB, a midrange 6 dB (common practice, no source).
test.each([
  [28, 28, null],
  [55, 28, null],
  [56.1, 28, 6],
  [399, 28, 6],
  [400, 28, 12],
  [850, 28, 12],
  // A full-range driver alone plays at its own resonance, wherever that is.
  [900, 900, null],
])('a driver at %d Hz beside one at %d Hz needs %p dB', (own, lowest, needs) =>
  expect(resonanceNeedsDb(own, lowest)).toBe(needs),
);

import { logGrid } from '@/core/grid/logGrid';
import { createArrivals } from './arrivals';

const frequencyHz = logGrid(20, 20_000, 12);

test('sound that is even between two times has the spectrum of a rectangle', () => {
  const arrivals = createArrivals(frequencyHz, -1e-3, 6e-3);
  for (const [from, to] of [
    [0.31e-3, 2.47e-3],
    [-0.4e-3, -0.1e-3],
    [5e-3, 4.4e-3],
    [1.234567e-3, 1.2346e-3],
    [2e-3, 2e-3],
  ]) {
    arrivals.clear();
    arrivals.spread(from, to, 0.7);
    const re = new Float64Array(frequencyHz.length);
    const im = new Float64Array(frequencyHz.length);
    arrivals.addSpectrum(re, im, null);
    frequencyHz.forEach((hz, i) => {
      // 0.7·sin(x)/x about its middle.
      const x = Math.PI * hz * (to - from);
      const size = 0.7 * (x === 0 ? 1 : Math.sin(x) / x);
      const turn = -Math.PI * hz * (from + to);
      expect(Math.abs(re[i] - size * Math.cos(turn))).toBeLessThan(0.003);
      expect(Math.abs(im[i] - size * Math.sin(turn))).toBeLessThan(0.003);
    });
  }
});

test('areas stay what they are at low frequencies, however often bins were joined', () => {
  const arrivals = createArrivals(Float64Array.of(0.01, 20_000), 0, 5e-3);
  for (let k = 0; k < 100; k++) arrivals.spread(4e-5 * k, 4e-5 * k + 1e-5, (-1) ** k * (1 + k));
  const [re, im] = [new Float64Array(2), new Float64Array(2)];
  arrivals.addSpectrum(re, im, Float64Array.of(2, 1));
  expect(Math.abs(re[0] / (2 * -50) - 1)).toBeLessThan(1e-3);
});

import { logGrid } from '@/core/grid/logGrid';
import type { Samples } from '@/core/measurement/samples';
import { loadOf, ohmsAt } from './filterLoad';

const frequencyHz = logGrid(10, 30_000, 24);
/** A resistor with a coil in series, as a table. */
const coil = (ohms: number, henries: number): Samples => {
  const x = frequencyHz.map((hz) => 2 * Math.PI * hz * henries);
  return {
    frequencyHz,
    magnitude: x.map((reactance) => Math.hypot(ohms, reactance)),
    phaseDeg: x.map((reactance) => (Math.atan2(reactance, ohms) * 180) / Math.PI),
  };
};

test('one driver is itself', () => {
  const load = loadOf([coil(6, 0.5e-3)]);
  expect(ohmsAt(load, 20)).toBeCloseTo(6, 2);
  const hz = load.frequencyHz[300];
  expect(ohmsAt(load, hz)).toBeCloseTo(Math.hypot(6, 2 * Math.PI * hz * 0.5e-3), 2);
});

test('two alike are half of one in parallel, twice one in series', () => {
  const one = coil(6, 0.5e-3);
  for (const hz of [30, 400, 9000]) {
    const alone = ohmsAt(loadOf([one]), hz);
    expect(ohmsAt(loadOf([one, one]), hz)).toBeCloseTo(alone / 2, 9);
    expect(ohmsAt(loadOf([one, one], 'series'), hz)).toBeCloseTo(2 * alone, 9);
  }
});

test('unlike ones add as complex numbers', () => {
  const [a, b] = [coil(4, 1e-3), coil(12, 0.1e-3)];
  const { frequencyHz: grid, re, im } = loadOf([a, b]);
  for (const i of [0, 200, 400]) {
    const w = 2 * Math.PI * grid[i];
    // By hand: Z = Z₁·Z₂/(Z₁ + Z₂).
    const [x, y] = [4 * 12 - w * 1e-3 * w * 0.1e-3, 4 * w * 0.1e-3 + 12 * w * 1e-3];
    const [u, v] = [16, w * 1.1e-3];
    const size = u * u + v * v;
    expect(re[i]).toBeCloseTo((x * u + y * v) / size, 2);
    expect(im[i]).toBeCloseTo((y * u - x * v) / size, 2);
  }
});

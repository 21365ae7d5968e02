import { logGrid } from '@/core/grid/logGrid';
import { thinnedForDisplay } from './display';
import { impedanceOnGrid, responseOnGrid } from './onGrid';
import { samplesId, type Samples } from './samples';

const table = (
  frequencyHz: Float64Array,
  magnitude: (f: number) => number,
  phase: ((f: number) => number) | null,
): Samples => ({
  frequencyHz,
  magnitude: frequencyHz.map(magnitude),
  phaseDeg: phase && frequencyHz.map(phase),
});
const wrap = (degrees: number) => degrees - 360 * Math.round(degrees / 360);

test('a delayed response is interpolated as if it were not delayed', () => {
  const delayMs = 2.9;
  const level = (f: number) => 80 + 5 * Math.log2(f / 1000);
  const phase = (f: number) => wrap(-40 * Math.log10(f / 1000) - 0.36 * f * delayMs);
  const samples = table(logGrid(15, 30_000, 24), level, phase);
  const grid = logGrid(20, 20_000, 48);
  const { re, im } = responseOnGrid(samples, grid);
  grid.forEach((f, i) => {
    expect(20 * Math.log10(Math.hypot(re[i], im[i]))).toBeCloseTo(level(f), 9);
    expect(Math.abs(wrap((Math.atan2(im[i], re[i]) * 180) / Math.PI - phase(f)))).toBeLessThan(0.2);
  });
});

test('outside its data a driver is silent; at the printed ends it is not', () => {
  const samples = table(
    Float64Array.of(99.99, 1000, 9999.9),
    () => 80,
    () => 0,
  );
  const { re } = responseOnGrid(samples, Float64Array.of(50, 99.98, 500, 10_000, 10_100));
  expect([...re].map((x) => x > 0)).toEqual([false, true, true, true, false]);
});

test('an impedance keeps its ends and is straight in real and imaginary part between', () => {
  const samples: Samples = {
    frequencyHz: Float64Array.of(100, 400),
    magnitude: Float64Array.of(6, 8),
    phaseDeg: Float64Array.of(0, 90),
  };
  const { re, im } = impedanceOnGrid(samples, Float64Array.of(50, 100, 200, 400, 800));
  [6, 6, 3, 0, 0].forEach((value, i) => expect(re[i]).toBeCloseTo(value, 12));
  [0, 0, 4, 8, 8].forEach((value, i) => expect(im[i]).toBeCloseTo(value, 12));
});

test('the same numbers have the same name, other numbers another', () => {
  const a = table(Float64Array.of(1, 2), (f) => f, null);
  expect(samplesId(a)).toMatch(/^[0-9a-f]{32}$/);
  expect(samplesId({ ...a, magnitude: a.magnitude.slice() })).toBe(samplesId(a));
  expect(samplesId({ ...a, magnitude: Float64Array.of(1, 2.0000000000000004) })).not.toBe(
    samplesId(a),
  );
  expect(samplesId({ ...a, phaseDeg: Float64Array.of(0, 0) })).not.toBe(samplesId(a));
});

test('a long table is thinned for drawing without losing its peaks', () => {
  const frequencyHz = Float64Array.from({ length: 50_000 }, (_, i) => 0.4 * (i + 1));
  const samples = table(
    frequencyHz,
    (f) => (f === 4000 ? 120 : f === 8000 ? 20 : 80),
    () => 0,
  );
  const thinned = thinnedForDisplay(samples);
  expect(thinned.frequencyHz.length).toBeLessThanOrEqual(1200);
  expect(Math.max(...thinned.magnitude)).toBe(120);
  expect(Math.min(...thinned.magnitude)).toBe(20);
  expect(thinned.frequencyHz.every((f, i) => i === 0 || f > thinned.frequencyHz[i - 1])).toBe(true);
  const short = table(Float64Array.of(1, 2), () => 1, null);
  expect(thinnedForDisplay(short)).toBe(short);
});

import { logGrid } from '@/core/grid/logGrid';
import { endSlope, interpolated } from './interpolate';

const hz = logGrid(20, 20_000, 6);

test('a line over log frequency is met exactly, between points and on them', () => {
  const line = (at: number) => 80 - 3 * Math.log2(at / 1000);
  const at = logGrid(25, 15_000, 17);
  const found = interpolated(hz, hz.map(line), at);
  at.forEach((f, i) => expect(found[i]).toBeCloseTo(line(f), 9));
  const same = interpolated(hz, hz.map(line), hz);
  hz.forEach((f, i) => expect(same[i]).toBeCloseTo(line(f), 9));
});

test('beyond its ends a curve is held, never drawn on', () => {
  const values = hz.map((f) => Math.log2(f));
  const [under, first, over] = interpolated(hz, values, Float64Array.of(1, 20, 90_000));
  expect(under).toBe(values[0]);
  expect(first).toBe(values[0]);
  expect(over).toBe(values[values.length - 1]);
});

test('nothing lies outside its two neighbours', () => {
  const values = hz.map((_, i) => (i % 2 === 0 ? 10 : -4));
  const found = interpolated(hz, values, logGrid(20, 20_000, 40));
  for (const value of found) {
    expect(value).toBeLessThanOrEqual(10);
    expect(value).toBeGreaterThanOrEqual(-4);
  }
});

test('a curve of two points, and one whose points are bunched', () => {
  const [middle] = interpolated(
    Float64Array.of(100, 400),
    Float64Array.of(0, 10),
    Float64Array.of(200),
  );
  expect(middle).toBeCloseTo(5, 12);
  const bunched = Float64Array.of(10, 10.0001, 10.0002, 9000);
  const found = interpolated(bunched, Float64Array.of(1, 2, 3, 4), Float64Array.of(10.0001, 300));
  expect(found[0]).toBeCloseTo(2, 6);
  expect(found[1]).toBeCloseTo(3 + Math.log(300 / 10.0002) / Math.log(9000 / 10.0002), 9);
});

test.each([
  ['sealed', 12],
  ['vented', 24],
])('the slope at the lower end of a %s box is found: %d dB per octave', (_, slope) => {
  // A high-pass of Butterworth’s, an octave and more below its corner.
  const order = slope / 6;
  const level = hz.map((f) => -10 * Math.log10(1 + (200 / f) ** (2 * order)));
  expect(Math.abs(endSlope(hz, level, 'below') - slope)).toBeLessThan(0.1);
  expect(endSlope(hz, level, 'above')).toBeCloseTo(0, 3);
});

test('the slope at the upper end is that of its last octave, whatever is below', () => {
  const level = hz.map((f) => (f < 9000 ? 30 * Math.sin(f) : -9 * Math.log2(f / 20_000)));
  expect(endSlope(hz, level, 'above')).toBeCloseTo(-9, 6);
});

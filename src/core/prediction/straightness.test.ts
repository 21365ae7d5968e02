import { seededRandom } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import {
  createLineRemover,
  knownPlaces,
  levelAtHz,
  lineThrough,
  straightnessDb,
} from './straightness';

const hz = logGrid(20, 20_000, 24);
const band = { fromHz: 100, toHz: 10_000 };
const line = (f: number) => 70 - 1.3 * Math.log2(f / 1000);

test('of a straight line nothing strays, and it is found again', () => {
  const levels = hz.map(line);
  expect(straightnessDb(hz, levels, band)!.value).toBeCloseTo(0, 9);
  const found = lineThrough(hz, levels, band)!;
  expect(found.dbPerOctave).toBeCloseTo(-1.3, 9);
  expect(found.atOneKilohertzDb).toBeCloseTo(70, 9);
  expect(found.rSquare).toBeCloseTo(1, 9);
  expect(levelAtHz(found, 4000)).toBeCloseTo(70 - 2.6, 9);
});

test('a ripple of many periods strays by its own height', () => {
  const levels = hz.map((f) => line(f) + 2 * Math.cos(12 * Math.log2(f)));
  expect(straightnessDb(hz, levels, band)!.value).toBeCloseTo(2, 1);
});

test('one bump counts half its height, and is named', () => {
  const at = 60;
  const levels = hz.map((f, i) => line(f) + (i === at ? 4 : 0));
  const { value, atHz } = straightnessDb(hz, levels, { fromHz: 20, toHz: 20_000 })!;
  expect(value).toBeCloseTo(2, 1);
  expect(atHz).toBeCloseTo(hz[at], 9);
});

test('what lies outside the band does not count, nor what is not known', () => {
  const levels = hz.map((f) => (f < 90 || f > 11_000 ? 500 : f > 900 && f < 1000 ? NaN : line(f)));
  expect(straightnessDb(hz, levels, band)!.value).toBeCloseTo(0, 9);
  expect(lineThrough(hz, levels, band)!.dbPerOctave).toBeCloseTo(-1.3, 9);
  const places = knownPlaces(hz, levels, band);
  expect([...places].every((i) => Number.isFinite(levels[i]))).toBe(true);
  expect(hz[places[0]]).toBeGreaterThanOrEqual(100);
});

test('a band that ends before it begins, or lies outside of the data, has no figure', () => {
  const levels = hz.map(line);
  for (const none of [
    { fromHz: 5000, toHz: 500 },
    { fromHz: 30_000, toHz: 40_000 },
    { fromHz: 1, toHz: 10 },
  ]) {
    expect([...knownPlaces(hz, levels, none)]).toEqual([]);
    expect(straightnessDb(hz, levels, none)).toBeNull();
    expect(lineThrough(hz, levels, none)).toBeNull();
  }
});

test('the ends of a band belong to it, in spite of rounding', () => {
  const edges = Float64Array.of(100, 200, 400);
  const flat = Float64Array.of(1, 1, 1);
  expect([
    ...knownPlaces(edges, flat, { fromHz: 100 * (1 + 1e-12), toHz: 400 * (1 - 1e-12) }),
  ]).toEqual([0, 1, 2]);
});

test.each([
  ['no place', { fromHz: 21_000, toHz: 30_000 }],
  ['one place', { fromHz: 999, toHz: 1001 }],
])('with %s there is no line', (_, narrow) => {
  expect(straightnessDb(hz, hz.map(line), narrow)).toBeNull();
  expect(lineThrough(hz, hz.map(line), narrow)).toBeNull();
});

test('a level curve is explained whole; noise hardly at all', () => {
  expect(
    lineThrough(
      hz,
      hz.map(() => 80),
      band,
    )!.rSquare,
  ).toBe(1);
  const random = seededRandom(3);
  const noise = hz.map(() => random() - 0.5);
  expect(lineThrough(hz, noise, band)!.rSquare).toBeLessThan(0.1);
});

test('what is left after the line has no mean and no slope, from any offset on', () => {
  const random = seededRandom(8);
  const places = knownPlaces(hz, hz.map(line), band);
  const remover = createLineRemover(hz, places);
  const values = Float64Array.from({ length: places.length + 5 }, () => 30 * random());
  const untouched = values.slice(0, 5);
  remover.remove(values, 5);
  expect(values.slice(0, 5)).toEqual(untouched);
  const left = values.slice(5);
  const octaves = Float64Array.from(places, (i) => Math.log2(hz[i]));
  const sum = (of: (k: number) => number) => left.reduce((all, _, k) => all + of(k), 0);
  expect(sum((k) => left[k])).toBeCloseTo(0, 9);
  expect(sum((k) => left[k] * octaves[k])).toBeCloseTo(0, 7);
  // Taken out once more nothing changes.
  const again = values.slice();
  remover.remove(again, 5);
  again.forEach((value, k) => expect(value).toBeCloseTo(values[k], 9));
});

import { logGrid } from '@/core/grid/logGrid';
import { rectangle, sharpEdge, type BaffleShape, type EdgeTreatment } from '@/core/baffle/shape';
import { createBaffleDiffraction } from './baffleDiffraction';
import type { PistonSource, Spectrum } from './sending';
import { observerAt, type Plane } from './observer';

const speed = 343;
const shape = (
  widthM: number,
  heightM: number,
  depthM: number,
  edge: EdgeTreatment = sharpEdge,
): BaffleShape => ({
  outline: rectangle(widthM, heightM),
  edges: [edge, edge, edge, edge],
  depthM,
});
const dome = (x: number, y: number): PistonSource => ({ x, y, radiusM: 0.0125 });
const levels = ({ re, im }: Spectrum) =>
  re.map((value, i) => 10 * Math.log10(value * value + im[i] * im[i]));
const heard = (
  of: BaffleShape,
  source: PistonSource,
  frequencyHz: Float64Array,
  plane: Plane = 'H',
  angleDeg = 0,
  distance: number | 'far' = 'far',
) =>
  createBaffleDiffraction(of, source, frequencyHz, speed).toward(
    observerAt(source, plane, angleDeg, distance),
  );

test('at low frequencies a box sends −6.02 dB of a wall in every direction', () => {
  const low = Float64Array.of(3, 10);
  for (const [width, height, depth] of [
    [0.2, 0.32, 0.25],
    [0.3, 0.71, 0.3],
    [0.15, 1.1, 0.25],
    [0.5, 0.5, 0.1],
    [0.2, 0.3, 0.8],
  ])
    for (const [plane, angle] of [
      ['H', 0],
      ['H', 60],
      ['V', -75],
      ['H', 90],
      ['V', 120],
      ['H', 180],
    ] as const) {
      const [db] = levels(
        heard(shape(width, height, depth), dome(width / 2, height - 0.08), low, plane, angle),
      );
      expect(Math.abs(db + 20 * Math.log10(2))).toBeLessThan(0.05);
    }
});

test('a baffle that is huge against the wave is a wall', () => {
  const high = logGrid(2000, 10_000, 6);
  for (const angle of [0, 40])
    heard(shape(30, 30, 5), { x: 15.3, y: 14.6, radiusM: 0 }, high, 'H', angle).re.forEach((re) =>
      expect(Math.abs(re - 1)).toBeLessThan(0.05),
    );
});

test('mirrored on a baffle, a driver is heard mirrored', () => {
  const grid = logGrid(100, 10_000, 6);
  const box = shape(0.25, 0.4, 0.3);
  for (const angle of [20, 70, 110, 150]) {
    const one = heard(box, dome(0.08, 0.33), grid, 'H', angle);
    const other = heard(box, dome(0.17, 0.33), grid, 'H', -angle);
    one.re.forEach((re, i) => {
      expect(Math.abs(re - other.re[i])).toBeLessThan(3e-3);
      expect(Math.abs(one.im[i] - other.im[i])).toBeLessThan(3e-3);
    });
  }
});

test('two points of the front hear each other alike', () => {
  const grid = logGrid(100, 5000, 6);
  const box = shape(0.25, 0.4, 0.3);
  const [a, b] = [
    { x: 0.06, y: 0.31, radiusM: 0 },
    { x: 0.19, y: 0.1, radiusM: 0 },
  ];
  const from = (one: PistonSource, other: PistonSource) =>
    createBaffleDiffraction(box, one, grid, speed).toward({
      kind: 'point',
      at: { x: other.x, y: other.y, z: 1e-4 },
    });
  const [there, back] = [from(a, b), from(b, a)];
  there.re.forEach((re, i) => {
    expect(Math.abs(re - back.re[i])).toBeLessThan(0.03);
    expect(Math.abs(there.im[i] - back.im[i])).toBeLessThan(0.03);
  });
});

test('an edge that is far away changes nothing once its sound is weak', () => {
  const grid = logGrid(3000, 12_000, 6);
  const [near, far] = [6, 9].map((height) =>
    levels(heard(shape(0.3, height, 0.3), { x: 0.12, y: 0.4, radiusM: 0.0125 }, grid)),
  );
  near.forEach((db, i) => expect(Math.abs(db - far[i])).toBeLessThan(0.15));
});

test('from far away is what from very far away is', () => {
  const grid = logGrid(60, 8000, 4);
  const box = shape(0.2, 0.32, 0.25);
  for (const angle of [0, 45, -30]) {
    const far = heard(box, dome(0.1, 0.25), grid, 'V', angle);
    const distant = levels(heard(box, dome(0.1, 0.25), grid, 'V', angle, 300));
    levels(far).forEach((db, i) => expect(Math.abs(db - distant[i])).toBeLessThan(0.35));
  }
});

test('treated edges tend to sharp ones as they shrink, and even out what sharp ones make', () => {
  const grid = logGrid(60, 12_000, 6);
  const source = dome(0.1, 0.25);
  const of = (edge: EdgeTreatment) => levels(heard(shape(0.2, 0.32, 0.25, edge), source, grid));
  const sharp = of(sharpEdge);
  for (const kind of ['round', 'chamfer'] as const) {
    of({ kind, sizeM: 0.001 }).forEach((db, i) =>
      expect(Math.abs(db - sharp[i])).toBeLessThan(0.45),
    );
    expect(of({ kind, sizeM: 0 })).toEqual(sharp);
    const ripple = (all: Float64Array) => {
      const high = all.filter((_, i) => grid[i] > 1500);
      return Math.max(...high) - Math.min(...high);
    };
    expect(ripple(of({ kind, sizeM: 0.04 }))).toBeLessThan(0.7 * ripple(sharp));
  }
});

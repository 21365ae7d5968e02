import { logGrid } from '@/core/grid/logGrid';
import { createBaffleDiffraction } from './diffraction/baffleDiffraction';
import { filled, frontSeenFrom, isConvex, isSimple, isWithin } from './dents';
import { rectangle, sharpEdge, type BaffleShape } from './shape';

const c = 343.2;
const hz = logGrid(30, 12_000, 6);
const far = { kind: 'far', direction: { x: 0, y: 0, z: 1 } } as const;

const shapeOf = (outline: BaffleShape['outline']): BaffleShape => ({
  outline,
  edges: outline.map(() => sharpEdge),
  depthM: 0.3,
});

const levels = (shape: BaffleShape, x: number, y: number) => {
  const { re, im } = createBaffleDiffraction(shape, { x, y, radiusM: 0.01 }, hz, c).toward(far);
  return re.map((value, i) => 10 * Math.log10(value ** 2 + im[i] ** 2));
};

/** 0.3 × 0.6 m with a notch in its right side, from 0.28 to 0.32 m, so deep. */
const notched = (depthM: number) =>
  shapeOf([
    { x: 0, y: 0 },
    { x: 0.3, y: 0 },
    { x: 0.3, y: 0.28 },
    { x: 0.3 - depthM, y: 0.3 },
    { x: 0.3, y: 0.32 },
    { x: 0.3, y: 0.6 },
    { x: 0, y: 0.6 },
  ]);
const plain = shapeOf(rectangle(0.3, 0.6));

/** A narrow tower of 0.2 m on a wide foot of 0.6 m. */
const tower = shapeOf([
  { x: -0.3, y: 0 },
  { x: 0.3, y: 0 },
  { x: 0.3, y: 0.2 },
  { x: 0.1, y: 0.2 },
  { x: 0.1, y: 1.2 },
  { x: -0.1, y: 1.2 },
  { x: -0.1, y: 0.2 },
  { x: -0.3, y: 0.2 },
]);

const worstApart = (a: Float64Array, b: Float64Array, fromHz = 0) =>
  a.reduce((worst, db, i) => (hz[i] < fromHz ? worst : Math.max(worst, Math.abs(db - b[i]))), 0);

test('outlines are told apart: convex, dented, crossing', () => {
  expect(isConvex(plain.outline)).toBe(true);
  expect(isConvex(tower.outline)).toBe(false);
  expect(isSimple(tower.outline)).toBe(true);
  const [a, b, d, e] = rectangle(1, 1);
  expect(isSimple([a, d, b, e])).toBe(false);
  expect(isSimple([a, e, d, b])).toBe(false);
  expect(isSimple([a, a, b, d])).toBe(false);
});

test('a place in a dent is not on the front, one on its edge is', () => {
  expect(isWithin(tower.outline, { x: 0, y: 0.7 })).toBe(true);
  expect(isWithin(tower.outline, { x: 0.2, y: 0.7 })).toBe(false);
  expect(isWithin(tower.outline, { x: 0.1, y: 0.7 })).toBe(true);
  expect(isWithin(tower.outline, { x: -0.3, y: 0.2 })).toBe(true);
});

test('a filled outline keeps the treatment of its own edges', () => {
  const round = { kind: 'round', sizeM: 0.02 } as const;
  const shape = { ...tower, edges: tower.edges.with(3, round).with(0, round) };
  const whole = filled(shape);
  expect(isConvex(whole.outline)).toBe(true);
  expect(whole.outline).toHaveLength(6);
  // The bottom of the foot stays; the sides of the tower are filled over.
  expect(whole.edges.filter(({ kind }) => kind === 'round')).toHaveLength(1);
  expect(filled(plain).outline).toHaveLength(4);
});

test('edges behind a corner of a dent are hidden from a driver', () => {
  const seen = frontSeenFrom(tower, { x: 0, y: 0.9 });
  const lengthOf = (number: number) =>
    seen.solid.edges.reduce(
      (sum, { length }, i) => sum + (seen.edgeOf[i] === number ? length : 0),
      0,
    );
  expect(lengthOf(3)).toBeCloseTo(1, 9);
  // Through the tower's foot the driver sees as much of the bottom as similar triangles say.
  expect(lengthOf(0)).toBeCloseTo((2 * 0.1 * 0.9) / 0.7, 1);
  // It sees the shoulders edge on, from within.
  expect(lengthOf(2)).toBe(0);
  expect(frontSeenFrom(plain, { x: 0.1, y: 0.1 }).edgeOf.toSorted()).toEqual([0, 1, 2, 3]);
});

test('a dent that closes leaves the front as it is without', () => {
  const full = levels(plain, 0.12, 0.42);
  const apart = [0.1, 0.03, 0.003].map((depth) =>
    worstApart(levels(notched(depth), 0.12, 0.42), full),
  );
  expect(apart[0]).toBeGreaterThan(apart[1]);
  expect(apart[2]).toBeLessThan(0.05);
  expect(apart[0]).toBeLessThan(1.5);
});

test('a driver high up in a tower on a foot hears the tower, not the filled outline', () => {
  const real = levels(tower, 0, 0.9);
  const narrow = levels(shapeOf(rectangle(0.2, 1.2)), 0.1, 0.9);
  const wide = levels(filled(tower), 0, 0.9);
  expect(worstApart(real, narrow, 600)).toBeLessThan(1);
  expect(worstApart(wide, narrow, 600)).toBeGreaterThan(2);
  // Low down a closed box sends as much behind as before it.
  expect(real[0]).toBeGreaterThan(-7);
  expect(real[0]).toBeLessThan(-5);
});

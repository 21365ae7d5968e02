import { rectangularCorners } from '@/core/document/baffleSchema';
import { edgeDistances, edgeLine, edgeName } from './edges';
import { outlined } from './reshape';
import { frontOf } from '../../../tests/baffles';

const corners = rectangularCorners(-100, -300, 200, 400);

test('a place is as far from each edge as its foot on it', () => {
  const found = edgeDistances(corners, { xMm: 20, yMm: 50 });
  expect(found.map(({ mm }) => mm)).toEqual([350, 80, 50, 120]);
  expect(found[1].nearest).toEqual({ xMm: 100, yMm: 50 });
  expect(edgeDistances(corners, { xMm: 130, yMm: 0 })[1].mm).toBe(-30);
  const ell = [
    [-100, -300],
    [100, -300],
    [100, 0],
    [0, 0],
    [0, 100],
    [-100, 100],
  ].map(([xMm, yMm]) => ({ xMm, yMm, edge: corners[0].edge }));
  // On the front, though beyond the line of the dent's edge.
  expect(edgeDistances(ell, { xMm: 50, yMm: -50 }).map((one) => one.mm >= 0)).not.toContain(false);
  expect(edgeDistances(ell, { xMm: 50, yMm: 50 })[2].mm).toBeLessThan(0);
});

test('edges are called by the way they look', () => {
  expect(corners.map((_, e) => edgeName(corners, e))).toEqual([
    'bottom edge',
    'right edge',
    'top edge',
    'left edge',
  ]);
  const clipped = outlined(frontOf(200, 400), { kind: 'clipped', byMm: 50, isTopOnly: true });
  expect(clipped.corners.map((_, e) => edgeName(clipped.corners, e))).toEqual([
    'bottom edge',
    'right edge',
    'upper right edge',
    'top edge',
    'upper left edge',
    'left edge',
  ]);
});

test('the normal of an edge looks outward, whichever way the edge runs', () => {
  expect(corners.map((_, e) => edgeLine(corners, e).normal)).toEqual([
    { x: 0, y: -1 },
    { x: 1, y: 0 },
    { x: 0, y: 1 },
    { x: -1, y: 0 },
  ]);
  const { corners: round } = outlined(frontOf(200, 400), {
    ...{ kind: 'rounded', byMm: 60, isTopOnly: false },
  });
  round.forEach((_, e) => {
    const { normal, middle } = edgeLine(round, e);
    expect(Math.hypot(normal.x, normal.y)).toBeCloseTo(1, 12);
    // The front lies about the axis: outward is away from it.
    expect(normal.x * middle.xMm + normal.y * middle.yMm).toBeGreaterThan(0);
  });
});

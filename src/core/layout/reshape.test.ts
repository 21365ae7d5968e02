import { frontOf, mountedDriver } from '../../../tests/baffles';
import { boundsOf } from '@/core/document/baffleSchema';
import { emptyBrief } from '@/core/document/briefSchema';
import { layoutFaults, frameRadiusMm } from './faults';
import {
  firstFront,
  outlined,
  resized,
  setBackPanel,
  shifted,
  withCornerAdded,
  withEdgeMoved,
  withEdges,
  withPort,
  withoutCorner,
} from './reshape';

const front = frontOf(200, 400);
const areaOf = ({ corners }: typeof front) =>
  corners.reduce((sum, a, c) => {
    const b = corners[(c + 1) % corners.length];
    return sum + (a.xMm * b.yMm - b.xMm * a.yMm) / 2;
  }, 0);

test('a front grows about its middle and upward from its foot', () => {
  const { leftMm, rightMm, bottomMm, topMm } = boundsOf(
    resized(front, { widthMm: 260, heightMm: 500 }).corners,
  );
  expect([leftMm, rightMm, bottomMm, topMm]).toEqual([-130, 130, -200, 300]);
  expect(boundsOf(resized(front, { widthMm: 260 }, 'left').corners).rightMm).toBe(160);
});

test('an edge moves along its normal, others follow at their corners', () => {
  expect(boundsOf(withEdgeMoved(front, 1, 25).corners)).toMatchObject({
    leftMm: -100,
    rightMm: 125,
  });
  expect(boundsOf(withEdgeMoved(front, 2, -40).corners)).toMatchObject({
    topMm: 160,
    bottomMm: -200,
  });
});

test('one of several ports changes, and the front that was given stays as it was', () => {
  const port = { xMm: 0, yMm: -150, diameterMm: 60 };
  const two = { ...front, ports: [port, { ...port, xMm: 40 }] };
  expect(withPort(two, 1, { yMm: -120 }).ports).toEqual([port, { ...port, xMm: 40, yMm: -120 }]);
  expect(two.ports[1].yMm).toBe(-150);
});

test('outlines keep the size of the front and turn outward only', () => {
  // By hand: two corners of 60 × 60 less their half.
  expect(areaOf(outlined(front, { kind: 'clipped', byMm: 60, isTopOnly: true }))).toBeCloseTo(
    200 * 400 - 60 * 60,
    0,
  );
  expect(areaOf(outlined(front, { kind: 'trapezoid', topWidthMm: 120 }))).toBe(160 * 400);
  const round = outlined(front, { kind: 'rounded', byMm: 60, isTopOnly: false });
  // Four pieces to a quarter circle: the polygon of 16 sides in a circle of 60 mm.
  const polygon = 8 * 60 * 60 * Math.sin(Math.PI / 8);
  expect(areaOf(round)).toBeCloseTo(200 * 400 - 4 * 60 * 60 + polygon, -1);
  for (const one of [round, outlined(front, { kind: 'trapezoid', topWidthMm: 120 })]) {
    expect(boundsOf(one.corners)).toEqual(boundsOf(front.corners));
    one.corners.forEach((a, c) => {
      const [b, d] = [1, 2].map((k) => one.corners[(c + k) % one.corners.length]);
      expect((b.xMm - a.xMm) * (d.yMm - b.yMm) - (b.yMm - a.yMm) * (d.xMm - b.xMm)).toBeGreaterThan(
        0,
      );
    });
  }
});

test('corners come and go, three stay; edges are treated one by one or all', () => {
  const more = withCornerAdded(front, 1);
  expect(more.corners[2]).toMatchObject({ xMm: 100, yMm: 0 });
  expect(withoutCorner(more, 2)).toEqual(front);
  const triangle = withoutCorner(front, 0);
  expect(withoutCorner(triangle, 0)).toBe(triangle);
  const round = { kind: 'round', sizeMm: 12 } as const;
  expect(withEdges(front, round, [2]).corners.map(({ edge }) => edge.sizeMm)).toEqual([
    0, 0, 12, 0,
  ]);
  expect(withEdges(front, round).corners.every(({ edge }) => edge === round)).toBe(true);
});

test('a front is moved against the design axis with its ports', () => {
  const ported = { ...front, ports: [{ xMm: 10, yMm: -150, diameterMm: 50 }] };
  const next = shifted(ported, 5, -20);
  expect(boundsOf(next.corners)).toMatchObject({ leftMm: -95, topMm: 180 });
  expect(next.ports[0]).toEqual({ xMm: 15, yMm: -170, diameterMm: 50 });
});

test('a first front has the size of the brief, and heaped drivers are set apart on it', () => {
  const drivers = [
    mountedDriver('woofer', 0, 0, { frameMm: 180 }),
    mountedDriver('dome', 0, 0, { frameMm: 100 }),
  ];
  const brief = { ...emptyBrief, widthMm: 220, heightMm: 380 };
  const { panel, places } = firstFront({ brief, drivers }, 'front', frameRadiusMm);
  expect(boundsOf(panel.corners)).toMatchObject({ widthMm: 220, heightMm: 380 });
  const placed = drivers.map((driver) => ({
    ...driver,
    position: { ...driver.position, ...places.get(driver.id)! },
  }));
  expect(places.get('dome')!.yMm).toBeGreaterThan(places.get('woofer')!.yMm);
  expect(layoutFaults({ panels: [panel], drivers: placed })).toEqual([]);
});

test('a set-back panel is on top of the front, in its middle', () => {
  const { corners, setBackMm } = setBackPanel(front, 'back');
  expect(boundsOf(corners)).toMatchObject({ leftMm: -50, rightMm: 50, topMm: 400, bottomMm: 200 });
  expect(setBackMm).toBeGreaterThan(0);
});

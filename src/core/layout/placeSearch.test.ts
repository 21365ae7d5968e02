import direct from 'ml-direct';
import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import type { Design } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { layoutFaults } from './faults';
import { layoutChange, searchPlaces, type PlacesFound, type PlaceWish } from './placeSearch';
import { outlined } from './reshape';

const bands = new Map([
  ['cone', { fromHz: 200, toHz: 2500 }],
  ['dome', { fromHz: 1500, toHz: 16_000 }],
]);
const wish: PlaceWish = {
  ...{ panelId: 'front', movable: ['dome'], bands },
  ...{ narrowestMm: 0, widestMm: 0, largestRadiusMm: 0 },
};
const within = (design: Design, set: Partial<PlaceWish>) => {
  const search = searchPlaces(design, { ...wish, narrowestMm: 1e6, widestMm: 0, ...set });
  const shares: number[] = [];
  for (;;) {
    const { done, value } = search.next();
    if (done) return { found: value, shares };
    shares.push(value.share);
  }
};
/** What the search makes small, for a layout as it is. */
const meritOf = (design: Design): number => within(design, { movable: [] }).found.before.meritDb;

// A clipped front, unlike the demo’s.
const front = outlined(frontOf(210, 340), { kind: 'clipped', byMm: 40, isTopOnly: true });
const design = designOn(
  front,
  mountedDriver('cone', 0, -60, { frameMm: 150 }, 90),
  mountedDriver('dome', 0, 100, { frameMm: 80 }),
);
const { found, shares } = within(design, {});

test('it finds a place that is better, free of faults, and as good as it says', () => {
  expect(found.best.meritDb).toBeLessThan(0.9 * found.before.meritDb);
  const taken = applyChange(design, layoutChange(design, found.best));
  expect(layoutFaults(taken)).toEqual([]);
  expect(meritOf(taken)).toBeCloseTo(found.best.meritDb, 9);
  expect(taken.drivers[0].position).toEqual(design.drivers[0].position);
  expect(found.centred!.meritDb).toBeGreaterThanOrEqual(found.best.meritDb);
  expect(found.centred!.places.get('dome')!.xMm).toBeCloseTo(0, 9);
  expect(shares.every((share, i) => i === 0 || share >= shares[i - 1] - 1e-9)).toBe(true);
});

test('a general optimiser that knows nothing of baffles finds nothing much better', () => {
  const at = ([x, y]: number[]) => {
    const next = applyChange(design, {
      type: 'editDriver',
      id: 'dome',
      set: { position: { xMm: x, yMm: y, zMm: 0 } },
    });
    return layoutFaults(next).length > 0 ? 10 : meritOf(next);
  };
  // Dividing rectangles (Jones, Perttunen and Stuckman 1993), over where the map has places.
  const { ysMm, xsMm } = found.maps[0];
  const box = [
    [xsMm[0], ysMm[0]],
    [xsMm.at(-1)!, ysMm.at(-1)!],
  ];
  const { minFunctionValue } = direct(at, box[0], box[1], { iterations: 14 });
  expect(found.best.meritDb).toBeLessThan(1.05 * minFunctionValue);
});

test('width and rounding are tried as far as they are allowed', () => {
  const wide = within(design, { narrowestMm: 190, widestMm: 270, largestRadiusMm: 20 }).found;
  expect(wide.best.meritDb).toBeLessThanOrEqual(found.best.meritDb * 1.1);
  const xs = wide.best.panel.corners.map(({ xMm }) => xMm);
  const width = Math.max(...xs) - Math.min(...xs);
  expect(width).toBeGreaterThanOrEqual(190 - 0.1);
  expect(width).toBeLessThanOrEqual(270 + 0.1);
  for (const { edge } of wide.best.panel.corners) expect(edge.sizeMm).toBeLessThanOrEqual(20);
  expect(design.panels[0]).toBe(front);
});

test('maps have no place where a frame would stand over an edge or another frame', () => {
  const [{ xsMm, ysMm, meritDb }]: PlacesFound['maps'] = found.maps;
  ysMm.forEach((yMm, row) =>
    xsMm.forEach((xMm, column) => {
      if (Number.isNaN(meritDb[row * xsMm.length + column])) return;
      expect(Math.hypot(xMm, yMm + 60)).toBeGreaterThanOrEqual(115 - 1e-9);
      expect(Math.abs(xMm)).toBeLessThanOrEqual(65 + 1e-9);
    }),
  );
});

import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import { readDemo } from '../../../tests/fixtures';
import type { Design } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { logGrid } from '@/core/grid/logGrid';
import { createPredictor } from '@/core/prediction/predict';
import { createBumpSearch, tellBumpFromDb } from './bump';
import { layoutFindings } from './findings';
import { createLayoutStudy } from './study';
import { createBaffleViews } from './view';

const grid = logGrid(200, 10_000, 12);
const band = { fromHz: 300, toHz: 8000 };
const square = frontOf(240, 240);
const find = createBumpSearch(grid);

test('a driver in the middle of a square has four edges at one distance, and is told to leave it', () => {
  const design = designOn(square, mountedDriver('dome', 0, 0, { frameMm: 60 }));
  const found = find(design, 'dome', band)!;
  expect(found.edges).toHaveLength(4);
  found.edges.forEach(({ mm }) => expect(mm).toBe(120));
  // The classic case of a disc or square with its source in the middle: 6 dB and more at most
  // where the way to the edge is half a wave (Olson, J. Audio Eng. Soc. 17, 1969, by its curves).
  expect(found.bump.db).toBeGreaterThan(3);
  expect(found.bump.db).toBeLessThan(7);
  expect(found.bump.atHz).toBeGreaterThan(900);
  expect(found.bump.atHz).toBeLessThan(1900);
  const move = found.mends.find(({ change }) => change.type === 'editDriver')!;
  const after = createBaffleViews(grid)(applyChange(design, move.change), {
    driverId: 'dome',
    directions: [],
    atHz: null,
  })!;
  const least = [...after.onAxisDb].filter((_, i) => grid[i] >= 300 && grid[i] <= 8000);
  // What the finding promises is what the screen then shows.
  expect(Math.max(...least)).toBeCloseTo(move.bump.db, 9);
  expect(move.bump.db).toBeLessThan(found.bump.db - 0.5);
});

test('off centre on a large front there is nothing to tell', () => {
  const design = designOn(frontOf(900, 1300), mountedDriver('dome', 170, 210));
  const found = find(design, 'dome', band);
  if (found) expect(found.bump.db).toBeLessThan(tellBumpFromDb + 0.4);
  const { drivers } = design;
  expect(
    find(designOn(square, { ...drivers[0], position: { xMm: 500, yMm: 0, zMm: 0 } }), 'dome', band),
  ).toBeNull();
});

test('the demo has one coincidence: the midrange between its side edges', () => {
  const { design, data } = readDemo();
  const prediction = createPredictor()(design, data);
  const { bumps, findings } = createLayoutStudy()(design, prediction);
  expect(bumps.map(({ driverId, edges }) => [driverId, ...edges.map(({ mm }) => mm)])).toEqual([
    ['midrange', 150, 150],
  ]);
  const codes = findings.map(({ code }) => code);
  expect(codes).toContain('spacing_too_wide');
  expect(codes).toContain('beams_at_crossover');
  expect(codes).toContain('near_floor');
  expect(codes).not.toContain('baffle_not_said');
  const proud = applyChange(design, {
    type: 'editDriver',
    id: 'tweeter',
    set: { mounting: { ...design.drivers[2].mounting, kind: 'proud', byMm: 4 } },
  });
  const told = createLayoutStudy()(proud, null).findings.find(
    ({ code }) => code === 'proud_frame',
  )!;
  expect(told.what).toContain('an edge at 52 mm from its middle');
});

test('what nobody said of a measurement, or of a cone, is asked for', () => {
  const { design } = readDemo();
  const open: Design = {
    ...design,
    measurements: design.measurements.map((one) => ({ ...one, measuredOn: { kind: 'unknown' } })),
    drivers: design.drivers.map((driver) => ({
      ...driver,
      sheet: { ...driver.sheet, sdCm2: null },
    })),
  };
  const codes = layoutFindings(open, null).map(({ code }) => code);
  expect(codes.filter((code) => code === 'baffle_not_said')).toHaveLength(3);
  expect(codes.filter((code) => code === 'cone_size_not_known')).toHaveLength(3);
});

test('a view tells the axis, the angles and what each piece of edge adds', () => {
  const { design } = readDemo();
  const view = createBaffleViews()(design, {
    driverId: 'tweeter',
    directions: [
      { plane: 'horizontal', degrees: 30 },
      { plane: 'horizontal', degrees: -30 },
    ],
    atHz: 800,
  })!;
  // The front is as wide to both sides of the tweeter.
  view.towardDb[0].forEach((db, i) => expect(view.towardDb[1][i]).toBeCloseTo(db, 2));
  const sums = [0, 1, 2, 3].map((edge) =>
    view.acting
      .filter((piece) => piece.edge === edge)
      .reduce(
        (sum, { inPhase, from, to }) =>
          sum + (inPhase * Math.hypot(to.xMm - from.xMm, to.yMm - from.yMm)) / 1000,
        0,
      ),
  );
  expect(sums[1]).toBeCloseTo(sums[3], 9);
  expect(sums[1]).toBeGreaterThan(0.1);
  expect(Math.abs(sums[0])).toBeLessThan(0.1);
  expect(
    createBaffleViews()(
      { ...design, panels: [] },
      { driverId: 'tweeter', directions: [], atHz: 1 },
    ),
  ).toBeNull();
});

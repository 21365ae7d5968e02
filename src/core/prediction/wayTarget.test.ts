import { designSchema } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { readDemo } from '../../../tests/fixtures';
import {
  countedPlaces,
  wayLossDb,
  wayTargetDb,
  wayTargetError,
  wayTargetTransfer,
} from './wayTarget';

const { design: demo } = readDemo();
const hz = logGrid(20, 20_000, 24);
const slope = (alignment: 'butterworth' | 'linkwitz-riley', order: 2 | 4, at: number) => ({
  alignment,
  order,
  hz: at,
});
const band = { fromHz: 200, toHz: 15_000 };
const target = {
  highPass: slope('linkwitz-riley', 4, 400),
  lowPass: slope('butterworth', 2, 3000),
};

test('a target falls by what its alignment has at the corner, and by its order far away', () => {
  const low = { highPass: null, lowPass: target.lowPass };
  const [corner, far, further] = wayTargetDb(low, Float64Array.of(3000, 48_000, 96_000));
  expect(corner).toBeCloseTo(10 * Math.log10(0.5), 9);
  expect(far - further).toBeCloseTo(40 * Math.log10(2), 2);
  const high = { highPass: target.highPass, lowPass: null };
  expect(wayTargetDb(high, Float64Array.of(400))[0]).toBeCloseTo(20 * Math.log10(0.5), 9);
});

test('a way that follows its target at any level has no error; a bump is found where it is', () => {
  const shape = wayTargetDb(target, hz);
  const level = shape.map((db) => db + 83);
  const exact = wayTargetError(level, hz, target, band)!;
  expect(exact.rmsDb).toBeCloseTo(0, 9);
  expect(exact.targetDb[200]).toBeCloseTo(level[200], 9);
  const at = hz.findIndex((f) => f > 1000);
  const bumped = level.map((db, i) => (i === at ? db + 6 : db));
  const found = wayTargetError(bumped, hz, target, band)!;
  expect(found.worst.atHz).toBe(hz[at]);
  expect(found.worst.db).toBeGreaterThan(5.5);
  // Half of the height that holds the bump and the rest.
  expect(found.within.value).toBeCloseTo(3, 9);
  expect(found.within.atHz).toBe(hz[at]);
  expect(wayTargetError(level.fill(-Infinity), hz, target, band)).toBeNull();
});

test('a target counts within the band, down to 24 dB', () => {
  const shape = wayTargetDb(target, hz);
  const places = countedPlaces(target, shape, hz, band);
  expect(places.length).toBeGreaterThan(50);
  for (const i of places) {
    expect(shape[i]).toBeGreaterThanOrEqual(-24);
    expect(hz[i]).toBeGreaterThanOrEqual(200);
  }
  const free = { ...target, lowPass: null };
  const highest = countedPlaces(free, wayTargetDb(free, hz), hz, band).at(-1)!;
  expect(hz[highest] / 1600).toBeCloseTo(1, 1);
});

test('Linkwitz–Riley of odd order is refused', () => {
  const odd = { highPass: { alignment: 'linkwitz-riley', order: 3, hz: 400 }, lowPass: null };
  const ways = demo.ways.map((way) => ({ ...way, target: odd }));
  expect(designSchema.safeParse({ ...demo, ways }).success).toBe(false);
});

test('what a network takes from its driver is told in its passband', () => {
  const band = { fromHz: 100, toHz: 10_000 };
  const target = {
    highPass: { alignment: 'butterworth', order: 2, hz: 1000 },
    lowPass: null,
  } as const;
  const grid = logGrid(20, 20_000, 24);
  const shape = wayTargetDb(target, grid);
  // The target's own slope is not a loss.
  expect(
    wayLossDb(
      shape.map((db) => db - 4.5),
      grid,
      target,
      band,
    ),
  ).toBeCloseTo(4.5, 9);
  expect(
    wayLossDb(
      shape.map((db) => db - 4.5),
      grid,
      null,
      band,
    ),
  ).toBeCloseTo(4.5, 2);
  expect(
    wayLossDb(
      grid.map(() => -Infinity),
      grid,
      target,
      band,
    ),
  ).toBeNull();
});

test('a target’s filter has the magnitude of its shape, and the phase of its prototype', () => {
  const slope = { alignment: 'butterworth', order: 2, hz: 1000 } as const;
  const grid = Float64Array.of(250, 1000, 4000);
  for (const target of [
    { highPass: slope, lowPass: null },
    { highPass: null, lowPass: slope },
    { highPass: slope, lowPass: { ...slope, hz: 4000 } },
  ]) {
    const { re, im } = wayTargetTransfer(target, grid);
    wayTargetDb(target, grid).forEach((db, i) =>
      expect(20 * Math.log10(Math.hypot(re[i], im[i]))).toBeCloseTo(db, 9),
    );
  }
  // At its corner a Butterworth filter of second order is 90° late as a low pass, early as a high pass.
  const at = (target: Parameters<typeof wayTargetTransfer>[0]) => wayTargetTransfer(target, grid);
  const [high, low] = [
    at({ highPass: slope, lowPass: null }),
    at({ highPass: null, lowPass: slope }),
  ];
  expect(high.re[1]).toBeCloseTo(0, 9);
  expect(high.im[1]).toBeCloseTo(Math.SQRT1_2, 9);
  expect(low.im[1]).toBeCloseTo(-Math.SQRT1_2, 9);
});

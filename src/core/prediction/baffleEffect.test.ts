import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import {
  measurementStatement,
  readDemo,
  withOffAxis,
  withoutBaffle,
} from '../../../tests/fixtures';
import { onUnknownBaffle, type MeasuredOn } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { logGrid } from '@/core/grid/logGrid';
import { measuredHere } from '@/core/layout/measuredHere';
import { headingOf } from '@/core/radiation/direction';
import { baffleUse, createBaffleEffect } from './baffleEffect';
import { levelDbOf } from './derived';
import { createPredictor } from './predict';

const grid = logGrid(20, 12_000, 6);
const front = frontOf(220, 380);
const dome = { ...mountedDriver('dome', 20, 90), responseId: 'a'.repeat(32) };
const measured = (measuredOn: MeasuredOn, set: Partial<Driver> = {}): Design => {
  const design = designOn(front, { ...dome, ...set });
  const statement = { ...measurementStatement('a'.repeat(32), 'response'), measuredOn };
  return { ...design, measurements: [statement] };
};
const effectOf = createBaffleEffect(grid);
const effect = (design: Design) => effectOf(design, design.drivers[0])!;
const wide = headingOf({ plane: 'horizontal', degrees: 60 });

test('what was measured in a wall gets half of its level low down, and edges above', () => {
  const level = levelDbOf(effect(measured({ kind: 'wall' })).onAxis!);
  // At 2 m a box is a point a little before its front.
  expect(level[0]).toBeGreaterThan(-6.02);
  expect(level[0]).toBeLessThan(-5.2);
  expect(Math.max(...level)).toBeGreaterThan(1);
  expect(Math.abs(level.at(-1)!)).toBeLessThan(1);
});

test('what was measured here stays as it is; nobody knows what to do with what nobody described', () => {
  for (const on of [measuredHere(dome, front), onUnknownBaffle]) {
    const { onAxis, offAxis, modelled } = effect(measured(on));
    expect([onAxis, offAxis]).toEqual([null, null]);
    expect(levelDbOf(modelled!(wide, 2000)).at(-1)).toBeLessThan(-3);
  }
  const bare = { ...dome, mounting: { ...dome.mounting, panelId: null } };
  expect(effectOf(designOn(front, bare), bare)).toBeNull();
});

test('moved and moved back it is what was measured; moved, one baffle over the other', () => {
  const there = measuredHere({ ...dome, position: { ...dome.position, xMm: 0 } }, front);
  const moved = measured(there);
  expect(baffleUse(moved, moved.drivers[0], moved.measurements[0])).toBe('exchanged');
  const back = measured(there, { position: { ...dome.position, xMm: 0 } });
  expect(effect(back).onAxis).toBeNull();
  const ratio = levelDbOf(effect(moved).onAxis!);
  // Low down both baffles do the same.
  expect(Math.abs(ratio[0])).toBeLessThan(0.05);
  expect(Math.max(...ratio.map(Math.abs))).toBeGreaterThan(0.5);
  // Wall → old place → new place is wall → new place, where the microphone is that of the sum.
  const microphone = { placement: 'design-axis', distanceMm: 2000, commonTiming: false } as const;
  const at = (design: Design): Design => ({
    ...design,
    measurements: design.measurements.map((one) => ({ ...one, microphone })),
  });
  const [now, then, exchanged] = [
    at(measured({ kind: 'wall' })),
    at(measured({ kind: 'wall' }, { position: { ...dome.position, xMm: 0 } })),
    at(moved),
  ].map((design) => levelDbOf(effect(design).onAxis!));
  now.forEach((db, i) => expect(db - then[i]).toBeCloseTo(exchanged[i], 6));
});

test('what is not heard of a mounting makes no other baffle of it', () => {
  const here = measured(measuredHere(dome, front));
  const typed = { ...here.drivers[0].mounting, frameMm: 104, cutoutMm: 76 };
  const use = (mounting: Driver['mounting']) =>
    baffleUse(here, { ...here.drivers[0], mounting }, here.measurements[0]);
  expect(use(typed)).toBe('as-measured');
  expect(use({ ...typed, kind: 'proud', byMm: 3 })).toBe('exchanged');
});

test('a baffle step that a recipe adds is not added again', () => {
  const near = measured({ kind: 'near-field' });
  const splice = {
    ...({
      kind: 'splice',
      isOn: true,
      nearId: 'b'.repeat(32),
      radiusMm: 50,
      portId: null,
    } as const),
    ...{ portRadiusMm: null, atHz: 300, stepWidthMm: 220 },
  };
  const withStep = (stepWidthMm: number | null, isOn = true): Design => ({
    ...near,
    measurements: near.measurements.map((one) => ({
      ...one,
      recipe: [{ ...splice, stepWidthMm, isOn }],
    })),
  });
  const use = (design: Design) => baffleUse(design, design.drivers[0], design.measurements[0]);
  expect(use(withStep(220))).toBe('in-recipe');
  expect(effectOf(withStep(220), near.drivers[0])).toBeNull();
  expect(use(withStep(null))).toBe('added');
  expect(use(withStep(220, false))).toBe('added');
});

test('without the size of its cone nothing is modelled off the axis', () => {
  const design = measured(onUnknownBaffle, { sheet: { ...dome.sheet, sdCm2: null } });
  expect(effect(design).modelled).toBeNull();
});

describe('the demo', () => {
  const { design, data } = readDemo();
  const predict = createPredictor();

  test('is on the axis what it was without its front, and gains a window', () => {
    const [mounted, bare] = [design, withoutBaffle(design)].map((one) => predict(one, data));
    mounted.sum!.levelDb.forEach((db, i) => expect(db).toBeCloseTo(bare.sum!.levelDb[i], 9));
    expect(bare.offAxis.window).toBeNull();
    expect(mounted.offAxis.window!.levelDb.every(Number.isFinite)).toBe(true);
  });

  test('with a driver moved it has another sum; measured angles are kept and corrected', () => {
    const off = withOffAxis(design, data);
    const move = (one: Design) =>
      applyChange(one, {
        type: 'editDriver',
        id: 'tweeter',
        set: { position: { xMm: -40, yMm: 66, zMm: -4 } },
      });
    const [still, moved] = [off.design, move(off.design)].map((one) => predict(one, off.data));
    const change = still.sum!.levelDb.map((db, i) => Math.abs(db - moved.sum!.levelDb[i]));
    expect(Math.max(...change)).toBeGreaterThan(0.5);
    const around = still.offAxis.window!.levelDb.map((db, i) =>
      Math.abs(db - moved.offAxis.window!.levelDb[i]),
    );
    expect(Math.max(...around)).toBeGreaterThan(0.1);
  });
});

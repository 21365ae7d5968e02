import { readDemo } from '../../../tests/fixtures';
import { lineFacts } from '@/core/cabinet/line';
import { netVolumeOf } from '@/core/cabinet/netVolume';
import { insideOf } from '@/core/cabinet/shell';
import { tunedToHz, ventFit } from '@/core/cabinet/vent';
import type { Box, BoxKind } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BoxFound, BoxWish } from './boxJudge';
import { searchBoxes } from './search';
import { boundaryGainDb } from './boundaries';
import { createBoxViews } from './view';

const { design: demo, data } = readDemo();
/** From figures alone: nothing was measured, and no network is there. */
const figures: Design = {
  ...demo,
  ...{ measurements: [], ways: [], panels: [], boxes: [] },
  drivers: [
    {
      ...demo.drivers[0],
      ...{ responseId: null, impedanceId: null, offAxisIds: [] },
      mounting: { ...demo.drivers[0].mounting, panelId: null },
    },
  ],
};
const [like] = demo.boxes;
const wish = (kinds: readonly BoxKind[], more: Partial<BoxWish> = {}): BoxWish => ({
  ...{
    kinds,
    widthMm: 300,
    heightMm: 710,
    deepestMm: 380,
    f3Hz: 45,
    f10Hz: null,
    humpDb: 1.5,
    mostOutlay: null,
  },
  ...more,
});

function found(design: Design, box: Box, asked: BoxWish): readonly BoxFound[] {
  const search = searchBoxes(design, box, asked, data);
  for (;;) {
    const { done, value } = search.next();
    if (done) return value;
  }
}

test.each<BoxKind>(['sealed', 'vented', 'passive-radiator', 'line', 'open-baffle'])(
  'from figures alone a %s is found within the size, in order of merit',
  (kind) => {
    const boxes = found(figures, like, wish([kind]));
    expect(boxes.length).toBeGreaterThan(4);
    expect(boxes.every(({ box }) => box.kind === kind)).toBe(true);
    // Those that keep what is asked come first.
    const ranks = boxes.map(({ isKept, merit }) => merit + (isKept ? 0 : 1e6));
    expect(ranks).toEqual(ranks.toSorted((a, b) => a - b));
    for (const { box, outsideLitres } of boxes) {
      expect(box.shell.depthMm).toBeLessThanOrEqual(380.05);
      expect(outsideLitres).toBeLessThanOrEqual(81);
    }
    // A line goes into its box, with the boards that fold it.
    for (const { box } of boxes.filter(() => kind === 'line'))
      expect(lineFacts(box.pipe, 343).litres).toBeLessThanOrEqual(
        netVolumeOf(box, figures).netLitres * 1.001,
      );
    // What the search tells of a box alone is what the screen tells of it.
    const [best] = boxes;
    const [view] = createBoxViews()(figures, [best.box], data).views;
    expect(view.isInDesign).toBe(false);
    if (best.f3Hz === null) expect(view.figures!.f3Hz).toBeNull();
    else expect(view.figures!.f3Hz! / best.f3Hz).toBeCloseTo(1, 2);
    expect(view.figures!.groupDelayMs).toBeCloseTo(best.groupDelayMs, 0);
  },
  60_000,
);

test('a passive radiator is tuned by its added mass, a port fits and is long enough to be one', () => {
  const air = { density: 1.2041, speedOfSound: 343.2 };
  const [passive] = found(figures, like, wish(['passive-radiator']));
  expect(passive.tunedHz).toBeCloseTo(tunedToHz(passive.box, figures, air)!, 1);
  const [vented] = found(figures, like, wish(['vented']));
  expect(vented.isKept).toBe(true);
  expect(ventFit(vented.box).fits).toBe(true);
  expect(vented.box.port.lengthMm).toBeLessThan(insideOf(vented.box.shell).depthMm + 700);
});

test('a smaller box is preferred when both keep what is asked', () => {
  const [easy] = found(figures, like, wish(['sealed', 'vented'], { f3Hz: 70 }));
  const [hard] = found(figures, like, wish(['sealed', 'vented'], { f3Hz: 40 }));
  expect(easy.isKept).toBe(true);
  expect(easy.outsideLitres).toBeLessThan(hard.outsideLitres);
});

test('without figures of a driver, or without room, nothing is found', () => {
  const bare: Design = {
    ...figures,
    drivers: [{ ...figures.drivers[0], sheet: { ...figures.drivers[0].sheet, fsHz: null } }],
  };
  expect(found(bare, like, wish(['sealed']))).toEqual([]);
  expect(found(figures, like, wish(['sealed', 'vented'], { widthMm: 38 }))).toEqual([]);
});

test('what may be spent binds: the box is cheaper, what it costs is what the screen tells, and what is too dear is not kept', () => {
  const [free] = found(figures, like, wish(['sealed', 'vented'], { f3Hz: 40 }));
  const mostOutlay = 0.85 * free.outlay;
  const bound = found(figures, like, wish(['sealed', 'vented'], { f3Hz: 40, mostOutlay }));
  expect(bound[0].outlay).toBeLessThanOrEqual(mostOutlay);
  for (const { outlay, isKept, faults } of bound)
    if (outlay > mostOutlay) expect([isKept, faults.length > 0]).toEqual([false, true]);
  const [view] = createBoxViews()(figures, [bound[0].box], data).views;
  expect(view.outlay.whole / bound[0].outlay).toBeCloseTo(1, 6);
});

test('what a view tells as driven, of its limits and of the boundaries follows from its curves', () => {
  const [best] = found(figures, like, wish(['vented']));
  const { views, timesProgramme, frequencyHz } = createBoxViews()(figures, [best.box], data);
  const [{ curves, driven, limits, withBoundariesDb, sumDb }] = views;
  const at = 60;
  expect(driven!.excursionMm[at]).toBeCloseTo(curves!.excursionMm[at] * (timesProgramme ?? 1), 12);
  expect(driven!.openingSpeed[at]).toBeCloseTo(
    curves!.openingSpeed[at] * (timesProgramme ?? 1),
    12,
  );
  expect(limits.xmaxMm).toBe(figures.drivers[0].sheet.xmaxMm);
  expect(limits.portMps).toBeGreaterThanOrEqual(17);
  expect([withBoundariesDb, sumDb]).toEqual([null, null]);
  const floored: Design = {
    ...figures,
    surroundings: {
      ...figures.surroundings,
      boundaries: [{ kind: 'floor', distanceMm: 700, absorption: 0 }],
    },
  };
  const [beside] = createBoxViews()(floored, [best.box], data).views;
  const gain = boundaryGainDb(floored, figures.drivers[0], frequencyHz)!;
  expect(beside.withBoundariesDb![at]).toBeCloseTo(beside.curves!.levelDb[at] + gain[at], 9);
});

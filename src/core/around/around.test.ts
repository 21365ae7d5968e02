import { readDemo, readSession, withoutBaffle, withoutOrbits } from '../../../tests/fixtures';
import type { Design } from '@/core/document/schema';
import { seatsOf } from '@/core/document/seats';
import type { Boundary } from '@/core/document/surroundingsSchema';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import { crossovers } from '@/core/prediction/crossovers';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { beamWidthDeg } from '@/core/radiation/beamWidth';
import { anomaliesOf } from './anomalies';
import { balloonOf } from './balloon';
import { createCauseStudy } from './causes';
import { directivityOf } from './directivity';
import { createAroundStudy } from './findings';
import { aroundGridHz, createAroundViews, relativeLevels, type AroundWish } from './orbits';
import { preferenceOf } from './preference';
import { aroundTables, directionTables } from './tables';

const { design, data } = readDemo();
const wish: AroundWish = { stepDeg: 10, withinDb: 4 };
const viewOf = createAroundViews();
const view = viewOf(design, data, wish)!;
const { frequencyHz } = view;
const points = frequencyHz.length;
const at = (hz: number) => frequencyHz.findIndex((one) => one >= hz * (1 - 1e-9));
const prediction = createPredictor(aroundGridHz())(design, data);

describe('a view', () => {
  test('tells the figures that promises are judged by', () => {
    const { spin, window } = prediction.offAxis;
    for (const mean of ['listeningWindow', 'soundPower', 'inRoom', 'soundPowerIndex'] as const)
      view.curves[mean].forEach((db, i) => expect(db).toBeCloseTo(spin![mean][i], 9));
    view.curves.listeningWindow.forEach((db, i) => expect(db).toBeCloseTo(window!.levelDb[i], 9));
    view.curves.onAxis.forEach((db, i) => expect(db).toBeCloseTo(prediction.sum!.levelDb[i], 6));
  });

  test('holds 36 angles on each orbit, whose poles are the same', () => {
    const { horizontal, vertical } = view.orbits;
    expect([horizontal.degrees.length, vertical.degrees.length]).toEqual([36, 36]);
    for (const pole of [0, 180]) {
      const [h, v] = [horizontal, vertical].map(({ degrees, levelDb }) =>
        levelDb.subarray(degrees.indexOf(pole) * points, (degrees.indexOf(pole) + 1) * points),
      );
      h.forEach((db, i) => expect(db).toBeCloseTo(v[i], 3));
    }
    // The speaker is alike on both sides; only one was measured.
    const row = (degrees: number) => horizontal.degrees.indexOf(degrees);
    expect(horizontal.sources[row(30)]).toBe('measured');
    expect(horizontal.sources[row(-30)]).toBe('interpolated');
    expect(horizontal.levelDb[row(30) * points + at(3000)]).toBeCloseTo(
      horizontal.levelDb[row(-30) * points + at(3000)],
      3,
    );
  });

  test('in steps of 5° agrees with that of 10° where both look', () => {
    const fine = viewOf(design, data, { ...wish, stepDeg: 5 })!.orbits.vertical;
    const coarse = view.orbits.vertical;
    expect(fine.degrees).toHaveLength(72);
    coarse.degrees.forEach((degrees, a) => {
      const b = fine.degrees.indexOf(degrees);
      expect(fine.levelDb[b * points + at(2000)]).toBe(coarse.levelDb[a * points + at(2000)]);
    });
  });

  test('against an angle that angle is 0 dB', () => {
    const levels = relativeLevels(view.orbits.horizontal, points, 30);
    const row = view.orbits.horizontal.degrees.indexOf(30);
    expect([...levels.subarray(row * points, (row + 1) * points)]).toEqual(
      new Array(points).fill(0),
    );
  });

  test('is null where nothing is known, and modelled where nothing was measured', () => {
    const bare = withoutBaffle(design);
    expect(createAroundViews()(bare, data, wish)).toBeNull();
    expect(directivityOf(bare, data, 10)).toBeNull();
    const modelled = createAroundViews()(withoutOrbits(design), data, wish)!;
    expect(modelled.source).toBe('modelled');
    // The model and what was measured are of one mind where a driver beams little.
    const apart = [300, 1000, 6000].map((hz) =>
      Math.abs(modelled.curves.soundPowerIndex[at(hz)] - view.curves.soundPowerIndex[at(hz)]),
    );
    expect(Math.max(...apart)).toBeLessThan(1.2);
  });

  test('the heights at which the axis keeps its promise hold at their ends and not beyond', () => {
    const { fromMm, toMm } = view.verticalWindow!;
    expect(fromMm).toBeLessThan(0);
    expect(toMm).toBeGreaterThan(0);
    expect(viewOf(design, data, { ...wish, withinDb: 1 })!.verticalWindow).toBeNull();
    const wider = viewOf(design, data, { ...wish, withinDb: 8 })!.verticalWindow!;
    expect(wider.fromMm).toBeLessThanOrEqual(fromMm);
    expect(wider.toMm).toBeGreaterThanOrEqual(toMm);
  });
});

test('a beam is as wide as the angles at which it is 6 dB down', () => {
  const degrees = [-60, -40, -20, 0, 20, 40, 60];
  const level = [-12, -8, -2, 0, -2, -10, -20];
  // Left between −20 and −40: two thirds of the way; right half way from 20 to 40.
  expect(beamWidthDeg(degrees, (k) => level[k])).toBeCloseTo(20 + (20 * 4) / 6 + 20 + 10, 9);
  expect(beamWidthDeg(degrees, () => 0)).toBe(360);
});

test('the preference estimate is the published formula on straight curves', () => {
  const flat = frequencyHz.map((hz) => (hz < 50 ? 80 - 20 * Math.log2(50 / hz) : 80));
  const falling = frequencyHz.map((hz) => 80 - Math.log2(hz / 1000));
  const { rating, extensionHz, smoothness, narrowBandAxisDb } = preferenceOf(frequencyHz, {
    ...view.curves,
    ...{ onAxis: flat, listeningWindow: flat, soundPower: flat, inRoom: falling },
  })!;
  expect(narrowBandAxisDb).toBeCloseTo(0, 9);
  expect(smoothness).toBeCloseTo(1, 9);
  // A line of 1 dB an octave strays by 1/8 dB on the mean within half octaves.
  expect(extensionHz).toBeGreaterThan(39);
  expect(extensionHz).toBeLessThan(41);
  const byHand = 12.69 - 2.99 * 0.125 - 4.31 * Math.log10(extensionHz) + 2.32;
  expect(rating).toBeCloseTo(byHand, 1);
});

describe('a balloon', () => {
  test('has both orbits on it, and its loudest direction at the rim', () => {
    const i = at(3000);
    const { levelDb, corners, rows, columns, topDb } = balloonOf(view, i, 30);
    const { degrees, levelDb: own } = view.orbits.horizontal;
    // 90° to the right: half way down, at the first column.
    const side = ((rows - 1) / 2) * columns;
    expect(levelDb[side]).toBeCloseTo(own[degrees.indexOf(90) * points + i], 3);
    expect(topDb).toBeCloseTo(Math.max(...levelDb), 6);
    const radii = Array.from({ length: rows * columns }, (_, k) =>
      Math.hypot(...corners.subarray(3 * k, 3 * k + 3)),
    );
    expect(Math.max(...radii)).toBeCloseTo(1, 6);
    expect(Math.min(...radii)).toBeGreaterThan(0);
  });
});

describe('surroundings', () => {
  const around = (boundaries: readonly Boundary[], pair: Design['surroundings']['pair'] = null) =>
    createAroundViews()(
      applyChange(design, {
        type: 'setSurroundings',
        surroundings: { boundaries: [...boundaries], pair },
      }),
      data,
      wish,
    )!.seats;

  test('nothing: seats hear the direct sound alone', () => {
    const seats = around([]);
    expect(seats.map(({ togetherDb }) => togetherDb)).toEqual(seats.map(() => null));
    expect(seats.map(({ seat }) => seat.id)).toEqual(seatsOf(design).map(({ id }) => id));
  });

  test('a floor lifts the lowest octave by its image, nearly 6 dB; one that absorbs all does not', () => {
    const floor = { kind: 'floor', distanceMm: 950, absorption: 0 } as const;
    const [hard] = around([floor]);
    const lift = hard.togetherDb![at(25)] - hard.directDb[at(25)];
    expect(lift).toBeGreaterThan(3.5);
    expect(lift).toBeLessThan(6.1);
    const [soft] = around([{ ...floor, absorption: 1 }]);
    // What is left is averaged over a third of an octave.
    expect(Math.abs(soft.togetherDb![at(25)] - soft.directDb[at(25)])).toBeLessThan(1.5);
  });

  test('the other speaker of a pair adds 6 dB in the middle where both arrive together', () => {
    const seats = around([], { apartMm: 2000, toeInDeg: 0 });
    const middle = seats.find(({ seat }) => seat.id === 'far-middle')!;
    const alone = around([]).find(({ seat }) => seat.id === 'far-middle')!;
    const lift = middle.togetherDb![at(50)] - alone.directDb[at(50)];
    expect(lift).toBeGreaterThan(5);
    expect(lift).toBeLessThan(6.3);
  });

  test('a pair that is turned in toward the middle seat is heard on its axes there', () => {
    const apartMm = 2000;
    const toeInDeg = (Math.atan2(apartMm / 2, 4500) * 180) / Math.PI;
    const heard = (toe: number) =>
      around([], { apartMm, toeInDeg: toe }).find(({ seat }) => seat.id === 'far-middle')!
        .togetherDb![at(12_000)];
    // Both on their axes, in phase, a little farther away.
    const expected =
      view.curves.onAxis[at(12_000)] +
      20 * Math.log10(2) -
      20 * Math.log10(Math.hypot(1000, 4500) / 4500);
    expect(Math.abs(heard(toeInDeg) - expected)).toBeLessThan(0.6);
    expect(heard(toeInDeg)).toBeGreaterThan(heard(-toeInDeg) + 1.5);
  });
});

describe('directivity that strays', () => {
  const anomalies = anomaliesOf(view, design.target);

  test('the demo narrows below its upper crossover and widens above it', () => {
    const [narrows, widens] = anomalies;
    expect(narrows.kind).toBe('narrows');
    expect(narrows.atHz).toBeGreaterThan(2400);
    expect(narrows.atHz).toBeLessThan(3600);
    expect(narrows.sizeDb).toBeGreaterThan(2);
    expect(widens.kind).toBe('widens');
    expect(widens.fromHz).toBeGreaterThan(narrows.toHz);
    // The promise is half of what lies between the two extremes, smoothed a little less.
    const { promise, verdict } = judgedPromisesOf(design, createPredictor()(design, data)).find(
      (one) => one.promise.kind === 'directivity',
    )!;
    expect(verdict.value!).toBeGreaterThan(promise.atMost!);
    expect(Math.abs(verdict.value! - (narrows.sizeDb + widens.sizeDb) / 2)).toBeLessThan(0.4);
  });

  test('its causes are found by leaving them out, and what would mend it', () => {
    const study = createCauseStudy()(
      design,
      data,
      crossovers(prediction),
      anomalies[0].atHz,
      design.target,
    );
    let result = study.next();
    while (!result.done) result = study.next();
    const { causes, shift, nowDb } = result.value!;
    expect(nowDb).toBeCloseTo(anomalies[0].sizeDb, 6);
    // The midrange is large here: as a point it would not narrow.
    expect(causes[0]).toMatchObject({ kind: 'size', driverId: 'midrange' });
    expect(Math.abs(causes[0].leftDb)).toBeLessThan(0.4 * nowDb);
    // The dome is not: without its size the step to it would be larger.
    const dome = causes.find((one) => one.kind === 'size' && one.driverId === 'tweeter');
    expect(dome!.leftDb).toBeGreaterThan(nowDb);
    // Crossing over lower, before the midrange beams, mends it.
    expect(shift!.toHz).toBeLessThan(shift!.fromHz);
    expect(Math.abs(shift!.leftDb)).toBeLessThan(0.4 * nowDb);
  });

  test('findings say it in words, with changes that can be made', () => {
    const seeking = createAroundStudy()(design, data, view, crossovers(prediction), design.target);
    let result = seeking.next();
    while (!result.done) result = seeking.next();
    const [first, second] = result.value;
    expect(first.title).toMatch(/^Narrows by 2\.\d dB from 2\.\d kHz to 3\.\d kHz$/);
    expect(first.reason).toMatch(/Likeliest cause: the midrange is large against the wave here/);
    expect(second.title).toMatch(/^Widens/);
    const [mend] = first.mends;
    expect(mend.told).toMatch(/cross over at 2\.\d kHz in the place of 4\.4 kHz/);
    const mended = mend.changes.reduce(applyChange, design);
    expect(mended.ways[1].target!.lowPass!.hz).toBe(mended.ways[2].target!.highPass!.hz);
    expect(first.equalising).toMatch(/would leave a bump of 2\.\d dB on it/);
  });

  test('a crossover that the upper driver does not bear is not proposed', () => {
    const run = (isBearable?: () => boolean) => {
      const study = createCauseStudy()(
        ...([design, data, crossovers(prediction), anomalies[0].atHz, design.target] as const),
        isBearable,
      );
      let result = study.next();
      while (!result.done) result = study.next();
      return result.value!.shift;
    };
    expect(run(() => false)).toBeNull();
  });

  test('a single driver that is a point neither narrows nor widens by much below its edges', () => {
    const session = readSession();
    const small = {
      ...session.design,
      ways: [session.design.ways[2]],
      drivers: session.design.drivers.map((driver) => ({
        ...driver,
        sheet: { ...driver.sheet, sdCm2: 0.01 },
      })),
    };
    const own = createAroundViews()(small, session.data, wish)!;
    expect(anomaliesOf(own, { fromHz: 20, toHz: 150 })).toEqual([]);
  });
});

describe('tables', () => {
  const found = directivityOf(design, data, 10)!;

  test('one for each of the 70 directions, with its angle in its name', () => {
    const tables = directionTables(design, found);
    expect(tables).toHaveLength(70);
    expect(tables.map(([name]) => name)).toContain('the-reading-room ver -030.txt');
    const [, text] = tables.find(([name]) => name === 'the-reading-room hor 000.txt')!;
    const row = text.split('\n').find((line) => line.startsWith(`${frequencyHz[at(1000)]}\t`))!;
    expect(Number(row.split('\t')[1])).toBeCloseTo(view.curves.onAxis[at(1000)], 6);
  });

  test('all curves, and every level of the maps', () => {
    const tables = new Map(aroundTables(design, view));
    expect([...tables.keys()]).toEqual(
      expect.arrayContaining(['averages.csv', 'directivity.csv', 'orbits.csv']),
    );
    expect(tables.get('orbits.csv')!.trim().split('\n')).toHaveLength(1 + 72 * points);
    expect(tables.get('seat-nearest-row-left.csv')).toMatch(/^freq_hz,direct_db\n/);
  });
});

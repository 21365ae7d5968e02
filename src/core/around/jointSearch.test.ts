import { frontOf } from '../../../tests/baffles';
import { readDemo, withoutBaffle } from '../../../tests/fixtures';
import { boundsOf } from '@/core/document/baffleSchema';
import { applyChange } from '@/core/editing/applyChange';
import { tradeOff, withSomeFree, type TradePlace } from '@/core/fitting/tradeOff';
import { createPredictor } from '@/core/prediction/predict';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { createJointScorer, type JointScore, type JointTask } from './jointScore';
import { jointLayout, jointVariables, type JointWish } from './jointLayout';
import { jointSearch } from './jointSearch';

const { design, data } = readDemo();
const still = { asideMm: 0, upMm: 0, depthMm: 0 };
const wish: JointWish = {
  panelId: 'front',
  moves: [
    { driverId: 'tweeter', asideMm: 30, upMm: 40, depthMm: 0 },
    { driverId: 'midrange', ...still },
  ],
  narrowestMm: 280,
  widestMm: 320,
  largestRadiusMm: 30,
  seed: 1,
};

describe('dimensions', () => {
  const variables = jointVariables(design, wish);

  test('are those that may move, within their limits', () => {
    expect(variables.map(({ what, driverId }) => `${what} ${driverId ?? ''}`.trim())).toEqual([
      'aside tweeter',
      'up tweeter',
      'width',
      'radius',
    ]);
    expect(variables[1]).toMatchObject({ start: 66, least: 26, most: 106 });
    expect(variables[2]).toMatchObject({ start: 300, least: 280, most: 320 });
  });

  test('become one change of fronts and places', () => {
    const laidOut = applyChange(design, jointLayout(design, 'front', variables, [5, 80, 310, 12]));
    const tweeter = laidOut.drivers.find(({ id }) => id === 'tweeter')!;
    expect(tweeter.position).toEqual({ xMm: 5, yMm: 80, zMm: -4 });
    expect(boundsOf(laidOut.panels[0].corners).widthMm).toBeCloseTo(310, 6);
    expect(laidOut.panels[0].corners[0].edge).toEqual({ kind: 'round', sizeMm: 12 });
    const midrange = laidOut.drivers.find(({ id }) => id === 'midrange')!;
    expect(midrange.position).toEqual(design.drivers[1].position);
  });

  test('a front that is not there has none', () => {
    expect(jointVariables(design, { ...wish, panelId: 'elsewhere' })).toEqual([]);
  });
});

/** A landscape with its best at 80 mm up and a radius of 20 mm, behind a bump. */
const pretended = ([aside, up, width, radius]: Float64Array): JointScore => {
  const merit =
    1 +
    0.002 * Math.abs(aside) +
    0.01 * Math.abs(up - 80) +
    0.001 * Math.abs(width - 300) +
    0.02 * Math.abs(radius - 20) +
    (up > 68 && up < 74 ? 0.2 : 0);
  return {
    ...{ axisDb: merit, windowDb: merit, directivityDb: merit, merit, brokenCount: 0 },
    ...{ values: new Map(), logValues: new Float64Array(1) },
  };
};

test('the search finds the best of a landscape, and what each dimension is worth', async () => {
  const told: number[] = [];
  const asked: JointTask[] = [];
  const found = (await jointSearch(
    design,
    wish,
    (tasks) => {
      asked.push(...tasks);
      return Promise.resolve(tasks.map(({ point }) => pretended(point)));
    },
    ({ share }) => told.push(share),
  ))!;
  const [aside, up, width, radius] = found.point;
  expect(Math.abs(aside)).toBeLessThan(4);
  expect(Math.abs(up - 80)).toBeLessThan(3);
  expect(Math.abs(width - 300)).toBeLessThan(4);
  expect(Math.abs(radius - 20)).toBeLessThan(2);
  expect(found.best.merit).toBeLessThan(found.before.merit);
  // The radius is worth 0.4, the height 0.14: they are told in that order.
  expect(found.gains.slice(0, 2).map(({ variable }) => variable.what)).toEqual(['radius', 'up']);
  const { variables } = found;
  for (const { point } of asked)
    point.forEach((mm, v) => {
      expect(mm).toBeGreaterThanOrEqual(variables[v].least - 1e-9);
      expect(mm).toBeLessThanOrEqual(variables[v].most + 1e-9);
    });
  expect(told.every((share, k) => k === 0 || share >= told[k - 1])).toBe(true);
  expect(told.at(-1)).toBe(1);
});

test('it is the same on every run, and stopped it still ends with what it has', async () => {
  const run = (stopAfter: number) => {
    let count = 0;
    return jointSearch(
      design,
      wish,
      (tasks) => {
        count += tasks.length;
        return Promise.resolve(tasks.map(({ point }) => pretended(point)));
      },
      () => undefined,
      () => count > stopAfter,
    );
  };
  const [a, b] = await Promise.all([run(Infinity), run(Infinity)]);
  expect(a).toEqual(b);
  const stopped = (await run(10))!;
  expect(stopped.tried).toBeLessThan(a!.tried);
  expect(stopped.best.merit).toBeLessThanOrEqual(stopped.before.merit);
});

test('layouts that can’t be built, and designs of which nothing is known, are no answer', async () => {
  const score = createJointScorer(design, data, wish);
  const start = Float64Array.from(jointVariables(design, wish), (one) => one.start);
  // The dome down on the midrange.
  expect(score({ point: start.with(1, -40), from: null, isQuick: true })).toBeNull();
  const bare = { ...withoutBaffle(design), panels: [frontOf(300, 700)] };
  const blind = createJointScorer(bare, data, wish);
  const none = await jointSearch(
    bare,
    wish,
    (tasks) => Promise.resolve(tasks.map(blind)),
    () => undefined,
  );
  expect(none).toBeNull();
});

test('a score is that of the promises, and a network fitted to a layout is better than before', () => {
  const score = createJointScorer(design, data, wish);
  const start = Float64Array.from(jointVariables(design, wish), (one) => one.start);
  const whole = score({ point: start, from: null, isQuick: false })!;
  const fitted = applyChange(design, { type: 'setPartValues', values: whole.values });
  const verdicts = new Map(
    judgedPromisesOf(fitted, createPredictor()(fitted, data)).map(({ promise, verdict }) => [
      promise.kind,
      verdict.value!,
    ]),
  );
  // It looks at every second place that verdicts look at.
  expect(Math.abs(verdicts.get('on-axis')! - whole.axisDb)).toBeLessThan(0.08);
  expect(Math.abs(verdicts.get('window')! - whole.windowDb)).toBeLessThan(0.08);
  expect(Math.abs(verdicts.get('directivity')! - whole.directivityDb!)).toBeLessThan(0.08);
  expect(whole.axisDb).toBeLessThan(1.8);
});

describe('the trade between axis and window', () => {
  const seeking = tradeOff(design, data, { seed: 1, count: 5 });
  let steps = 0;
  let result = seeking.next();
  while (!result.done) {
    steps++;
    result = seeking.next();
  }
  const places = result.value!;

  test('goes from the flattest axis to the flattest window, each step giving one for the other', () => {
    expect(steps).toBeGreaterThan(3);
    expect(places.length).toBeGreaterThan(3);
    places.slice(1).forEach(({ axisDb, windowDb }, k) => {
      expect(axisDb).toBeGreaterThanOrEqual(places[k].axisDb);
      expect(windowDb).toBeLessThan(places[k].windowDb);
    });
    expect(places[0].windowDb - places.at(-1)!.windowDb).toBeGreaterThan(0.3);
  });

  test('and every place is a network that is judged as it was told', () => {
    const judged = ({ values }: TradePlace) => {
      const fitted = applyChange(design, { type: 'setPartValues', values });
      return judgedPromisesOf(fitted, createPredictor()(fitted, data));
    };
    for (const place of [places[0], places.at(-1)!]) {
      const verdict = (kind: string) =>
        judged(place).find(({ promise }) => promise.kind === kind)!.verdict.value!;
      expect(verdict('on-axis')).toBeCloseTo(place.axisDb, 6);
      expect(verdict('window')).toBeCloseTo(place.windowDb, 6);
    }
  });

  test('without anything known off the axis there is none', () => {
    const bare = tradeOff(withoutBaffle(design), data, { seed: 1, count: 3 });
    expect(bare.next()).toEqual({ done: true, value: null });
  });

  test('free parts are those that were freed, or all where none was', () => {
    const isFree = (one: typeof design) =>
      one.ways.flatMap(({ parts }) => parts.map(({ fit }) => fit.isFree));
    expect(isFree(withSomeFree(design))).not.toContain(false);
    const some = applyChange(design, {
      type: 'editPart',
      id: 'l1',
      set: { fit: { isFree: true, lowest: null, highest: null, tie: null } },
    });
    expect(isFree(withSomeFree(some)).filter(Boolean)).toHaveLength(1);
  });
});

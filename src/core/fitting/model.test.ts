import { allFree, readDemo, withOffAxis } from '../../../tests/fixtures';
import type { PromiseEntry, PromiseKind } from '@/core/document/briefSchema';
import type { Design } from '@/core/document/schema';
import { designGridHz, logGrid } from '@/core/grid/logGrid';
import { createPredictor } from '@/core/prediction/predict';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import type { MeasurementData } from '@/core/measurement/samples';
import { halfHeight } from '@/core/search/minimax';
import { goalOf, type Goal, type Limit } from './goal';
import { createFitInputs } from './inputs';
import { meritOf } from '@/core/search/minimax';
import { noPartLimits } from './limits';
import { createFitModel, type FitModel } from './model';
import { variablesOf } from './variables';

const { design: demo, data } = readDemo();
const { design: measured, data: numbers } = withOffAxis(demo, data);
const slope = { alignment: 'linkwitz-riley', order: 4 } as const;

const byHand = (kind: PromiseKind): PromiseEntry => ({
  ...{ id: `own-${kind}`, kind, isOff: false, atLeast: null, atMost: null },
  ...{ fromHz: null, toHz: null, weight: null },
  angle: kind === 'angle' ? { plane: 'vertical', degrees: -15 } : null,
});
const offAxisKinds = ['directivity-slope', 'sound-power', 'in-room', 'seats', 'angle'] as const;

/** All that can be asked, behind an amplifier that yields, a part tied to another. */
const asked: Design = {
  ...measured,
  promises: offAxisKinds.map(byHand),
  amplifier: { ...measured.amplifier, outputOhms: 0.4 },
  ways: allFree(measured).ways.map((way) => ({
    ...way,
    target:
      way.id === 'way-midrange'
        ? { highPass: { ...slope, hz: 400 }, lowPass: { ...slope, hz: 3000 } }
        : null,
    parts: way.parts.map((part) =>
      part.name === 'C3'
        ? { ...part, fit: { ...part.fit, tie: { partId: 'c2', ratio: 8.2 / 47 } } }
        : part,
    ),
  })),
};
const variables = variablesOf(asked);

/** Limits that are all exceeded somewhere, so that every kind is alive. */
const strict = (goal: Goal): Goal => ({
  ...goal,
  limits: goal.limits.map((limit): Limit => {
    switch (limit.kind) {
      case 'load':
        return { ...limit, leastOhms: 7 };
      case 'equivalent':
        return { ...limit, leastOhms: 4 };
      case 'crossover-loss':
        return { ...limit, mostDb: 0.05, quadrature: [['way-woofer', 'way-midrange']] };
      case 'level':
        return { ...limit, leastDb: 95 };
      case 'cut-off':
        return { ...limit, mostHz: 31 };
      case 'driver-power':
      case 'excursion':
        return { ...limit, least: 10 };
      case 'resonance':
        return { ...limit, leastDb: 30 };
      case 'crossover-place':
        return { ...limit, mostOctaves: -4 };
      case 'crossover-floor':
        return { ...limit, leastOctaves: 4 };
      case 'on-axis':
        return { ...limit, withinDb: 0.2 };
      case 'target-slopes':
        return { ...limit, mostDb: 0.2 };
      case 'window':
        return { ...limit, withinDb: 0.2 };
      case 'straight':
      case 'places':
      case 'lows':
        return { ...limit, withinDb: 0.1 };
      case 'index-slope':
        return { ...limit, least: 1.5, most: 0.1 };
      case 'heat':
        return { ...limit, mostWatts: 1 };
      case 'outlay':
        return { ...limit, most: 60 };
    }
  }),
});

const goal = strict(goalOf(asked, { ...noPartLimits, mostWatts: 1, mostOutlay: 60 }));
const model = createFitModel(
  asked,
  numbers,
  goal,
  variables,
  createFitInputs(logGrid(20, 20_000, 12)),
);

test('a tied part is no variable of its own', () => {
  expect(variables.map(({ part }) => part.name)).not.toContain('C3');
  expect(variables.find(({ part }) => part.name === 'C2')!.members).toHaveLength(2);
});

test('a fit takes the figures off the axis from every kind of promise', () => {
  model.evaluate(model.start, false);
  for (const kind of ['window', 'directivity', ...offAxisKinds.map((one) => `own-${one}`)])
    expect([kind, typeof model.promised().get(kind)]).toEqual([kind, 'number']);
});

test('every kind of limit is there, and is exceeded', () => {
  const kinds = new Set(model.limits.map(({ limit }) => limit.kind));
  expect([...kinds].sort()).toEqual(
    [
      ...[
        'cut-off',
        'crossover-floor',
        'crossover-loss',
        'crossover-place',
        'driver-power',
        'equivalent',
      ],
      ...['excursion', 'heat', 'level', 'load', 'lows', 'on-axis', 'outlay', 'resonance'],
      ...['target-slopes', 'window', 'straight', 'places', 'index-slope'],
    ].sort(),
  );
  model.evaluate(model.start, false);
  model
    .excesses()
    .forEach((excess, k) =>
      expect([model.limits[k].limit.kind, excess > 0]).toEqual([model.limits[k].limit.kind, true]),
    );
});

/** Values and slopes of everything, copied. */
function taken({ bands, rows, worst, evaluate }: FitModel, x: Float64Array, hasSlopes: boolean) {
  evaluate(x, hasSlopes);
  return {
    bands: bands.map(({ values, slopes }) => ({ values: values.slice(), slopes: slopes.slice() })),
    worst: worst.slice(),
    rows: Array.from({ length: rows.count }, (_, r) => ({
      group: rows.group[r],
      value: rows.value[r],
      slopes: rows.slopes.slice(r * variables.length, (r + 1) * variables.length),
    })),
  };
}

test('slopes of bands and of the worst of every limit agree with differences', () => {
  const at = taken(model, model.start, true);
  const step = 1e-5;
  variables.forEach((_, v) => {
    const [up, down] = [step, -step].map((by) => {
      const x = model.start.slice();
      x[v] += by;
      return taken(model, x, false);
    });
    at.bands.forEach(({ values, slopes }, b) =>
      values.forEach((_value, i) => {
        const difference = (up.bands[b].values[i] - down.bands[b].values[i]) / (2 * step);
        expect(Math.abs(slopes[v * values.length + i] - difference)).toBeLessThan(2e-5);
      }),
    );
    at.worst.forEach((worst, k) => {
      const top = at.rows.find(({ group, value }) => group === k && value === worst);
      expect([model.limits[k].limit.kind, top !== undefined]).toEqual([
        model.limits[k].limit.kind,
        true,
      ]);
      const difference = (up.worst[k] - down.worst[k]) / (2 * step);
      const scale = Math.max(1, Math.abs(difference));
      expect([
        model.limits[k].limit.kind,
        Math.abs(top!.slopes[v] - difference) / scale < 1e-4,
      ]).toEqual([model.limits[k].limit.kind, true]);
    });
  });
});

test('the figure of every promise in a fit is that of its verdict', () => {
  // Promises of every kind that a network moves, those of the brief and some made by hand.
  const designs: Design[] = [
    asked,
    { ...asked, brief: { ...asked.brief, loudnessDb: null, ratedWatts: null } },
    { ...asked, amplifier: { ...asked.amplifier, outputOhms: 0.05 } },
    { ...asked, promises: (['sensitivity', 'window'] as const).map(byHand) },
  ];
  const told = [
    ...designs.map((design) => ({ design, heard: numbers })),
    { design: asked, heard: breakingUp },
  ];
  for (const { design, heard } of told) {
    const own = goalOf(design);
    const fine = createFitModel(
      design,
      heard,
      own,
      variablesOf(design),
      createFitInputs(designGridHz()),
    );
    fine.evaluate(fine.start, false);
    const promised = fine.promised();
    const judged = judgedPromisesOf(design, createPredictor()(design, heard));
    let compared = 0;
    for (const { promise, verdict } of judged) {
      const figure = promised.get(promise.id);
      if (figure === undefined || figure === null || verdict.value === null) continue;
      compared++;
      // Levels of a fit are those of the design's own voltage, at the place that is measured.
      const offset = ['sensitivity', 'seat-level'].includes(promise.kind)
        ? figure - verdict.value - levelOffset(own, promise.id, promise.atLeast!)
        : figure - verdict.value;
      expect([promise.kind, Math.abs(offset) < 1e-6 * Math.max(1, Math.abs(figure))]).toEqual([
        promise.kind,
        true,
      ]);
    }
    expect(compared).toBeGreaterThan(9);
    const onAxis = judged.find(({ promise }) => promise.kind === 'on-axis')!;
    expect(halfHeight(fine.bands[0].values)).toBeCloseTo(onAxis.verdict.value!, 9);
    // And so is whether it is kept, but for what is left as a reserve.
    fine.limits.forEach(({ limit }, k) => {
      const one = judged.find(({ promise }) => promise.id === limit.promiseId);
      if (one?.verdict.isKept === false) expect(fine.excesses()[k]).toBeGreaterThan(-0.01);
    });
  }
});

/** The same measurements with a midrange whose cone breaks up at 5 kHz. */
const breakingUp: MeasurementData = new Map(
  [...numbers].map(([id, samples]) => [
    id,
    id !== measured.drivers[1].responseId
      ? samples
      : {
          ...samples,
          magnitude: samples.magnitude.map(
            (db, i) => db + 9 / (1 + (8 * Math.log(samples.frequencyHz[i] / 5000)) ** 2),
          ),
        },
  ]),
);

test('a cone that breaks up is handed over from an octave below', () => {
  const placeOf = (heard: MeasurementData) =>
    judgedPromisesOf(asked, createPredictor()(asked, heard)).find(
      ({ promise }) => promise.kind === 'crossover-place',
    )!.verdict;
  const [plain, broken] = [placeOf(numbers), placeOf(breakingUp)];
  expect(Math.abs(broken.value! - Math.log2(broken.atHz! / 2500))).toBeLessThan(0.05);
  expect(broken.value! - plain.value!).toBeGreaterThan(0.3);
});

/** Decibels between a level as a fit has it and as its promise tells it; the limit moves alike. */
function levelOffset(own: Goal, promiseId: string, atLeast: number): number {
  const limit = own.limits.find((one) => one.promiseId === promiseId)!;
  return limit.kind === 'level' ? limit.leastDb - 5e-3 - atLeast : NaN;
}

test('what is held costs more to give up', () => {
  const [kept, plain] = [0, 1].map(() =>
    createFitModel(demo, data, goalOf(demo), variables, createFitInputs(designGridHz())),
  );
  kept.evaluate(kept.start, false);
  kept.hold(kept.excesses().map((excess) => excess <= 0));
  plain.evaluate(plain.start, false);
  plain.worst.forEach((worst, k) => {
    if (worst <= 0) expect(kept.penalties[k]).toBeGreaterThan(plain.penalties[k]);
    else expect(kept.penalties[k]).toBe(plain.penalties[k]);
  });
});

test('polarities are ranked by the deviation they would leave', () => {
  const turned = {
    ...demo,
    ways: demo.ways.map((way, w) => (w === 1 ? { ...way, polarity: 'reversed' as const } : way)),
  };
  const of = (design: Design) => {
    const one = createFitModel(
      design,
      data,
      goalOf(design),
      variables,
      createFitInputs(designGridHz()),
    );
    one.evaluate(one.start, false);
    return one.likelyTurns().map(({ turns }) => turns);
  };
  const [own, other] = [of(demo), of(turned)];
  expect(own).toHaveLength(4);
  // The best polarity is the same speaker, from whichever it is told.
  const best = (turns: ReadonlyMap<string, 1 | -1>, isTurned: boolean) =>
    [...turns].map(([id, sign]) => (isTurned && id === 'way-midrange' ? -sign : sign));
  expect(best(own[0], false)).toEqual(best(other[0], true));
});

test('a reserve that is missing costs its share, and no more than its limit', () => {
  const goal = goalOf(demo);
  const inputs = createFitInputs(designGridHz());
  const model = createFitModel(demo, data, goal, variables, inputs, true);
  const plain = createFitModel(demo, data, goal, variables, inputs);
  const reserves = model.reservesAt(model.start, 0.05);
  expect(reserves.some((reserve) => reserve > 0)).toBe(true);
  model.limits.forEach(({ limit }, k) => {
    if (limit.promiseId === null) expect(reserves[k]).toBe(0);
  });
  const meritOfBoth = (): number[] =>
    [model, plain].map((one) => {
      one.evaluate(one.start, false);
      return meritOf(one);
    });
  const [before, same] = meritOfBoth();
  expect(before).toBeCloseTo(same, 12);
  model.keepReserves(reserves);
  const [after] = meritOfBoth();
  const missing = model
    .excesses()
    .reduce((sum, excess, k) => sum + (reserves[k] > 0 && excess > -reserves[k] ? 1 : 0), 0);
  expect(after).toBeGreaterThan(before);
  // Beyond the limit the reserve goes on costing: 0.2 dB for each whole one within it.
  const beyond = model
    .excesses()
    .reduce(
      (sum, excess, k) => sum + (reserves[k] > 0 && excess > 0 ? excess / reserves[k] : 0),
      0,
    );
  expect(after - before).toBeLessThanOrEqual(0.2 * (missing + beyond) + 1e-9);
  model.keepReserves(null);
  expect(meritOfBoth()[0]).toBeCloseTo(before, 12);
});

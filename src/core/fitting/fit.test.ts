import { followedLoss, partValue } from '@/core/document/partKinds';
import { allFree, readDemo, seededRandom, withOffAxis } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import type { Design, Part } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { fitDesign, withFit } from './fit';
import { goalOf, type Goal } from './goal';
import { createFitInputs } from './inputs';
import { createFitModel } from './model';
import { noPartLimits } from './limits';
import { variablesOf } from './variables';

const { design: demo, data } = readDemo();

const eachPart = (design: Design, edit: (part: Part) => Part): Design => ({
  ...design,
  ways: design.ways.map((way) => ({ ...way, parts: way.parts.map(edit) })),
});
const partsOf = ({ ways }: Design) => ways.flatMap((way) => way.parts);
/** Values times factors, coils wound from the same wire. */
const detuned = (design: Design, factorOf: (part: Part) => number): Design =>
  applyChange(design, {
    type: 'setPartValues',
    values: new Map(
      partsOf(design).map((part) => {
        const factor = factorOf(part);
        const seriesOhms = part.kind === 'resistor' ? null : followedLoss(part, factor);
        return [part.id, { value: partValue(part) * factor, seriesOhms }] as const;
      }),
    ),
  });

describe('the model', () => {
  // Limits that are all broken somewhere, so that every kind of residual is alive.
  const { design: measured, data: numbers } = withOffAxis(demo, data);
  const goal: Goal = {
    ...goalOf(demo),
    window: { weight: 1, withinDb: 0.3, band: { fromHz: 300, toHz: 12_000 } },
    heat: { weight: 0.5, mostWatts: 1 },
    outlay: { weight: 0.8, most: 60, rates: noPartLimits.rates },
    load: { weight: 1.5, leastOhms: 7 },
    equivalent: { weight: 0.7, leastOhms: 4 },
    tracking: { weight: 2, mostDeg: 10, quadrature: [['way-woofer', 'way-midrange']] },
    sensitivity: { weight: 1, leastDb: 95 },
    seatLevel: { weight: 0.6, leastDb: 96 },
    drivers: {
      drivers: demo.drivers,
      power: { weight: 1.2, least: 10, driveVolts: 21.9 },
      excursion: { weight: 0.9, least: 2, voltsAtZeroDb: 10 ** (95 / 20) },
    },
  };
  const behind = { ...measured, amplifier: { ...measured.amplifier, outputOhms: 2.5 } };
  const design = eachPart(allFree(behind), (part) =>
    part.name === 'C3'
      ? { ...part, fit: { ...part.fit, tie: { partId: 'c2', ratio: 0.2 } } }
      : part,
  );
  const variables = variablesOf(design);
  const model = createFitModel(
    design,
    numbers,
    goal,
    variables,
    createFitInputs(logGrid(20, 20_000, 12)),
  );

  test('a tied part is no variable of its own', () => {
    expect(variables.map(({ part }) => part.name)).not.toContain('C3');
    expect(variables.find(({ part }) => part.name === 'C2')!.members).toHaveLength(2);
  });

  test.each([1, 2] as const)('its derivatives agree with differences, power %i', (power) => {
    const columns = variables.map(() => new Float64Array(model.residualCount));
    const at = new Float64Array(model.residualCount);
    model.residuals(model.start, power, at);
    model.derivatives(model.start, power, columns);
    const step = 1e-4;
    variables.forEach(({ part }, v) => {
      const sides = [2, 1, -1, -2].map((times) => {
        const values = model.start.slice();
        values[v] += times * step;
        const out = new Float64Array(model.residualCount);
        model.residuals(values, power, out);
        return out;
      });
      const scale = Math.max(...columns[v].map(Math.abs));
      let compared = 0;
      for (let r = 0; r < model.residualCount; r++) {
        // At the edge of a limit, and where another neighbour takes over, there is no derivative.
        const all = [at[r], ...sides.map((side) => side[r])];
        if (all.some((value) => value === 0) && all.some((value) => value !== 0)) continue;
        const difference =
          (8 * (sides[1][r] - sides[2][r]) - (sides[0][r] - sides[3][r])) / (12 * step);
        // The weight of a tracking residual moves with the levels; it is held while
        // differentiating.
        if (Math.abs(difference - columns[v][r]) / scale < 1e-6) compared++;
      }
      expect([part.name, compared / model.residualCount > 0.8]).toEqual([part.name, true]);
    });
  });

  test('its figures are those of the prediction', () => {
    const plain = { ...goalOf(demo), tracking: null };
    const fine = createFitModel(
      allFree(demo),
      data,
      plain,
      variablesOf(allFree(demo)),
      createFitInputs(logGrid(20, 20_000, 48)),
    );
    fine.residuals(fine.start, 1, new Float64Array(fine.residualCount));
    const { summary } = createPredictor()(demo, data);
    const { highestDb, lowestDb } = summary.onAxis!;
    expect(fine.figures().deviationDb).toBeCloseTo((highestDb - lowestDb) / 2, 6);
    expect(fine.figures().lowestOhms).toBeCloseTo(summary.lowestImpedance!.ohms, 6);
  });
});

describe('a system whose ideal network is known', () => {
  const grid = logGrid(150, 18_000, 24);
  const { sum } = createPredictor(grid)(demo, data);
  // The target is the response of the network itself, so that its error is nought.
  const points = Array.from(grid, (hz, i) => ({ hz, db: sum!.levelDb[i] - 88 }));
  const known: Design = {
    ...allFree(demo),
    target: { kind: 'points', fromHz: 200, toHz: 15_000, points },
    brief: { ...demo.brief, ratedOhms: null, lowestLoadOhms: null, loudnessDb: null },
    promises: ['phase-tracking', 'lowest-impedance', 'equivalent-resistance'].map((kind) => ({
      id: kind,
      kind: kind as 'phase-tracking',
      isOff: true,
      ...{ atLeast: null, atMost: null, fromHz: null, toHz: null, weight: null },
    })),
  };

  test.each([1, 2, 3, 4, 5])('is found from a poor start (%i)', (seed) => {
    const random = seededRandom(seed);
    const poor = detuned(known, () => 3 ** (2 * random() - 1));
    const starts = [0, 1, 2, 3, 4, 5, 6, 7];
    // Nothing but the response on axis is asked for: the network that made it has no error then.
    const onlyOnAxis = { ...goalOf(known), lows: { weight: 0, fromHz: 100, withinDb: 0 } };
    const found = fitDesign(poor, data, { seed, starts }, onlyOnAxis);
    expect(found.before.figures.rmsDb).toBeGreaterThan(0.7);
    expect(found.figures.rmsDb).toBeLessThan(0.05);
    expect(found.figures.deviationDb).toBeLessThan(0.15);
  });
});

test('the poor network of the demo gets better at everything that it broke, and the same seed gives the same', () => {
  const design = allFree(demo);
  const settings = { seed: 7, starts: [0, 1, 2] };
  const found = fitDesign(design, data, settings);
  expect(found.before.figures.deviationDb).toBeGreaterThan(3.4);
  expect(found.figures.deviationDb).toBeLessThan(1.6);
  expect(found.figures.lowestOhms).toBeGreaterThan(4.8);
  expect(found.cost).toBeLessThan(found.before.cost / 3);
  const again = fitDesign(design, data, settings);
  expect(again).toEqual(found);
  // What is reported is what the design then has.
  const { summary } = createPredictor()(withFit(design, found), data);
  expect(summary.lowestImpedance!.ohms).toBeCloseTo(found.figures.lowestOhms, 1);
});

test('bounds are kept, ties followed, locked and held parts left alone; coils keep their wire', () => {
  const design = eachPart(demo, (part) => {
    const fit = (set: Partial<Part['fit']>): Part => ({ ...part, fit: { ...part.fit, ...set } });
    if (part.name === 'L1') return fit({ isFree: true, lowest: 2e-3, highest: 3.5e-3 });
    if (part.name === 'C2') return fit({ isFree: true });
    if (part.name === 'C3') return fit({ tie: { partId: 'c2', ratio: 0.25 } });
    if (part.name === 'R1') return { ...fit({ isFree: true }), isLocked: true };
    return part;
  });
  const found = fitDesign(design, data, { seed: 1, starts: [0, 1] });
  expect([...found.values.keys()].sort()).toEqual(['c2', 'c3', 'l1']);
  const after = withFit(design, found);
  const value = (name: string) => partValue(partsOf(after).find((part) => part.name === name)!);
  expect(value('L1')).toBeGreaterThanOrEqual(2e-3 * (1 - 1e-12));
  expect(value('L1')).toBeLessThanOrEqual(3.5e-3 * (1 + 1e-12));
  expect(value('C3') / value('C2')).toBeCloseTo(0.25, 12);
  expect(value('R1')).toBe(2.2);
  const coil = partsOf(after).find(({ name }) => name === 'L1') as Part & { kind: 'coil' };
  expect(coil.seriesOhms).toBeCloseTo(0.36 * (coil.henries / 3.3e-3) ** 0.6, 9);
});

test('a fit can be stopped, and keeps the best', () => {
  let asked = 0;
  const found = fitDesign(allFree(demo), data, {
    seed: 1,
    starts: [0, 1, 2, 3],
    shouldStop: () => ++asked > 5,
  });
  expect(found.startCount).toBeLessThan(3);
  expect(found.cost).toBeLessThan(found.before.cost);
});

test('what can’t be fitted is refused in words', () => {
  const fit = (design: Design) => () => fitDesign(design, data, { seed: 1, starts: [0] });
  expect(fit(demo)).toThrow('No part is free');
  const crossed = eachPart(allFree(demo), (part) =>
    part.name === 'L2' ? { ...part, fit: { ...part.fit, lowest: 2, highest: 1 } } : part,
  );
  expect(fit(crossed)).toThrow('L2 may take is not below the highest');
  expect(
    fit({
      ...allFree(demo),
      drivers: [],
      ways: allFree(demo).ways.map((way) => ({ ...way, driverId: null })),
    }),
  ).toThrow('No way has a driver');
});

test('losses follow the value: wire in air, wire on a core, the type of a capacitor', () => {
  const coil = demo.ways[0].parts[0];
  const air = { ...coil, kind: 'coil' as const, henries: 1e-3, seriesOhms: 0.4 };
  expect(followedLoss(air, 2)).toBeCloseTo(0.4 * 2 ** 0.6, 12);
  expect(followedLoss({ ...air, core: 'magnetic' }, 2)).toBeCloseTo(0.4 * Math.SQRT2, 12);
  const capacitor = { ...coil, kind: 'capacitor' as const, farads: 1e-5, seriesOhms: 0.1 };
  expect(followedLoss(capacitor, 2)).toBeCloseTo(0.05, 12);
});

test('a driver without a response loads the network, and its way takes no part in the fit of the others', () => {
  const drivers = demo.drivers.map((driver) =>
    driver.id === 'midrange' ? { ...driver, responseId: null } : driver,
  );
  const design = allFree({ ...demo, drivers });
  const found = fitDesign(design, data, { seed: 1, starts: [0] });
  expect(Number.isFinite(found.cost)).toBe(true);
  expect(found.cost).toBeLessThan(found.before.cost);
});

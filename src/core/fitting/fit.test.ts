import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { followedLoss, partValue } from '@/core/document/partKinds';
import { allFree, readDemo, seededRandom, withoutBaffle } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import type { Design, Part } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { derivedKinds } from '@/core/promises/promisesOf';
import { fitDesign, fitGridHz, withFit, withTurned } from './fit';
import { goalOf, type Goal } from './goal';
import { createFitInputs } from './inputs';
import { keptShare } from './keptShare';

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
const judged = (design: Design) => judgedPromisesOf(design, createPredictor()(design, data));
const keptIds = (design: Design) =>
  judged(design).flatMap(({ promise, verdict }) => (verdict.isKept === true ? [promise.id] : []));
const withoutLows = (design: Design): Goal => {
  const goal = goalOf(design);
  return { ...goal, tolerance: 0, limits: goal.limits.filter(({ kind }) => kind !== 'cut-off') };
};

describe('a system whose ideal network is known', () => {
  const grid = logGrid(150, 18_000, 24);
  const { sum } = createPredictor(grid)(demo, data);
  // The target is the response of the network itself, so that its error is nought.
  const points = Array.from(grid, (hz, i) => ({ hz, db: sum!.levelDb[i] - 88 }));
  const known: Design = {
    ...allFree(demo),
    target: { kind: 'points', fromHz: 200, toHz: 15_000, points },
    // Nothing is promised that a better response could break.
    promises: derivedKinds(demo).map((kind) => ({
      ...{ id: kind, kind, isOff: true, weight: null, angle: null },
      ...{ atLeast: null, atMost: null, fromHz: null, toHz: null },
    })),
  };

  test.each([1, 2, 3, 4, 5])('is found from a poor start (%i)', (seed) => {
    const random = seededRandom(seed);
    const poor = detuned(known, () => 3 ** (2 * random() - 1));
    const starts = [0, 1, 2, 3, 4, 5, 6, 7];
    // Nothing but the response on axis is asked for: the network that made it has no error then.
    const onlyOnAxis = { ...goalOf(known), limits: [] };
    const found = fitDesign(poor, data, { seed, starts, mayTurn: false }, onlyOnAxis);
    expect(found.before.figures.rmsDb).toBeGreaterThan(0.7);
    expect(found.figures.rmsDb).toBeLessThan(0.05);
    expect(found.figures.deviationDb).toBeLessThan(0.15);
  });
});

describe('the demo', () => {
  const design = allFree(demo);
  const settings = { seed: 7, starts: [0, 1, 2, 3] };
  const found = fitDesign(design, data, settings);
  const after = withFit(design, found);

  test('gets within its limits, and the same seed gives the same', () => {
    expect(found.before.figures.deviationDb).toBeGreaterThan(3.4);
    expect(found.figures.deviationDb).toBeLessThan(1.4);
    const [load] = judged(after).filter(({ promise }) => promise.kind === 'lowest-impedance');
    expect(load.verdict.isKept).toBe(true);
    expect(fitDesign(design, data, settings)).toEqual(found);
  });

  test('ends at its limits with a hair to spare without reserves, and says what can’t be kept', () => {
    const exact = { ...goalOf(design), tolerance: 0 };
    const found = fitDesign(design, data, settings, exact);
    const after = withFit(design, found);
    const of = (kind: string) => judged(after).find(({ promise }) => promise.kind === kind)!;
    const loss = of('phase-tracking');
    // The fit trades up to the limit; a tenth of a percent of it is left.
    expect(loss.verdict.value! / loss.promise.atMost!).toBeGreaterThan(0.98);
    expect(loss.verdict.value! / loss.promise.atMost!).toBeLessThanOrEqual(1);
    const broken = judged(after).filter(({ verdict }) => verdict.isKept === false);
    expect(found.contradictions.map(({ limit }) => limit.promiseId)).toEqual(
      expect.arrayContaining(
        broken.map(({ promise }) => promise.id).filter((id) => id !== 'on-axis'),
      ),
    );
    for (const { limit, figure } of found.contradictions)
      if (limit.promiseId === null) expect(figure).toBeNull();
      else
        expect(figure).toBeCloseTo(
          judged(after).find(({ promise }) => promise.id === limit.promiseId)!.verdict.value!,
          1,
        );
  });

  test('keeps reserves, with which several times as many builds keep what it keeps', () => {
    const goal = goalOf(design);
    expect(goal.tolerance).toBe(0.05);
    const inputs = createFitInputs(fitGridHz());
    const shareOf = (one: Design) => keptShare(one, data, goal, inputs, 300)!;
    // Eleven parts leave ±1.3 dB of ±1.5 dB promised: what fails now is the response on axis.
    expect(shareOf(after)).toBeGreaterThan(0.5);
    const exact = withFit(design, fitDesign(design, data, settings, { ...goal, tolerance: 0 }));
    expect(shareOf(exact)).toBeLessThan(0.2);
  });

  test('comes within 1 % of what a general optimiser finds under the same limits', () => {
    const reference = JSON.parse(
      readFileSync(
        join(import.meta.dirname, '../../../tests/references/search/minimax-11.json'),
        'utf8',
      ),
    ) as { readonly deviationDb: number };
    // That optimiser knew of nothing off the axis.
    const onAxis = withoutBaffle(design);
    const ours = fitDesign(onAxis, data, { seed: 1, starts: [0, 1, 2, 3] }, withoutLows(onAxis));
    expect(ours.contradictions).toEqual([]);
    expect(ours.figures.deviationDb).toBeLessThan(1.01 * reference.deviationDb);
  });
});

test('nothing that was kept is broken, whatever a fit starts from', () => {
  const random = seededRandom(23);
  const best = allFree(
    withFit(allFree(demo), fitDesign(allFree(demo), data, { seed: 1, starts: [0] })),
  );
  for (const [trial, spread] of [0, 0.05, 0.2, 0.5, 1].entries()) {
    const start = detuned(best, () => 2 ** (spread * (2 * random() - 1)));
    const before = keptIds(start);
    const found = fitDesign(start, data, { seed: trial, starts: [0, 1] });
    const after = new Set(keptIds(withFit(start, found)));
    expect(before.filter((id) => !after.has(id))).toEqual([]);
    expect(found.merit).toBeLessThanOrEqual(found.before.merit);
  }
}, 60_000);

test('a wrong polarity is found and turned; held, it stays', () => {
  const design = allFree(demo);
  const right = fitDesign(design, data, { seed: 1, starts: [0, 1] });
  const wrong = withTurned(withFit(design, right), ['way-tweeter']);
  const turned = fitDesign(allFree(wrong), data, { seed: 1, starts: [0, 1] });
  expect(turned.figures.deviationDb).toBeLessThan(1.03 * right.figures.deviationDb);
  expect(turned.turned.length).toBeGreaterThan(0);
  const held = fitDesign(allFree(wrong), data, { seed: 1, starts: [0], mayTurn: false });
  expect(held.turned).toEqual([]);
  expect(held.figures.deviationDb).toBeGreaterThan(1.2 * right.figures.deviationDb);
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
    shouldStop: () => ++asked > 30,
  });
  expect(found.startCount).toBeLessThan(3);
  expect(found.merit).toBeLessThan(found.before.merit);
});

test('what can’t be fitted is refused in words', () => {
  const fit = (design: Design) => () => fitDesign(design, data, { seed: 1, starts: [0] });
  expect(fit(demo)).toThrow('No part is free');
  const crossed = eachPart(allFree(demo), (part) =>
    part.name === 'L2' ? { ...part, fit: { ...part.fit, lowest: 2, highest: 1 } } : part,
  );
  expect(fit(crossed)).toThrow('L2 may take is not below the highest');
  expect(fit({ ...allFree(demo), drivers: [] })).toThrow('No way has a driver');
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
  expect(Number.isFinite(found.merit)).toBe(true);
  expect(found.merit).toBeLessThan(found.before.merit);
});

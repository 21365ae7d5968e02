import { readSession } from '../../../tests/fixtures';
import type { Step } from '@/core/measurement/steps/kinds';
import { applyChange } from '@/core/editing/applyChange';
import { createConditioner } from './conditioner';
import { examined } from '@/core/insight/examine';
import { predict } from './predict';
import type { Design } from '@/core/document/schema';

const { design, data } = readSession();
const [woofer] = design.measurements;
const withRecipe = (recipe: Step[]): Design =>
  applyChange(design, { type: 'editMeasurement', id: woofer.id, set: { recipe } });
const louder: Step = { kind: 'level', isOn: true, addedDb: 6 };

test('a result is kept while numbers, recipe and microphone have the same contents', () => {
  const condition = createConditioner();
  const first = condition(woofer, data);
  expect(condition(structuredClone(woofer), data)).toBe(first);
  expect(condition({ ...woofer, recipe: [louder] }, data)).not.toBe(first);
  expect(condition(woofer, new Map())).toBeNull();
});

test('the network plays what the steps leave', () => {
  const before = predict(design, data);
  const after = predict(withRecipe([louder]), data);
  after.ways[0].levelDb.forEach((db, i) => {
    if (Number.isFinite(db)) expect(db - before.ways[0].levelDb[i]).toBeCloseTo(6, 9);
  });
});

test('a delay that was taken out is counted from the position instead: the curve hardly moves', () => {
  const tails: Step = {
    kind: 'tails',
    isOn: true,
    belowHz: 15,
    belowDbPerOctave: 12,
    aboveHz: 10_000,
    aboveDbPerOctave: -24,
  };
  const recipe = (keepsDelay: boolean): Step[] => [
    tails,
    { kind: 'phase', isOn: true, keepsDelay },
  ];
  // For all three, or their timing would be mixed.
  const all = (keepsDelay: boolean) =>
    design.measurements
      .filter(({ kind }) => kind === 'response')
      .reduce(
        (now, { id }) =>
          applyChange(now, { type: 'editMeasurement', id, set: { recipe: recipe(keepsDelay) } }),
        design,
      );
  const [kept, dropped] = [predict(all(true), data), predict(all(false), data)];
  expect(dropped.findings.filter(({ code }) => code.includes('timing'))).toEqual([]);
  const i = kept.frequencyHz.findIndex((hz) => hz >= 400);
  expect(Math.abs(kept.sum!.levelDb[i] - dropped.sum!.levelDb[i])).toBeLessThan(1);
});

test('one delay kept and two taken out is a mixed timing, and a step that fails is told', () => {
  const mixed = predict(withRecipe([{ kind: 'phase', isOn: true, keepsDelay: false }]), data);
  expect(mixed.findings.map(({ code }) => code)).toContain('mixed_timing');
  const failed = predict(withRecipe([{ kind: 'gate', isOn: true, lengthMs: 4 }]), data);
  expect(failed.findings.find(({ code }) => code === 'step_left_out')).toMatchObject({
    where: 'Woofer',
    what: expect.stringContaining('can’t be turned into an impulse') as string,
  });
});

test('bridges come with the way that uses them; tails do not', () => {
  const bridge: Step = {
    kind: 'bridge',
    isOn: true,
    fromHz: 500,
    toHz: 700,
    reason: 'a lamp sang',
  };
  const { ways } = predict(withRecipe([bridge]), data);
  expect(ways.map(({ gaps }) => gaps.length)).toEqual([1, 0, 0]);
});

test('the demo’s measurements are examined: responses with their delay, impedances without', () => {
  const condition = createConditioner();
  const response = examined(woofer, design, data, condition)!;
  expect(response.findings.map(({ code }) => code)).toContain('bulk_delay');
  expect(response.delay!.excessMs.length).toBeGreaterThan(100);
  expect(response.time).toBeNull();
  const impedance = design.measurements.find(({ kind }) => kind === 'impedance')!;
  expect(examined(impedance, design, data, condition)).toMatchObject({ findings: [], delay: null });
  expect(examined(woofer, design, new Map(), condition)).toBeNull();
});

test('removing a measurement takes it from angles and fittings too', () => {
  const impedance = design.drivers[0].impedanceId!;
  const used: Design = {
    ...design,
    drivers: design.drivers.map((driver) => ({
      ...driver,
      offAxisIds: [woofer.id],
      fitting: { ...driver.fitting, secondId: impedance },
    })),
  };
  const without = [woofer.id, impedance].reduce(
    (now, id) => applyChange(now, { type: 'removeMeasurement', id }),
    used,
  );
  for (const { offAxisIds, fitting } of without.drivers)
    expect([offAxisIds, fitting.secondId]).toEqual([[], null]);
});

test('steps are copied to many at once', () => {
  const ids = design.measurements.slice(0, 3).map(({ id }) => id);
  const copied = applyChange(design, { type: 'editMeasurements', ids, set: { recipe: [louder] } });
  expect(copied.measurements.map(({ recipe }) => recipe.length)).toEqual([1, 1, 1, 0, 0, 0]);
});

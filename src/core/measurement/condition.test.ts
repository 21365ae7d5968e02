import { logGrid } from '@/core/grid/logGrid';
import { bandPass, delayed, measured } from '../../../tests/responses';
import { conditioned } from './condition';
import type { Setting } from './steps/step';
import { withStep } from './recipe';
import type { Step } from './steps/kinds';

const driver = bandPass(10, 60, 4000);
const flight = 1 / 343.2;
const raw = measured(delayed(driver, flight));
const setting: Setting = { commonTiming: true, microphoneDistanceMm: 1000, find: () => undefined };
const apply = (steps: readonly Step[], samples = raw, more: Partial<Setting> = {}) =>
  conditioned(samples, steps, { ...setting, ...more });
const at = (hz: number, samples = raw) => samples.frequencyHz.findIndex((f) => f >= hz);
const turnsApart = (a: number, b: number) => {
  const turns = (a - b) / 360;
  return 360 * Math.abs(turns - Math.round(turns));
};
const tails: Step = {
  kind: 'tails',
  isOn: true,
  belowHz: 20,
  belowDbPerOctave: 12,
  aboveHz: 20_000,
  aboveDbPerOctave: -12,
};

test('no steps, or steps that are off, leave the numbers as they were measured', () => {
  expect(apply([]).samples).toBe(raw);
  const off = apply([{ ...tails, isOn: false }]);
  expect(off.samples).toBe(raw);
  expect(off.notes.size).toBe(0);
});

test('minimum phase with and without the measured delay', () => {
  const phase = (keepsDelay: boolean) => apply([tails, { kind: 'phase', isOn: true, keepsDelay }]);
  const kept = phase(true);
  const dropped = phase(false);
  expect([kept.holdsDelay, dropped.holdsDelay]).toEqual([true, false]);
  for (const hz of [100, 500, 1000, 5000]) {
    const here = at(hz, kept.samples);
    const there = at(hz);
    expect(turnsApart(kept.samples.phaseDeg![here], raw.phaseDeg![there])).toBeLessThan(2);
    const plain = measured(driver).phaseDeg![there];
    expect(turnsApart(dropped.samples.phaseDeg![here], plain)).toBeLessThan(2);
  }
  expect([...kept.notes.values()].join(' ')).toMatch(/Excess delay 2\.91\d ms/);
});

test('a response without phase gets its minimum phase, and no delay can be kept', () => {
  const silent = { ...raw, phaseDeg: null };
  const steps = (keepsDelay: boolean): Step[] => [tails, { kind: 'phase', isOn: true, keepsDelay }];
  const { samples, holdsDelay } = apply(steps(false), silent);
  expect(holdsDelay).toBe(false);
  const plain = measured(driver).phaseDeg![at(1000)];
  expect(turnsApart(samples.phaseDeg![at(1000, samples)], plain)).toBeLessThan(2);
  const refused = apply(steps(true), silent);
  expect([...refused.troubles.values()][0].code).toBe('no_delay');
  expect(refused.samples.phaseDeg).toBeNull();
});

test('tails replace what lies beyond, reach farther than the data, and are marked', () => {
  const noisy = {
    ...raw,
    magnitude: raw.magnitude.map((db, i) => (i % 2 && raw.frequencyHz[i] < 20 ? db + 9 : db)),
  };
  const { samples, marks } = apply([tails], noisy);
  expect(samples.frequencyHz[samples.frequencyHz.length - 1]).toBeGreaterThan(39_000);
  const slope = samples.magnitude[at(20, samples)] - samples.magnitude[at(10, samples)];
  expect(slope).toBeCloseTo(12, 0);
  expect(marks).toHaveLength(2);
});

test('a bridge is straight between its ends, keeps the delay, and says why it is there', () => {
  const dipped = {
    ...raw,
    magnitude: raw.magnitude.map((db, i) =>
      raw.frequencyHz[i] > 900 && raw.frequencyHz[i] < 1100 ? db - 15 : db,
    ),
  };
  const step: Step = { kind: 'bridge', isOn: true, fromHz: 850, toHz: 1200, reason: 'a lamp sang' };
  const { samples, marks } = apply([step], dipped);
  expect(samples.magnitude[at(1000)]).toBeCloseTo(raw.magnitude[at(1000)], 0);
  expect(turnsApart(samples.phaseDeg![at(1000)], raw.phaseDeg![at(1000)])).toBeLessThan(6);
  expect(marks).toEqual([{ fromHz: 850, toHz: 1200, reason: 'a lamp sang', isTail: false }]);
  const outside = apply([{ ...step, fromHz: 5 }], dipped);
  expect([...outside.troubles.values()][0].code).toBe('bridge_outside');
});

test('delay and level are added', () => {
  const { samples } = apply([
    { kind: 'level', isOn: true, addedDb: 3 },
    { kind: 'delay', isOn: true, addedMs: 0.5 },
  ]);
  expect(samples.magnitude[at(1000)] - raw.magnitude[at(1000)]).toBeCloseTo(3, 12);
  const hz = raw.frequencyHz[at(1000)];
  expect(turnsApart(samples.phaseDeg![at(1000)], raw.phaseDeg![at(1000)] - 0.18 * hz)).toBeCloseTo(
    0,
    6,
  );
});

test('a gate needs even frequencies, and takes a later echo away', () => {
  expect([...apply([{ kind: 'gate', isOn: true, lengthMs: 4 }]).troubles.values()][0].code).toBe(
    'not_even',
  );
  const even = Float64Array.from({ length: 8000 }, (_, k) => 3 * (k + 1));
  const plain = measured(delayed(driver, flight), even);
  const echoed = measured((hz) => {
    const [re, im] = delayed(driver, flight)(hz);
    const [echoRe, echoIm] = delayed(driver, flight + 0.005)(hz);
    return [re + 0.5 * echoRe, im + 0.5 * echoIm];
  }, even);
  const { samples, validFromHz, notes } = apply(
    [{ kind: 'gate', isOn: true, lengthMs: 4.6 }],
    echoed,
  );
  expect(validFromHz).toBeCloseTo(217, 0);
  expect(notes.get(0)).toMatch(/Arrival at 2\.9\d ms/);
  for (const hz of [700, 2000, 8000]) {
    const expected = plain.magnitude[at(samples.frequencyHz[at(hz, samples)], plain)];
    expect(Math.abs(samples.magnitude[at(hz, samples)] - expected)).toBeLessThan(0.3);
    expect(Math.abs(echoed.magnitude[at(hz, echoed)] - expected)).toBeLessThan(6.1);
  }
});

test('a near field that is not there is told, and the rest goes on', () => {
  const { troubles, samples } = apply([
    {
      kind: 'splice',
      isOn: true,
      nearId: 'f'.repeat(32),
      radiusMm: 100,
      portId: null,
      portRadiusMm: null,
      atHz: 300,
      stepWidthMm: null,
    },
    { kind: 'level', isOn: true, addedDb: 1 },
  ]);
  expect(troubles.get(0)!.code).toBe('near_missing');
  expect(samples.magnitude[0]).toBe(raw.magnitude[0] + 1);
});

describe('a near field that does not meet the far field', () => {
  const near = measured(driver, logGrid(10, 2000, 48));
  const joined = (offDb: number, stepWidthMm: number | null) => {
    const scaled = {
      ...near,
      magnitude: near.magnitude.map((db) => db + 20 * Math.log10(20) - offDb),
    };
    const step = { kind: 'splice', isOn: true, nearId: 'a'.repeat(32), radiusMm: 100 } as const;
    const { notes } = apply(
      [{ ...step, portId: null, portRadiusMm: null, atHz: 300, stepWidthMm }],
      raw,
      { find: () => scaled },
    );
    return notes.get(0)!;
  };

  test('is questioned from 1.5 dB on, whatever the size', () => {
    expect(joined(6, null)).toMatch(/moved by 6\.0 dB.*should be within 1\.5 dB.*too high/);
    expect(joined(2.5, null)).toMatch(/should be within 1\.5 dB/);
    expect(joined(-2.5, null)).toMatch(/too low/);
    expect(joined(1, null)).not.toMatch(/should be within/);
  });

  test('is half space without a step, and that is said', () => {
    expect(joined(0, null)).toMatch(/up to 6 dB too high/);
    expect(joined(0, 300)).not.toMatch(/up to 6 dB/);
  });
});

test('a new step goes to its place', () => {
  const delay: Step = { kind: 'delay', isOn: true, addedMs: 1 };
  const gate: Step = { kind: 'gate', isOn: true, lengthMs: 4 };
  expect(withStep(withStep([delay], gate), tails).map(({ kind }) => kind)).toEqual([
    'gate',
    'tails',
    'delay',
  ]);
});

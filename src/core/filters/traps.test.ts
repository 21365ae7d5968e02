import { magnitudesOf } from '@/core/prediction/derived';
import { joinedWithNext } from '@/core/editing/arrange';
import { applyChange } from '@/core/editing/applyChange';
import { arrangeWay } from '@/core/editing/change';
import { newPart } from '@/core/editing/newPart';
import { createPredictor, type Predictor } from '@/core/prediction/predict';
import { partsOf, type Design, type Part, type Way } from '@/core/document/schema';
import { readDemo } from '../../../tests/fixtures';
import { partsFor, trapOnLine } from './startingPoints';
import {
  proposeTrap,
  trapFigures,
  trapHz,
  trapLoads,
  trapsOf,
  trapValues,
  type Trap,
} from './traps';

const { design: demo, data } = readDemo();
const [woofer] = demo.ways;

/** A trap of three parts with given values. */
function trapOf(kind: Trap['kind'], values: ReturnType<typeof trapValues>): Trap {
  const make = (partKind: Part['kind'], set: object): Part => ({
    ...newPart(demo, partKind, kind === 'line' ? 'series' : 'shunt', `new-${partKind}`),
    ...set,
  });
  return {
    ...{ groupId: 'trap', wayId: 'way', name: 'trap', kind },
    resistor: make('resistor', { ohms: values.ohms }),
    coil: make('coil', { henries: values.henries }),
    capacitor: make('capacitor', { farads: values.farads }),
  };
}

/** The demo with a trap at the end of its midrange's rail. */
function withTrap(kind: Trap['kind'], hz: number): Design {
  const values = trapValues(kind, { hz, db: 4, octaves: 1 }, 8);
  const { resistor, coil, capacitor } = trapOf(kind, values);
  const parts = [resistor, coil, capacitor].map((part, i) => ({
    ...part,
    name: ['R9', 'L9', 'C9'][i],
  }));
  const join = kind === 'line' ? 'parallel' : 'series';
  const way: Way = { ...demo.ways[1], parts: [...demo.ways[1].parts, ...parts] };
  const two = { ...way, ...joinedWithNext(way, 'new-resistor', join, 'trap')! };
  const grouped: Way = {
    ...two,
    parts: two.parts.map((part) =>
      part.id === 'new-capacitor' ? { ...part, groupId: 'trap' } : part,
    ),
  };
  return applyChange(demo, arrangeWay('way-midrange', grouped));
}

describe.each(['line', 'return'] as const)('a trap on the %s', (kind) => {
  const figures = { hz: 900, db: 5, octaves: 0.8 };
  const values = trapValues(kind, figures, 6);

  test('takes the decibels away at its frequency, and half of them half its width beside it', () => {
    // The divider worked out with complex numbers here, not by the formula of the code.
    const lossDb = (hz: number) => {
      const omega = 2 * Math.PI * hz;
      const x = omega * values.henries - 1 / (omega * values.farads);
      if (kind === 'return')
        return 10 * Math.log10(((values.ohms + 6) ** 2 + x * x) / (values.ohms ** 2 + x * x));
      const b = omega * values.farads - 1 / (omega * values.henries);
      const g = 1 / values.ohms;
      const [re, im] = [g / (g * g + b * b), -b / (g * g + b * b)];
      return 10 * Math.log10(((6 + re) ** 2 + im * im) / 36);
    };
    expect(lossDb(900)).toBeCloseTo(5, 9);
    expect(lossDb(900 * 2 ** 0.4)).toBeCloseTo(2.5, 9);
    expect(lossDb(900 / 2 ** 0.4)).toBeCloseTo(2.5, 9);
  });

  test('its figures come back from its values', () => {
    const found = trapFigures(trapOf(kind, values), 6);
    expect(found.hz).toBeCloseTo(900, 9);
    expect(found.db).toBeCloseTo(5, 9);
    expect(found.octaves).toBeCloseTo(0.8, 9);
  });

  test('what it works against in a network is found by leaving it out', () => {
    const design = withTrap(kind, 1200);
    const [found] = trapsOf(design);
    expect(found).toMatchObject({ kind, wayId: 'way-midrange', name: 'R9 L9 C9' });
    const load = trapLoads(design, data).get('trap')!;
    const predict = createPredictor(Float64Array.of(1190, trapHz(found)));
    const without = applyChange(design, { type: 'editPart', id: 'new-coil', set: { isOff: true } });
    const off = ['new-resistor', 'new-capacitor'].reduce(
      (one, id) => applyChange(one, { type: 'editPart', id, set: { isOff: true } }),
      without,
    );
    const volts = (one: Design) => magnitudesOf(predict(one, data).ways[1].voltage)[1];
    expect(trapFigures(found, load).db).toBeCloseTo(20 * Math.log10(volts(off) / volts(design)), 6);
  });
});

test('only whole traps are traps', () => {
  expect(trapsOf(demo)).toEqual([]);
  const design = withTrap('line', 1000);
  expect(trapsOf(applyChange(design, { type: 'removePart', id: 'new-coil' }))).toEqual([]);
  const turned = design.ways.map((way) => ({
    ...way,
    groups: way.groups.map((group) => ({ ...group, join: 'series' as const })),
  }));
  expect(trapsOf({ ways: turned })).toEqual([]);
});

test('the highest bump gets a trap that lowers it and leaves the sum evener around', () => {
  const predict = createPredictor();
  const before = predict(demo, data);
  const { onAxis } = before.summary;
  const found = proposeTrap(demo, data, predict, null)!;
  expect(found.hz).toBeCloseTo(onAxis!.highestAtHz, 9);
  expect(found.db).toBeGreaterThan(1);
  const made = partsFor(
    trapOnLine(found.values),
    new Set(partsOf(demo).map(({ name }) => name)),
    (() => {
      let count = 0;
      return () => `t${++count}`;
    })(),
  );
  const way = demo.ways.find(({ id }) => id === found.wayId)!;
  const after = applyChange(
    demo,
    arrangeWay(way.id, {
      parts: [...way.parts, ...made.parts],
      groups: [...way.groups, ...made.groups],
    }),
  );
  const i = before.frequencyHz.findIndex((hz) => hz === found.hz);
  const fall = before.sum!.levelDb[i] - predict(after, data).sum!.levelDb[i];
  // Where ways overlap they give back a part of what one of them loses.
  expect(fall).toBeGreaterThan(0.3);
  const roughness = (design: Design) => {
    const { frequencyHz, sum } = predict(design, data);
    const near = [...frequencyHz.keys()].filter(
      (k) => Math.abs(Math.log2(frequencyHz[k] / found.hz)) <= 1,
    );
    const mean = near.reduce((total, k) => total + sum!.levelDb[k], 0) / near.length;
    return near.reduce((square, k) => square + (sum!.levelDb[k] - mean) ** 2, 0);
  };
  expect(roughness(after)).toBeLessThan(roughness(demo));
});

test('near a frequency the bump there is taken; in silence nothing', () => {
  const predict = createPredictor();
  const low = proposeTrap(demo, data, predict, 150)!;
  expect(Math.abs(Math.log2(low.hz / 150))).toBeLessThanOrEqual(1 / 6);
  expect(low.wayId).toBe(woofer.id);
  expect(proposeTrap({ ...demo, ways: [] }, data, predict, null)).toBeNull();
  expect(proposeTrap(demo, data, predict, 90_000)).toBeNull();
});

test('a small bump on a slope gets a small trap, however far it is over the mean', () => {
  const { design, data } = readDemo();
  const predict = createPredictor();
  const levels = predict(design, data);
  const shaped: Predictor = (of, numbers, options) => {
    const found = predict(of, numbers, options);
    // A shelf of 4 dB below 2 kHz with a decibel's bump on it, in place of the demo's response.
    const levelDb = found.sum!.levelDb.map((db, i) => {
      const hz = found.frequencyHz[i];
      const bump = 1 * Math.exp(-((Math.log2(hz / 700) / 0.2) ** 2));
      return (hz < 2000 ? 92 : 88) + bump + (db - levels.sum!.levelDb[i]);
    });
    return { ...found, sum: { ...found.sum!, levelDb } };
  };
  const trap = proposeTrap(design, data, shaped, 700)!;
  expect(trap.hz / 700).toBeCloseTo(1, 1);
  expect(trap.db).toBeLessThan(1.8);
  expect(trap.db).toBeGreaterThan(0.4);
});

import { magnitudesOf } from '@/core/prediction/derived';
import { samplesId, type Samples } from '@/core/measurement/samples';
import { measurementStatement } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { arrangeWay, type Change } from '@/core/editing/change';
import { createPredictor } from '@/core/prediction/predict';
import {
  designSchema,
  emptyDesign,
  emptyDriver,
  endAt,
  firstPair,
  plainPart,
  plainWay,
  type Design,
  type NodeRef,
  type Part,
  type Way,
} from '@/core/document/schema';

/** Flat drivers of 8 Ω and 1 Pa per volt, so that what is heard is the voltage at each. */
const flat = (magnitude: number): Samples => ({
  frequencyHz: Float64Array.of(10, 30_000),
  magnitude: Float64Array.of(magnitude, magnitude),
  phaseDeg: Float64Array.of(0, 0),
});
const ohms = flat(8);
const level = flat(20 * Math.log10(2.83));
const [impedanceId, responseId] = [samplesId(ohms), samplesId(level)];
const data = new Map([
  [impedanceId, ohms],
  [responseId, level],
]);
const hz = Float64Array.of(100, 500, 1000, 2000, 9000);
const predict = createPredictor(hz);

const resistor = (name: string, value: number, place: Part['place'] = 'series'): Part => ({
  ...plainPart,
  ...{ id: name.toLowerCase(), name, place, kind: 'resistor', ohms: value },
});
const coil = (name: string, henries: number, place: Part['place'] = 'series'): Part => ({
  ...plainPart,
  ...{ id: name.toLowerCase(), name, place, kind: 'coil', henries, seriesOhms: 0 },
});
const capacitor = (name: string, farads: number, place: Part['place'] = 'series'): Part => ({
  ...plainPart,
  ...{ id: name.toLowerCase(), name, place, kind: 'capacitor', farads, seriesOhms: 0 },
});
const way = (id: string, set: Partial<Way>): Way => ({ ...plainWay, id, name: id, ...set });

function designOf(ways: readonly Way[], set: Partial<Design> = {}): Design {
  return designSchema.parse({
    ...emptyDesign('Wiring'),
    amplifier: { volts: 1, outputOhms: 0, cableOhms: 0 },
    measurements: [
      measurementStatement(impedanceId, 'impedance'),
      measurementStatement(responseId, 'response'),
    ],
    drivers: ['d1', 'd2', 'd3', 'd4'].map((id) => ({
      ...emptyDriver(id, id),
      ...{ responseId, impedanceId },
    })),
    ways,
    ...set,
  });
}
const volts = (design: Design) =>
  Object.fromEntries(
    predict(design, data).ways.map(({ wayId, voltage }) => [wayId, magnitudesOf(voltage)]),
  );
const near = (found: Float64Array, wanted: (x: number, i: number) => number, digits = 9) =>
  found.forEach((value, i) => expect(value).toBeCloseTo(wanted(hz[i] / 1000, i), digits));

test('a stacked first-order network divides like a parallel one and loads with a constant resistance', () => {
  // Two like resistors, L = R/ω and C = 1/(R·ω): constant-resistance series network, worked out by
  // hand.
  const omega = 2 * Math.PI * 1000;
  const design = designOf([
    way('low', { ends: [endAt('d1')], parts: [capacitor('C1', 1 / (8 * omega), 'shunt')] }),
    way('high', {
      from: { kind: 'return', wayId: 'low' },
      ends: [endAt('d2')],
      parts: [coil('L1', 8 / omega, 'shunt')],
    }),
  ]);
  const { low, high } = volts(design);
  near(low, (x) => 1 / Math.sqrt(1 + x * x));
  near(high, (x) => x / Math.sqrt(1 + x * x));
  near(predict(design, data).impedance!.ohms, () => 8);
});

test('drivers at one end: two in parallel, two in series, and one turned against the other', () => {
  const r1 = resistor('R1', 4);
  const parallel = designOf([way('w', { ends: [endAt('d1'), endAt('d2')], parts: [r1] })]);
  near(volts(parallel).w, () => 0.5);
  near(predict(parallel, data).impedance!.ohms, () => 8);
  // Two of 0.5 Pa.
  near(predict(parallel, data).sum!.levelDb, () => 0, 6);
  const series = { ...parallel, ways: [{ ...parallel.ways[0], endsJoin: 'series' as const }] };
  near(volts(series).w, () => 0.8);
  near(predict(series, data).impedance!.ohms, () => 20);
  near(predict(series, data).sum!.levelDb, () => 20 * Math.log10(0.8), 6);
  const turned = applyChange(parallel, {
    type: 'editWay',
    id: 'w',
    set: { ends: [endAt('d1'), { driverId: 'd2', polarity: 'reversed' }] },
  });
  predict(turned, data).sum!.levelDb.forEach((db) => expect(db).toBeLessThan(-200));
});

test('what two ways share is before both', () => {
  const design = designOf([
    way('shared', { parts: [resistor('R1', 4)] }),
    way('a', { from: { kind: 'end', wayId: 'shared' }, ends: [endAt('d1')] }),
    way('b', { from: { kind: 'end', wayId: 'shared' }, ends: [endAt('d2')] }),
  ]);
  const { findings, impedance } = predict(design, data);
  expect(findings).toEqual([]);
  near(impedance!.ohms, () => 8);
  near(volts(design).b, () => 0.5);
});

test('a way from behind a part, and a bridge over it', () => {
  const behind: NodeRef = { kind: 'after', partId: 'r1' };
  const ways = [
    way('a', { ends: [endAt('d1')], parts: [resistor('R1', 4), resistor('R2', 8)] }),
    way('b', { from: behind, ends: [endAt('d2')] }),
  ];
  // 4 Ω, then 8 Ω beside 16 Ω.
  const tap = 16 / 3 / (4 + 16 / 3);
  near(volts(designOf(ways)).b, () => tap);
  near(volts(designOf(ways)).a, () => tap / 2);
  const bridges = [
    {
      part: resistor('R3', 4),
      a: { kind: 'terminals', pairId: firstPair.id } as NodeRef,
      b: behind,
    },
  ];
  near(volts(designOf(ways, { bridges })).b, () => 16 / 3 / (2 + 16 / 3));
  const bypassed = predict(designOf(ways, { bridges }), data, { bypassedPartId: 'r3' });
  near(magnitudesOf(bypassed.ways[1].voltage), () => tap);
});

describe('two pairs of terminals', () => {
  const second = {
    ...firstPair,
    id: 'second',
    name: 'Second',
    gainDb: 6,
    polarity: 'reversed' as const,
  };
  const ways = [
    way('a', { ends: [endAt('d1')], parts: [resistor('R1', 8)] }),
    way('b', { from: { kind: 'terminals', pairId: 'second' }, ends: [endAt('d2')] }),
  ];
  const terminals = [firstPair, second];

  test('apart, each has its amplifier with gain and polarity', () => {
    const design = designOf(ways, {
      terminals,
      amplifier: { volts: 1, outputOhms: 1, cableOhms: 1 },
    });
    const { loads, impedance, sum } = predict(design, data);
    near(volts(design).a, () => 8 / 18);
    near(volts(design).b, () => 0.8 * 10 ** (6 / 20));
    expect(loads.map(({ name, ohms: size }) => [name, Math.round(size[0])])).toEqual([
      ['Terminals', 16],
      ['Second', 8],
    ]);
    near(impedance!.ohms, () => 8);
    near(sum!.levelDb, () => 20 * Math.log10(0.8 * 10 ** (6 / 20) - 8 / 18), 6);
  });

  test('an amplifier with an output resistance of its own is behind that one', () => {
    const design = designOf(ways, {
      terminals: [firstPair, { ...second, outputOhms: 3 }],
      amplifier: { volts: 1, outputOhms: 1, cableOhms: 1 },
    });
    near(volts(design).a, () => 8 / 18);
    near(volts(design).b, () => (8 / 12) * 10 ** (6 / 20));
  });

  test('joined, one amplifier drives both as the first is set', () => {
    const design = designOf(ways, { terminals, isJoined: true });
    const { loads, sum } = predict(design, data);
    expect(loads).toHaveLength(1);
    near(loads[0].ohms, () => 16 / 3);
    near(sum!.levelDb, () => 20 * Math.log10(1.5), 6);
  });

  test('a stacked pair of ways on the second terminals loads only these', () => {
    const design = designOf(
      [...ways, way('c', { from: { kind: 'return', wayId: 'b' }, ends: [endAt('d3')] })],
      { terminals },
    );
    const { loads } = predict(design, data);
    near(loads[0].ohms, () => 16);
    near(loads[1].ohms, () => 16);
    near(volts(design).c, () => 10 ** (6 / 20) / 2);
  });
});

test('what is connected to a way that is left out is left out too, and says so', () => {
  const design = designOf([
    way('a', { ends: [endAt('d1')] }),
    way('b', { from: { kind: 'end', wayId: 'a' }, ends: [endAt('d2')] }),
    way('c', { ends: [endAt('d3')] }),
  ]);
  const broken = applyChange(design, { type: 'editDriver', id: 'd1', set: { impedanceId: null } });
  const { ways, findings } = predict(broken, data);
  expect(ways.map(({ wayId }) => wayId)).toEqual(['c']);
  expect(findings.map(({ code, about }) => [code, about])).toEqual([
    ['driver_without_impedance', 'a'],
    ['stands_on_left_out_way', 'b'],
  ]);
});

test.each<[string, (design: Design) => unknown, RegExp]>([
  [
    'a way that starts from itself',
    (d) => Object.assign(d.ways[0], { from: { kind: 'end', wayId: 'b' } }),
    /starts from itself/,
  ],
  [
    'a way from a place that is not there',
    (d) => Object.assign(d.ways[1], { from: { kind: 'after', partId: 'r9' } }),
    /place that is not there/,
  ],
  ['a way from ground', (d) => Object.assign(d.ways[1], { from: { kind: 'ground' } }), /at ground/],
  [
    'a bridge to nowhere',
    (d) =>
      d.bridges.push({
        part: resistor('R7', 1),
        a: { kind: 'ground' },
        b: { kind: 'end', wayId: 'x' },
      }),
    /R7 leads to a place/,
  ],
])('%s is refused', (_name, edit, message) => {
  const design = structuredClone(
    designOf([
      way('a', { ends: [endAt('d1')], parts: [resistor('R1', 4)] }),
      way('b', { from: { kind: 'end', wayId: 'a' }, ends: [endAt('d2')] }),
    ]),
  );
  edit(design);
  const { error } = designSchema.safeParse(design);
  expect(error?.issues.map((issue) => issue.message).join()).toMatch(message);
});

describe('places move with what they name', () => {
  const start = designOf(
    [
      way('a', { ends: [endAt('d1')], parts: [resistor('R1', 4), resistor('R2', 8)] }),
      way('b', {
        from: { kind: 'after', partId: 'r2' },
        ends: [endAt('d2')],
        parts: [resistor('R4', 1)],
      }),
      way('c', { ends: [endAt('d3')] }),
    ],
    {
      bridges: [
        {
          part: resistor('R3', 4),
          a: { kind: 'after', partId: 'r2' },
          b: { kind: 'end', wayId: 'b' },
        },
      ],
    },
  );
  const after = (change: Change) => {
    const design = applyChange(start, change);
    expect(designSchema.parse(design)).toEqual(design);
    return [design.ways.find(({ id }) => id === 'b')?.from, design.bridges.at(0)?.a];
  };

  test('to what is before a part that is taken away', () => {
    const node = { kind: 'after', partId: 'r1' };
    expect(after({ type: 'removePart', id: 'r2' })).toEqual([node, node]);
  });

  test('to the start of a way that has lost its parts', () => {
    const node = { kind: 'start', wayId: 'a' };
    expect(after(arrangeWay('a', { parts: [], groups: [] }))).toEqual([node, node]);
  });

  test('not into itself when the part goes there', () => {
    const [a, b] = start.ways;
    const contents = new Map([
      ['a', { parts: [a.parts[0]], groups: [] }],
      ['b', { parts: [...b.parts, a.parts[1]], groups: [] }],
    ]);
    const node = { kind: 'after', partId: 'r1' };
    expect(after({ type: 'arrangeWays', contents })[0]).toEqual(node);
  });

  test('to where a way started that is taken away', () => {
    const node = { kind: 'terminals', pairId: firstPair.id };
    expect(after({ type: 'removeWay', id: 'a' })).toEqual([node, node]);
  });

  test('a bridge goes with its part', () => {
    expect(applyChange(start, { type: 'removePart', id: 'r3' }).bridges).toEqual([]);
  });

  test('to the first pair when another is taken away', () => {
    const pair = { ...firstPair, id: 'second', name: 'Second' };
    const two = applyChange(
      { ...start, terminals: [firstPair, pair] },
      { type: 'editWay', id: 'c', set: { from: { kind: 'terminals', pairId: 'second' } } },
    );
    const one = applyChange(two, { type: 'setTerminals', terminals: [firstPair], isJoined: false });
    expect(one.ways[2].from).toEqual(plainWay.from);
    const none = applyChange(one, { type: 'setTerminals', terminals: [], isJoined: false });
    expect(none.terminals).toEqual([firstPair]);
  });
});

test('a way without a driver is a load when something hangs on it, and nothing without', () => {
  const parts = [resistor('R1', 8, 'shunt')];
  const loaded = (more: Part[]) =>
    designOf([way('a', { ends: [endAt('d1')] }), way('b', { parts: [...more, ...parts] })]);
  near(predict(loaded([]), data).impedance!.ohms, () => 4);
  expect(predict(loaded([]), data).findings).toEqual([]);
  expect(predict(loaded([resistor('R2', 1)]), data).findings[0]).toMatchObject({
    code: 'way_without_driver',
    severity: 'doubt',
  });
  const bare = designOf([way('a', { ends: [endAt('d1')] }), way('b', {})]);
  expect(predict(bare, data).findings[0]).toMatchObject({ severity: 'stops', about: 'b' });
});

import { readSpice } from '@/core/network/spice';
import type { ProblemError } from '@/core/problem';
import { readDemo, seededRandom } from '../../../tests/fixtures';
import { joinedWithNext, placed } from '@/core/editing/arrange';
import { applyChange } from '@/core/editing/applyChange';
import { arrangeWay } from '@/core/editing/change';
import { newPart } from '@/core/editing/newPart';
import { withDriversAsResistors } from '../network/writeSpice';
import { networkDeck } from '@/core/insight/networkDeck';
import { allPlaces, startsFor } from '@/core/document/places';
import { createPredictor } from '@/core/prediction/predict';
import { railsFromNetlist } from './railsFromNetlist';
import { endAt, firstPair, partsOf, plainWay, type Design } from '@/core/document/schema';

const { design: demo, data } = readDemo();
const predict = createPredictor(Float64Array.from({ length: 60 }, (_, i) => 25 * 1.12 ** i));

const counter = () => {
  let count = 0;
  return () => `new-${++count}`;
};

/** Every driver of the deck that `networkDeck` writes of a design. */
const driversOf = ({ ways }: Design) =>
  new Map(
    ways.flatMap(({ id, ends }) =>
      ends.map(({ driverId }, e) => [`r_driver_${e + 1}_of_${id.replaceAll('-', '_')}`, driverId]),
    ),
  );

/** The design written as a deck, read and laid out anew. */
function again(design: Design) {
  const deck = withDriversAsResistors(networkDeck(design, data)!);
  return railsFromNetlist(readSpice(deck, 'deck.cir').netlist, driversOf(design), demo, counter());
}

function expectSame(design: Design, other: Design): void {
  const [one, two] = [predict(design, data), predict(other, data)];
  expect(two.findings.filter(({ severity }) => severity === 'stops')).toEqual([]);
  one.sum!.levelDb.forEach((db, i) => expect(two.sum!.levelDb[i]).toBeCloseTo(db, 6));
  one.impedance!.ohms.forEach((ohms, i) => expect(two.impedance!.ohms[i]).toBeCloseTo(ohms, 6));
}

test('the demo comes back with its rails, names and values', () => {
  const { design, warnings } = again(demo);
  expect(warnings).toEqual([]);
  expect(design.bridges).toEqual([]);
  const told = ({ ways }: Design) =>
    ways.map(({ name, ends, polarity, parts }) => [
      ...[name, ends, polarity],
      ...parts.map((part) => `${part.name} ${part.place}`),
    ]);
  expect(told(design)).toEqual(told(demo));
  expect(design.amplifier).toEqual(demo.amplifier);
  expectSame(demo, design);
});

const [woofer, midrange, tweeter] = demo.ways;
const shapes: Record<string, Design> = {
  'groups within groups': {
    ...demo,
    ways: [
      woofer,
      (() => {
        const inner = { ...midrange, ...joinedWithNext(midrange, 'l3', 'parallel', 'g1')! };
        const outer = { ...inner, ...joinedWithNext(inner, 'l2', 'series', 'g2')! };
        return { ...outer, ...placed(outer, 'l2', 'shunt') };
      })(),
      tweeter,
    ],
  },
  'a stacked network': {
    ...demo,
    ways: [woofer, midrange, { ...tweeter, from: { kind: 'return', wayId: woofer.id } }],
  },
  'a way from behind a part, and a shared beginning': {
    ...demo,
    ways: [
      {
        ...plainWay,
        id: 'way-shared',
        name: 'Shared',
        parts: [newPart(demo, 'resistor', 'series', 'r9')],
      },
      { ...woofer, from: { kind: 'end', wayId: 'way-shared' } },
      midrange,
      { ...tweeter, from: { kind: 'after', partId: 'c2' } },
    ],
  },
  'two drivers at one end': {
    ...demo,
    ways: [
      { ...woofer, ends: [endAt('woofer'), { driverId: 'midrange', polarity: 'reversed' }] },
      tweeter,
    ],
  },
  'two drivers in series at one end': {
    ...demo,
    ways: [{ ...woofer, ends: [endAt('woofer'), endAt('midrange')], endsJoin: 'series' }, tweeter],
  },
  'two pairs, one turned': {
    ...demo,
    terminals: [firstPair, { id: 'other', name: 'Other', gainDb: -3, polarity: 'reversed' }],
    ways: [{ ...woofer, from: { kind: 'terminals', pairId: 'other' } }, midrange, tweeter],
  },
  'two amplifiers, one of them behind more': {
    ...demo,
    terminals: [firstPair, { ...firstPair, id: 'other', name: 'Other', outputOhms: 2.5 }],
    ways: [{ ...woofer, from: { kind: 'terminals', pairId: 'other' } }, midrange, tweeter],
  },
  'a bridged way and a bridge between two': {
    ...demo,
    bridges: [
      {
        part: newPart(demo, 'capacitor', 'series', 'c9'),
        a: { kind: 'terminals', pairId: firstPair.id },
        b: { kind: 'end', wayId: midrange.id },
      },
      {
        part: { ...newPart(demo, 'resistor', 'series', 'r9'), name: 'R9' },
        a: { kind: 'after', partId: 'l1' },
        b: { kind: 'after', partId: 'c2' },
      },
    ],
  },
  'coupled coils': {
    ...demo,
    couplings: [
      { partA: 'l1', partB: 'l3', coefficient: 0.2 },
      { partA: 'l2', partB: 'l4', coefficient: -0.1 },
    ],
  },
};
test.each(Object.entries(shapes))('%s: the same circuit', (_name, design) => {
  const { design: other, warnings } = again(design);
  expect(warnings).toEqual([]);
  expectSame(design, other);
});

test('whatever the network, the circuit stays the same', () => {
  const random = seededRandom(5);
  const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)];
  const kinds = ['resistor', 'coil', 'capacitor'] as const;
  for (let round = 0; round < 40; round++) {
    let design = demo;
    for (let i = 0; i < 12; i++) {
      const way = pick(design.ways);
      const id = `x${round}-${i}`;
      const part = newPart(design, pick(kinds), pick(['series', 'shunt'] as const), id);
      const next = joinedWithNext(
        way,
        pick(way.parts)?.id,
        pick(['series', 'parallel'] as const),
        `g${i}`,
      );
      design = applyChange(
        design,
        pick([
          { type: 'addPart', wayId: way.id, index: Math.floor(random() * way.parts.length), part },
          next ? arrangeWay(way.id, next) : { type: 'renameDesign', name: 'x' },
          { type: 'editWay', id: way.id, set: { from: pick(startsFor(design, way.id)) } },
          {
            type: 'addBridge',
            bridge: {
              part: { ...part, place: 'series' },
              a: pick(allPlaces(design)),
              b: pick(allPlaces(design)),
            },
          },
        ] as const),
      );
    }
    const { design: other } = again(design);
    expectSame(design, other);
    expect(partsOf(other).length).toBeLessThanOrEqual(partsOf(design).length);
  }
});

test.each([
  ['no driver', 'x\nv1 1 0 AC 1\nr1 1 0 8\n', 'netlist_without_ends'],
  ['no amplifier', 'x\nr1 1 0 8\nrd 1 0 8\n', 'netlist_without_ends'],
  ['an endless netlist', `x\n${'r1 1 0 1\n'.repeat(400)}`, 'netlist_too_long'],
  ['a floating source', 'x\nv1 1 2 AC 1\nr1 2 0 8\nrd 1 0 8\n', 'netlist_source_not_grounded'],
  ['a floating node', 'x\nv1 1 0 AC 1\nrd 1 0 8\nr2 7 8 1\n', 'floating_node'],
  ['a negative value', 'x\nv1 1 0 AC 1\nrd 1 0 8\nr2 1 0 -1\n', 'value_not_positive'],
  ['a value beyond all', 'x\nv1 1 0 AC 1\nrd 1 0 8\nr1 1 2 1\nl2 2 0 4k\n', 'netlist_not_a_design'],
  [
    'a driver between two amplifiers',
    'x\nv1 1 0 AC 1\nv2 2 0 AC 1\nra 1 0 8\nrd 1 2 8\n',
    'netlist_driver_between_rails',
  ],
])('%s is told', (_name, deck, code) => {
  const names = code === 'netlist_driver_between_rails' ? ['ra', 'rd'] : ['rd'];
  const drivers = new Map(
    _name === 'no driver' ? [] : names.map((name, i) => [name, demo.drivers[i].id]),
  );
  try {
    railsFromNetlist(readSpice(deck, 'deck.cir').netlist, drivers, demo, counter());
    throw new Error('nothing was found');
  } catch (error) {
    expect((error as ProblemError).problem.code).toBe(code);
  }
});

test('what no amplifier reaches is told and left out', () => {
  const deck = 'x\nv1 1 0 AC 1\nr1 1 2 1\nrd 2 0 8\nr3 3 0 1\nc3 3 0 1u\n';
  const { design, warnings } = railsFromNetlist(
    readSpice(deck, 'deck.cir').netlist,
    new Map([['rd', 'woofer']]),
    demo,
    counter(),
  );
  expect(warnings).toEqual([
    'r3 is not reached by any amplifier.',
    'c3 is not reached by any amplifier.',
  ]);
  expect(partsOf(design).map(({ name }) => name)).toEqual(['R1']);
});

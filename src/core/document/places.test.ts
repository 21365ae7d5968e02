import { readDemo } from '../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import { arrangeWay, type Change } from '@/core/editing/change';
import { newPart } from '@/core/editing/newPart';
import { allPlaces, nodeInWords, nodeKey, placeAt, startsFor } from './places';
import { designSchema, plainWay, type Design, type NodeRef } from './schema';

const { design: demo } = readDemo();
const done = (design: Design, ...changes: Change[]) => {
  const next = changes.reduce(applyChange, design);
  expect(designSchema.parse(next)).toEqual(next);
  return next;
};
const wayFrom = (id: string, from: NodeRef): Change => ({
  type: 'addWay',
  way: { ...plainWay, id, name: id, from },
});
const [woofer, midrange, tweeter] = demo.ways;
const idOf = (name: string) =>
  demo.ways.flatMap(({ parts }) => parts).find((part) => part.name === name)!.id;
const fromOf = (design: Design, id: string) => design.ways.find((way) => way.id === id)!.from;

describe('places in words', () => {
  test.each<readonly [NodeRef, string]>([
    [{ kind: 'ground' }, 'ground'],
    [{ kind: 'terminals', pairId: 'terminals' }, 'the terminals'],
    [{ kind: 'start', wayId: woofer.id }, 'the start of Woofer'],
    [{ kind: 'return', wayId: tweeter.id }, 'the return of Tweeter'],
    [{ kind: 'after', partId: idOf('L3') }, 'behind L3 of Midrange'],
    [{ kind: 'after', partId: 'gone' }, 'behind ? of ?'],
    [{ kind: 'end', wayId: 'gone' }, 'the end of ?'],
  ])('%j is %s', (node, words) => expect(nodeInWords(demo, node)).toBe(words));

  test('a pair is named once there are several', () => {
    const two = done(demo, {
      type: 'setTerminals',
      terminals: [demo.terminals[0], { id: 'upper', name: 'Upper', gainDb: 0, polarity: 'normal' }],
      isJoined: false,
    });
    expect(nodeInWords(two, { kind: 'terminals', pairId: 'upper' })).toBe('the pair Upper');
  });
});

test('every place of a design is listed once, under a key of its own', () => {
  const branched = done(demo, wayFrom('branch', { kind: 'after', partId: idOf('L3') }));
  const keys = allPlaces(branched).map(nodeKey);
  expect(new Set(keys).size).toBe(keys.length);
  expect(keys).toContain('terminals terminals');
  expect(keys).toContain(`after ${idOf('L3')}`);
  expect(keys).toContain('start branch');
  // What is at the terminals starts there, and nothing is behind a part in shunt.
  expect(keys).not.toContain(`start ${woofer.id}`);
  expect(keys).not.toContain(`after ${idOf('C1')}`);
});

test('inside a group that is in series only the last member has a place behind it', () => {
  const members = midrange.parts.filter(({ place }) => place === 'series').slice(0, 2);
  const groups = [{ id: 'group', join: 'parallel' as const, parentId: null }];
  const parts = [
    ...members.map((part) => ({ ...part, groupId: 'group' })),
    ...midrange.parts.filter((part) => !members.includes(part)),
  ];
  const keys = allPlaces(done(demo, arrangeWay(midrange.id, { parts, groups }))).map(nodeKey);
  expect(keys).not.toContain(`after ${members[0].id}`);
  expect(keys).toContain(`after ${members[1].id}`);
});

test('a way may not start on itself, nor on what is connected to it', () => {
  const chain = done(
    demo,
    wayFrom('branch', { kind: 'after', partId: idOf('L3') }),
    wayFrom('twig', { kind: 'end', wayId: 'branch' }),
  );
  const keys = startsFor(chain, midrange.id).map(nodeKey);
  for (const own of [`after ${idOf('L3')}`, 'end branch', 'return twig'])
    expect(keys).not.toContain(own);
  expect(keys).toContain(`end ${tweeter.id}`);
  expect(startsFor(chain, 'twig').map(nodeKey)).toContain('end branch');
});

test('the place before an index is behind the part in series before it', () => {
  expect(placeAt(midrange, 0)).toEqual({ kind: 'terminals', pairId: 'terminals' });
  const at = midrange.parts.findIndex(({ name }) => name === 'L2');
  expect(placeAt(midrange, at + 1)).toEqual({ kind: 'after', partId: idOf('C2') });
  const stacked = { ...midrange, from: { kind: 'return', wayId: woofer.id } as const };
  expect(placeAt(stacked, 0)).toEqual({ kind: 'start', wayId: midrange.id });
});

describe('after a change places are sound', () => {
  const branched = done(demo, wayFrom('branch', { kind: 'after', partId: idOf('L3') }));

  test('what was behind a part that is gone is behind what is before it', () => {
    const left = done(branched, { type: 'removePart', id: idOf('L3') });
    expect(fromOf(left, 'branch')).toEqual({ kind: 'after', partId: idOf('C2') });
    const bare = done(left, { type: 'removePart', id: idOf('C2') });
    expect(fromOf(bare, 'branch')).toEqual({ kind: 'start', wayId: midrange.id });
  });

  test('what was behind a part that went to another way stays where it was', () => {
    const moved = midrange.parts.find(({ name }) => name === 'L3')!;
    const left = done(branched, {
      type: 'arrangeWays',
      contents: new Map([
        [
          midrange.id,
          { parts: midrange.parts.filter((part) => part !== moved), groups: midrange.groups },
        ],
        [tweeter.id, { parts: [...tweeter.parts, moved], groups: tweeter.groups }],
      ]),
    });
    expect(fromOf(left, 'branch')).toEqual({ kind: 'after', partId: idOf('C2') });
  });

  test('what was connected to a way that is gone is where that way started', () => {
    const twig = done(branched, wayFrom('twig', { kind: 'return', wayId: 'branch' }));
    const left = done(twig, { type: 'removeWay', id: 'branch' });
    expect(fromOf(left, 'twig')).toEqual({ kind: 'after', partId: idOf('L3') });
    const none = done(left, { type: 'removeWay', id: midrange.id });
    expect(fromOf(none, 'twig')).toEqual({ kind: 'terminals', pairId: 'terminals' });
  });

  test('bridges are moved as ways are', () => {
    const part = newPart(branched, 'resistor', 'series', 'bridge');
    const bridged = done(branched, {
      type: 'addBridge',
      bridge: { part, a: { kind: 'after', partId: idOf('L3') }, b: { kind: 'ground' } },
    });
    const [bridge] = done(bridged, { type: 'removePart', id: idOf('L3') }).bridges;
    expect([bridge.a, bridge.b]).toEqual([
      { kind: 'after', partId: idOf('C2') },
      { kind: 'ground' },
    ]);
  });

  test('what was at a pair that is gone is at the first', () => {
    const upper = { id: 'upper', name: 'Upper', gainDb: 0, polarity: 'normal' } as const;
    const two = done(
      demo,
      { type: 'setTerminals', terminals: [...demo.terminals, upper], isJoined: false },
      { type: 'editWay', id: tweeter.id, set: { from: { kind: 'terminals', pairId: 'upper' } } },
    );
    const one = done(two, {
      type: 'setTerminals',
      terminals: demo.terminals,
      isJoined: false,
    });
    expect(fromOf(one, tweeter.id)).toEqual({ kind: 'terminals', pairId: 'terminals' });
    expect(done(one, { type: 'setTerminals', terminals: [], isJoined: true })).toEqual(one);
  });
});

import { partValue } from '@/core/document/partKinds';
import { readDemo } from '../../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import { designSchema, endAt, plainWay } from '@/core/document/schema';
import type { Desk } from '@/desk/desk';
import type { Selection } from '@/desk/deskState';
import { createEdits } from './networkEdits';
import { steppedValue } from './nudge';

// Focus goes to the drawing a moment after an edit; here there is none, and the moment never comes.
jest.useFakeTimers();

/** The part of a desk that the edits use. */
function bench() {
  const state = {
    design: readDemo().design,
    selection: null as Selection | null,
    labels: [] as string[],
  };
  const desk = {
    store: { getState: () => state },
    change: (change: Change, label: string) => {
      state.design = applyChange(state.design, change);
      state.labels.push(label);
    },
    select: (selection: Selection | null) => (state.selection = selection),
  } as unknown as Desk;
  const rail = (index: number) =>
    state.design.ways[index].parts
      .map(({ name, place }) => (place === 'series' ? name : `(${name})`))
      .join(' ');
  return { edits: createEdits(desk), state, rail };
}

const part = (id: string) => ({ kind: 'part', id }) as const;
const way = (id: string) => ({ kind: 'way', id }) as const;

test('a part is added after a part, in a gap, or before the driver, and is chosen then', () => {
  const { edits, state, rail } = bench();
  edits.addAt(part('l1'), 'resistor', 'series');
  expect(rail(0)).toBe('L1 R4 (C1)');
  edits.addAt({ kind: 'gap', wayId: 'way-woofer', index: 0 }, 'capacitor', 'shunt');
  expect(rail(0)).toBe('(C5) L1 R4 (C1)');
  edits.addAt(way('way-woofer'), 'coil', 'series');
  expect(rail(0)).toBe('(C5) L1 R4 (C1) L5');
  expect(state.selection).toEqual(part(state.design.ways[0].parts[4].id));
  expect(state.labels).toEqual(['add R4', 'add C5', 'add L5']);
  edits.addAt(part('gone'), 'coil', 'series');
  expect(state.labels).toHaveLength(3);
});

test('nudging walks along E24, with Alt along E96, and stops at the limits', () => {
  const { edits, state } = bench();
  const value = () => partValue(state.design.ways[0].parts[0]);
  edits.nudge(part('l1'), 1, false);
  expect(value()).toBe(3.6e-3);
  edits.nudge(part('l1'), -2, false);
  expect(value()).toBe(3e-3);
  edits.nudge(part('l1'), 1, true);
  expect(value()).toBe(3.01e-3);
  edits.nudge(way('way-woofer'), 1, false);
  expect(value()).toBe(3.01e-3);
  const [coil] = state.design.ways[0].parts;
  expect(steppedValue(coil, 1000, false)).toBe(0.2);
  expect(steppedValue(coil, -1000, false)).toBe(1e-6);
});

test('parts move along their rail, not beyond its ends', () => {
  const { edits, rail } = bench();
  edits.moveAlong(part('l3'), -1);
  expect(rail(1)).toBe('C2 L3 (L2) (C3) R1');
  edits.moveAlong(part('l3'), -1);
  edits.moveAlong(part('l3'), -1);
  expect(rail(1)).toBe('L3 C2 (L2) (C3) R1');
  edits.moveAlong(part('r1'), 1);
  expect(rail(1)).toBe('L3 C2 (L2) (C3) R1');
});

test('removing chooses the neighbour, and the way at last', () => {
  const { edits, state, rail } = bench();
  edits.remove(part('l1'));
  expect([rail(0), state.selection]).toEqual(['(C1)', part('c1')]);
  edits.remove(part('c1'));
  expect([rail(0), state.selection]).toEqual(['', way('way-woofer')]);
  edits.remove(way('way-woofer'));
  expect([state.design.ways.length, state.selection]).toEqual([2, null]);
  edits.remove({ kind: 'gap', wayId: 'way-tweeter', index: 0 });
  expect(state.design.ways).toHaveLength(2);
});

test('turning, replacing and flipping', () => {
  const { edits, state, rail } = bench();
  edits.turn(part('c1'));
  expect(rail(0)).toBe('L1 C1');
  edits.turn(part('c1'));
  expect(rail(0)).toBe('L1 (C1)');
  edits.replace('c1', 'resistor');
  expect(rail(0)).toBe('L1 (R4)');
  edits.replace('c1', 'resistor');
  expect(state.labels.at(-1)).toBe('replace C1 by R4');
  edits.flip(part('c4'));
  edits.flip({ kind: 'gap', wayId: 'way-woofer', index: 0 });
  edits.flip(way('way-woofer'));
  expect(state.design.ways.map(({ polarity }) => polarity)).toEqual([
    'normal',
    'normal',
    'reversed',
  ]);
});

test('a way is added for a driver, or empty', () => {
  const { edits, state } = bench();
  edits.addWay({ id: 'tweeter', name: 'Tweeter' });
  edits.addWay();
  expect(state.design.ways.slice(3)).toMatchObject([
    { name: 'Tweeter', ends: [endAt('tweeter')] },
    { name: 'Way 5', ends: [] },
  ]);
});

test('parts are joined with what follows and taken apart; at the end of a rail nothing happens', () => {
  const { edits, state, rail } = bench();
  edits.joinNext(part('l2'), 'parallel');
  // L2 hung in shunt: what it is joined with hangs there too.
  expect(rail(1)).toBe('C2 (L2) (L3) (C3) R1');
  expect(state.design.ways[1].groups).toHaveLength(1);
  edits.moveAlong(part('l3'), -1);
  expect(rail(1)).toBe('(L2) (L3) C2 (C3) R1');
  edits.turn(part('l3'));
  expect(rail(1)).toBe('L2 L3 C2 (C3) R1');
  edits.ungroup(part('l2'));
  expect(state.design.ways[1].groups).toEqual([]);
  edits.ungroup(part('l2'));
  edits.joinNext(part('r1'), 'series');
  expect(state.labels).toEqual([
    'join L2 in parallel with the next',
    'move L3',
    'put L3 in series',
    'take L2 out of its group',
  ]);
});

test('a part in a group that is replaced stays in it', () => {
  const { edits, state } = bench();
  edits.joinNext(part('l3'), 'parallel');
  edits.replace('c3', 'resistor');
  const [group] = state.design.ways[1].groups;
  expect(state.design.ways[1].parts.find(({ id }) => id === 'c3')).toMatchObject({
    kind: 'resistor',
    groupId: group.id,
  });
});

test('parts are left out, locked and freed; what is locked or tied is not nudged', () => {
  const { edits, state } = bench();
  const coil = () => state.design.ways[0].parts[0];
  edits.switchPart(part('l1'));
  edits.free(part('l1'));
  edits.lock(part('l1'));
  expect(coil()).toMatchObject({ isOff: true, isLocked: true, fit: { isFree: true } });
  const value = partValue(coil());
  edits.nudge(part('l1'), 1, false);
  expect(partValue(coil())).toBe(value);
  edits.lock(part('l1'));
  edits.nudge(part('l1'), 1, false);
  expect(partValue(coil())).toBeGreaterThan(value);
  edits.switchPart(part('l1'));
  edits.free(part('l1'));
  expect(coil()).toMatchObject({ isOff: false, fit: { isFree: false } });
  expect(state.labels).toContain('exclude L1');
  expect(state.labels).toContain('include L1');
});

test('the filter of one way is copied in the place of another’s, under names of its own', () => {
  const { edits, state, rail } = bench();
  const [woofer, , tweeter] = state.design.ways;
  edits.joinNext(part('l1'), 'series');
  edits.copyFilter(state.design.ways[0], tweeter);
  // The tweeter's own names became free and are used again.
  expect(rail(2)).toBe('L4 C4');
  expect(state.design.ways[2].groups).toHaveLength(1);
  expect(partValue(state.design.ways[2].parts[0])).toBe(partValue(woofer.parts[0]));
  const ids = state.design.ways.flatMap(({ parts }) => parts.map(({ id }) => id));
  expect(new Set(ids).size).toBe(ids.length);
});

test('a part goes to the rail above or below with its group, and not beyond the last', () => {
  const { edits, state, rail } = bench();
  edits.joinNext(part('l2'), 'parallel');
  edits.moveAcross(part('l2'), -1);
  expect([rail(0), rail(1)]).toEqual(['L1 (C1) (L2) (L3)', 'C2 (C3) R1']);
  expect(state.design.ways[0].groups).toHaveLength(1);
  expect(state.design.ways[1].groups).toHaveLength(0);
  edits.moveAcross(part('l2'), -1);
  edits.moveAcross(part('c4'), 1);
  edits.moveAcross(way('way-woofer'), 1);
  expect(state.labels.at(-1)).toBe('move L2 to Woofer');
});

test('two parts change places and keep what they are', () => {
  const { edits, rail, state } = bench();
  edits.swap('l1', 'c3');
  expect([rail(0), rail(1)]).toEqual(['C3 (C1)', 'C2 (L2) L3 (L1) R1']);
  expect(partValue(state.design.ways[0].parts[0])).toBe(8.2e-6);
  edits.swap('l1', 'gone');
  expect(state.labels).toHaveLength(1);
});

test('a bridge spans what is chosen', () => {
  const { edits, state } = bench();
  const terminals = plainWay.from;
  for (const [chosen, a, b] of [
    [part('l3'), { kind: 'after', partId: 'c2' }, { kind: 'after', partId: 'l3' }],
    [part('c2'), terminals, { kind: 'after', partId: 'c2' }],
    [part('l2'), { kind: 'after', partId: 'c2' }, { kind: 'end', wayId: 'way-midrange' }],
    [way('way-tweeter'), terminals, { kind: 'end', wayId: 'way-tweeter' }],
    [
      { kind: 'gap', wayId: 'way-midrange', index: 3 },
      { kind: 'after', partId: 'l3' },
      { kind: 'end', wayId: 'way-midrange' },
    ],
  ] as const) {
    edits.addBridge(chosen);
    expect(state.design.bridges.at(-1)).toMatchObject({ a, b });
    expect(designSchema.parse(state.design)).toEqual(state.design);
  }
  const { id } = state.design.bridges[0].part;
  expect(state.design.bridges.map((one) => one.part.name)).toEqual(['C5', 'C6', 'C7', 'C8', 'C9']);
  edits.nudge(part(id), 1, false);
  edits.lock(part(id));
  expect(state.design.bridges[0].part).toMatchObject({ farads: 11e-6, isLocked: true });
  edits.turn(part(id));
  edits.moveAlong(part(id), 1);
  edits.remove(part(id));
  expect(state.design.bridges).toHaveLength(4);
  expect(state.selection).toBeNull();
});

test('a twin driver has the same measurements and a place of its own', () => {
  const { edits, state } = bench();
  edits.addTwin(state.design.ways[0]);
  const [model, twin] = [state.design.drivers[0], state.design.drivers[3]];
  expect(twin).toEqual({
    ...model,
    id: twin.id,
    name: 'Woofer 2',
    position: { ...model.position, yMm: model.position.yMm - 200 },
  });
  expect(state.design.ways[0].ends.map(({ driverId }) => driverId)).toEqual([model.id, twin.id]);
});

describe('copies', () => {
  const kept = new Map<string, string>();
  beforeAll(() => {
    Object.assign(globalThis, {
      sessionStorage: {
        getItem: (key: string) => kept.get(key) ?? null,
        setItem: (key: string, text: string) => kept.set(key, text),
      },
    });
  });
  beforeEach(() => kept.clear());

  test('a filter taken along replaces that of another way, with names of its own', () => {
    const { edits, state, rail } = bench();
    edits.paste(way('way-woofer'));
    edits.copy(way('way-midrange'));
    edits.paste(way('way-woofer'));
    expect([rail(0), rail(1)]).toEqual(['C1 (L1) L5 (C5) R4', 'C2 (L2) L3 (C3) R1']);
    expect(designSchema.parse(state.design)).toEqual(state.design);
    expect(state.labels).toEqual(['put a copied filter on Woofer']);
  });

  test('a group taken along goes after a part or into a gap, also of another design', () => {
    const { edits } = bench();
    edits.joinNext(part('l2'), 'parallel');
    edits.copy(part('l3'));
    const other = bench();
    other.edits.paste(part('l1'));
    other.edits.paste({ kind: 'gap', wayId: 'way-woofer', index: 0 });
    expect(other.rail(0)).toBe('(L7) (L8) L1 (L5) (L6) (C1)');
    expect(designSchema.parse(other.state.design)).toEqual(other.state.design);
  });

  test('what is no copy is not put down', () => {
    const { edits, state } = bench();
    kept.set('fair-voicing copied parts', '{"parts":[{"kind":"spell"}],"groups":[]}');
    edits.paste(way('way-woofer'));
    expect(state.labels).toEqual([]);
  });
});

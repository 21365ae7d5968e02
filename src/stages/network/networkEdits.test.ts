import { readDemo } from '../../../tests/fixtures';
import { applyChange, type Change } from '@/core/design/changes';
import { endAt } from '@/core/design/schema';
import { partValue } from '@/core/design/partValue';
import type { Desk } from '@/desk/desk';
import type { Selection } from '@/desk/deskState';
import { createEdits, steppedValue } from './networkEdits';

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
  expect(state.labels).toContain('leave out L1');
  expect(state.labels).toContain('take in L1');
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

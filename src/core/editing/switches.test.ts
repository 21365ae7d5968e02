import { readDemo } from '../../../tests/fixtures';
import { applyChange } from './applyChange';
import { newPart } from './newPart';
import { createPredictor } from '@/core/prediction/predict';
import {
  designSchema,
  partsOf,
  type Design,
  type DesignSwitch,
  type SwitchSetting,
} from '@/core/document/schema';
import { lowestEquivalentOhms } from '@/core/prediction/figures';
import { sideBySide } from '@/core/insight/sideBySide';
import { memberOf, withMember, withoutMember, withPosition } from './switches';

const { design: demo, data } = readDemo();
const position = (id: string) => ({ id, name: id.toUpperCase(), settings: [] });
const treble: DesignSwitch = {
  id: 'treble',
  name: 'Treble',
  positions: [position('plain'), position('soft')],
  chosenId: 'plain',
};
const put = (design: Design, one: DesignSwitch) =>
  applyChange(design, { type: 'setSwitch', switch: one });
const turn = (design: Design, positionId: string) =>
  applyChange(design, { type: 'turnSwitch', id: 'treble', positionId });
const partIn = (design: Design, id: string) => partsOf(design).find((part) => part.id === id)!;
const members: [SwitchSetting['kind'], string][] = [
  ['part', 'r2'],
  ['part', 'l4'],
  ['driver', 'midrange'],
  ['way', 'way-tweeter'],
];
const switched = put(
  demo,
  members.reduce((one, [kind, id]) => withMember(demo, one, kind, id), treble),
);

test('what is changed in one position stays there, and the other is found again', () => {
  const soft = [
    { type: 'setPartValue', id: 'r2', value: 3.9 },
    { type: 'editPart', id: 'l4', set: { isOff: true } },
    { type: 'setPartLoss', id: 'l4', seriesOhms: 0.7 },
    { type: 'editDriver', id: 'midrange', set: { position: { xMm: 5, yMm: 6, zMm: 7 } } },
    { type: 'editWay', id: 'way-tweeter', set: { polarity: 'reversed' } },
  ] as const;
  const there = soft.reduce<Design>(applyChange, turn(switched, 'soft'));
  const back = turn(there, 'plain');
  expect(back.ways).toEqual(demo.ways);
  expect(back.drivers).toEqual(demo.drivers);
  const again = turn(back, 'soft');
  expect(again.ways).toEqual(there.ways);
  expect(again.drivers).toEqual(there.drivers);
  expect(partIn(again, 'r2')).toMatchObject({ ohms: 3.9 });
  for (const design of [there, back, again]) expect(designSchema.parse(design)).toEqual(design);
});

test('a position that is not there, or is chosen already, changes nothing', () => {
  expect(turn(switched, 'plain')).toBe(switched);
  expect(turn(switched, 'loud')).toBe(switched);
  expect(applyChange(demo, { type: 'turnSwitch', id: 'none', positionId: 'a' })).toBe(demo);
});

test('a third position begins as everything is now', () => {
  const nudged = applyChange(switched, { type: 'setPartValue', id: 'r2', value: 2.7 });
  const three = put(nudged, withPosition(nudged, nudged.switches[0], 'bright', 'Bright'));
  expect(partIn(turn(three, 'bright'), 'r2')).toMatchObject({ ohms: 2.7 });
  expect(partIn(turn(three, 'soft'), 'r2')).toMatchObject({ ohms: 1.8 });
});

test('a switch lets go of what is taken away, and of a part that becomes another kind', () => {
  expect(memberOf(switched, 'part', 'r2')?.id).toBe('treble');
  for (const change of [
    { type: 'removePart', id: 'r2' },
    { type: 'replacePart', part: newPart(demo, 'coil', 'series', 'r2') },
    { type: 'setSwitch', switch: withoutMember(switched.switches[0], 'part', 'r2') },
  ] as const) {
    const design = applyChange(switched, change);
    expect(memberOf(design, 'part', 'r2')).toBeUndefined();
    expect(memberOf(design, 'driver', 'midrange')?.id).toBe('treble');
    expect(designSchema.parse(design)).toEqual(design);
  }
  expect(applyChange(switched, { type: 'removeSwitch', id: 'treble' })).toEqual(demo);
});

test('what one switch sets can go to another', () => {
  const other = {
    ...treble,
    id: 'other',
    positions: [position('a'), position('b')],
    chosenId: 'a',
  };
  const released = put(switched, withoutMember(switched.switches[0], 'part', 'r2'));
  // The design is still the one before the first switch let go: what counts is the switch itself.
  const moved = put(released, withMember(switched, other, 'part', 'r2'));
  expect(memberOf(moved, 'part', 'r2')?.id).toBe('other');
  expect(designSchema.parse(moved)).toEqual(moved);
});

test('side by side every position is predicted as if it were chosen', () => {
  const design = applyChange(switched, { type: 'setPartValue', id: 'r2', value: 4.7 });
  const predict = createPredictor();
  const all = sideBySide(design, data, predict);
  expect(all.map(({ name, isChosen }) => [name, isChosen])).toEqual([
    ['Treble: PLAIN', true],
    ['Treble: SOFT', false],
  ]);
  expect(all[0].sumDb).toEqual(predict(design, data).sum!.levelDb);
  expect(all[1].sumDb).toEqual(predict(demo, data).sum!.levelDb);
  expect(all[1].lowestOhms).toBe(predict(demo, data).summary.lowestImpedance!.ohms);
  expect(all[1].equivalentOhms).toBe(lowestEquivalentOhms(predict(demo, data))!.value);
  expect(all[0].deviationDb).not.toBe(all[1].deviationDb);
});

test.each<[string, (one: DesignSwitch) => unknown, RegExp]>([
  ['a position that it does not have', (one) => (one.chosenId = 'x'), /does not have/],
  [
    'positions that set different things',
    (one) => one.positions[0].settings.pop(),
    /do not set the same/,
  ],
  [
    'something that is not there',
    (one) => one.positions.forEach(({ settings }) => (settings[0].id = 'gone')),
    /not there/,
  ],
])('a switch with %s is refused', (_name, edit, message) => {
  const design = structuredClone(switched);
  edit(design.switches[0]);
  expect(() => designSchema.parse(design)).toThrow(message);
});

test('two switches may not set the same thing', () => {
  const other = {
    ...switched.switches[0],
    id: 'other',
    positions: switched.switches[0].positions.map((one) => ({ ...one, id: `${one.id}-2` })),
    chosenId: 'plain-2',
  };
  expect(() => designSchema.parse(put(switched, other))).toThrow(/the same thing/);
});

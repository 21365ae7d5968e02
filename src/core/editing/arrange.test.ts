import { readDemo, seededRandom } from '../../../tests/fixtures';
import { copied, dissolved, inserted, joinedWithNext, movedAlong, placed, tidied } from './arrange';
import { applyChange } from './applyChange';
import { arrangeWay } from './change';
import { newPart } from './newPart';
import { groupChain, partsIn, positionsOf, type Branch } from '@/core/document/positions';
import { designSchema, plainPart, plainWay, type Part, type Way } from '@/core/document/schema';

const part = (name: string, place: Part['place'] = 'series'): Part => ({
  ...plainPart,
  kind: 'resistor',
  id: name.toLowerCase(),
  name,
  place,
  ohms: 1,
});
const rail = (...names: string[]): Way => ({
  ...plainWay,
  id: 'way',
  name: 'Way',
  parts: names.map((name) => part(name)),
});

/**
 * "R1 (R2 | R3)": what is connected to the rail, series members joined by "-", parallel ones by
 * "|".
 */
const told = (way: Pick<Way, 'parts' | 'groups'>): string => {
  const words = (branch: Branch): string =>
    branch.kind === 'part'
      ? branch.part.name
      : `(${branch.members.map(words).join(branch.group.join === 'series' ? ' - ' : ' | ')})`;
  return positionsOf(way)
    .map(({ branch }) => words(branch))
    .join(' ');
};

test('parts are joined to groups, groups to greater ones, and all is taken apart again', () => {
  const way = rail('R1', 'R2', 'R3', 'R4');
  const two = joinedWithNext(way, 'r2', 'parallel', 'g1')!;
  expect(told(two)).toBe('R1 (R2 | R3) R4');
  const three = joinedWithNext(two, 'r1', 'parallel', 'g2')!;
  expect(told(three)).toBe('(R1 | R2 | R3) R4');
  const nested = joinedWithNext(two, 'r1', 'series', 'g2')!;
  expect(told(nested)).toBe('(R1 - (R2 | R3)) R4');
  expect(groupChain(nested, nested.parts[1]).map(({ id }) => id)).toEqual(['g2', 'g1']);
  expect(told(dissolved(nested, 'g2'))).toBe('R1 (R2 | R3) R4');
  expect(told(dissolved(nested, 'g1'))).toBe('(R1 - R2 - R3) R4');
  expect(joinedWithNext(way, 'r4', 'series', 'g')).toBeNull();
  // Inside a group its own members are joined, not what is behind it.
  expect(joinedWithNext(two, 'r3', 'series', 'g')).toBeNull();
});

test('a joined part takes the place of the others', () => {
  const way = { ...rail('R1'), parts: [part('R1', 'shunt'), part('R2', 'series')] };
  const both = joinedWithNext(way, 'r1', 'series', 'g')!;
  expect(both.parts.map(({ place }) => place)).toEqual(['shunt', 'shunt']);
  expect(placed(both, 'r2', 'series').parts.map(({ place }) => place)).toEqual([
    'series',
    'series',
  ]);
});

test('moving takes the whole group along; at the ends there is nowhere to go', () => {
  const way = { ...rail(), ...joinedWithNext(rail('R1', 'R2', 'R3'), 'r2', 'parallel', 'g')! };
  expect(told(movedAlong(way, 'r3', -1)!)).toBe('(R2 | R3) R1');
  expect(told(movedAlong(way, 'r1', 1)!)).toBe('(R2 | R3) R1');
  expect(movedAlong(way, 'r1', -1)).toBeNull();
  expect(movedAlong(way, 'r3', 1)).toBeNull();
});

test('a part put between two of a group belongs to it; at its edge it does not', () => {
  const way = joinedWithNext(rail('R1', 'R2', 'R3'), 'r2', 'parallel', 'g')!;
  expect(told(inserted(way, 2, part('R9', 'shunt')))).toBe('R1 (R2 | R9 | R3)');
  expect(told(inserted(way, 1, part('R9')))).toBe('R1 R9 (R2 | R3)');
  expect(told(inserted(way, 0, part('R9')))).toBe('R9 R1 (R2 | R3)');
});

test('groups that have become poor are no groups any more', () => {
  const nested = joinedWithNext(
    joinedWithNext(rail('R1', 'R2', 'R3'), 'r2', 'parallel', 'g1')!,
    'r1',
    'series',
    'g2',
  )!;
  const left = tidied({ ...nested, parts: nested.parts.filter(({ id }) => id !== 'r2') });
  expect(told(left)).toBe('(R1 - R3)');
  expect(told(tidied({ ...left, parts: left.parts.slice(1) }))).toBe('R3');
});

test.each([1, 2, 3, 4, 5, 6])('whatever is done, the document stays sound (seed %i)', (seed) => {
  const random = seededRandom(seed);
  let { design } = readDemo();
  for (let i = 0; i < 120; i++) {
    const way = design.ways[Math.floor(random() * design.ways.length)];
    if (way.parts.length === 0) continue;
    const { id, place } = way.parts[Math.floor(random() * way.parts.length)];
    const join = random() < 0.5 ? 'series' : 'parallel';
    const tries = [
      () => joinedWithNext(way, id, join, `g${i}`),
      () => movedAlong(way, id, random() < 0.5 ? 1 : -1),
      () => placed(way, id, place === 'series' ? 'shunt' : 'series'),
      () => (way.groups.length > 0 ? tidied(dissolved(way, way.groups[0].id)) : null),
    ];
    const contents = tries[Math.floor(random() * tries.length)]();
    if (contents) design = applyChange(design, arrangeWay(way.id, contents));
    if (i % 9 === 0) design = applyChange(design, { type: 'removePart', id });
    if (i % 4 === 0)
      design = applyChange(design, {
        type: 'addPart',
        wayId: way.id,
        index: Math.floor(random() * way.parts.length),
        part: newPart(design, 'coil', 'series', `p${i}`),
      });
    const result = designSchema.safeParse(design);
    expect(result.error?.issues[0]).toBeUndefined();
    for (const one of design.ways)
      expect(positionsOf(one).flatMap(({ branch }) => partsIn(branch))).toEqual(one.parts);
  }
});

test('a copied filter has the same values and groups under new names', () => {
  const way = { ...rail(), ...joinedWithNext(rail('R1', 'R2', 'R3'), 'r2', 'parallel', 'g')! };
  let count = 0;
  const copy = copied(way, new Set(['R1', 'R2', 'R3', 'R5']), () => `new${count++}`);
  expect(told({ ...way, ...copy })).toBe('R4 (R6 | R7)');
  expect(new Set(copy.parts.map(({ id }) => id)).size).toBe(3);
  expect(copy.parts.map((one) => 'ohms' in one && one.ohms)).toEqual([1, 1, 1]);
});

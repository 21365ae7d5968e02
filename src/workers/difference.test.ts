import { applyChange } from '@/core/editing/applyChange';
import { readDemo } from '../../tests/fixtures';
import { differenceOf, withDifference } from './difference';

/** As it arrives in another thread: nothing of it is the same object. */
const sent = <T>(value: T): T => structuredClone(value);

test('a nudge sends one number, and the other thread keeps every other object', () => {
  const { design } = readDemo();
  const part = design.ways[0].parts[0];
  const after = applyChange(design, { type: 'setPartValue', id: part.id, value: 3e-3 });
  const there = sent(design);
  const difference = sent(differenceOf(design, after));
  expect(JSON.stringify(difference).length).toBeLessThan(400);
  const arrived = withDifference(there, difference) as typeof design;
  expect(arrived).toEqual(after);
  expect(arrived.ways[0]).not.toBe(there.ways[0]);
  expect(arrived.ways[1]).toBe(there.ways[1]);
  expect(arrived.brief).toBe(there.brief);
  expect(there).toEqual(design);
});

test.each<[string, unknown, unknown]>([
  ['nothing before', null, { a: 1 }],
  ['nothing changed', { a: [1, { b: null }] }, { a: [1, { b: null }] }],
  ['a longer list', { a: [1, 2] }, { a: [1, 2, 3] }],
  ['a field more', { a: 1 }, { a: 1, b: 2 }],
  ['a field less', { a: 1, b: 2 }, { b: 2 }],
  ['a field of another name', { a: 1 }, { b: 1 }],
  ['a list for an object', { a: { 0: 1 } }, { a: [1] }],
  ['an object for null', { a: null }, { a: {} }],
  ['null for an object', { a: {} }, { a: null }],
  ['a negative nought', { a: 0 }, { a: -0 }],
  ['text in a list of lists', [[['x']], []], [[['y']], []]],
])('%s arrives as it is', (_, before, after) => {
  const arrived = withDifference(sent(before), sent(differenceOf(before, after)));
  expect(arrived).toStrictEqual(after);
});

test('the same document is the same object', () => {
  const before = { a: [1] };
  expect(withDifference(before, differenceOf(before, before))).toBe(before);
});

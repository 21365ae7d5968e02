import { createMemory } from './memory';

/** Counts how often something is worked out. */
function counting() {
  let count = 0;
  return { compute: () => ++count, count: () => count };
}

test('the same inputs are not worked out twice; others are', () => {
  const remember = createMemory<number>();
  const { compute, count } = counting();
  const table = { a: 1 };
  expect(remember('x', [table, 3, 'b'], compute)).toBe(1);
  expect(remember('x', [table, 3, 'b'], compute)).toBe(1);
  expect(remember('x', [table, 4, 'b'], compute)).toBe(2);
  // Only the last is kept: going back is worked out again.
  expect(remember('x', [table, 3, 'b'], compute)).toBe(3);
  expect(count()).toBe(3);
});

test('objects count by identity, as documents are never changed in place', () => {
  const remember = createMemory<number>();
  const { compute } = counting();
  remember('x', [{ a: 1 }], compute);
  expect(remember('x', [{ a: 1 }], compute)).toBe(2);
});

test('NaN is itself, 0 and −0 are two, and so are one input and two', () => {
  const remember = createMemory<number>();
  const { compute } = counting();
  expect(remember('x', [NaN], compute)).toBe(1);
  expect(remember('x', [NaN], compute)).toBe(1);
  expect(remember('x', [0], compute)).toBe(2);
  expect(remember('x', [-0], compute)).toBe(3);
  expect(remember('x', [-0, undefined], compute)).toBe(4);
  expect(remember('x', [], compute)).toBe(5);
});

test('subjects do not disturb each other, and a result may be nothing', () => {
  const remember = createMemory<number | null>();
  expect(remember('x', [1], () => null)).toBeNull();
  expect(remember('y', [1], () => 2)).toBe(2);
  expect(
    remember('x', [1], () => {
      throw new Error('worked out again');
    }),
  ).toBeNull();
});

test('whether something is known is asked without working it out', () => {
  const remember = createMemory<number>();
  expect(remember.has('x', [1])).toBe(false);
  remember('x', [1], () => 5);
  expect(remember.has('x', [1])).toBe(true);
  expect(remember.has('x', [2])).toBe(false);
  expect(remember.has('y', [1])).toBe(false);
});

test('what fails is not kept', () => {
  const remember = createMemory<number>();
  const fails = () => {
    throw new RangeError('no');
  };
  expect(() => remember('x', [1], fails)).toThrow('no');
  expect(remember.has('x', [1])).toBe(false);
  expect(remember('x', [1], () => 7)).toBe(7);
});

import { stepInStock, twoThatMake } from './stock';

test('a series is walked as it is everywhere', () => {
  expect(stepInStock(4.9e-6, 'E12', 0)).toBe(4.7e-6);
  expect(stepInStock(4.7e-6, 'E12', 1)).toBe(5.6e-6);
});

test('two members together come closer than one', () => {
  const stock = { twoOf: 'E12' } as const;
  for (const value of [1.07e-6, 7.4e-6, 0.0353, 9.13, 61.7, 415]) {
    const found = stepInStock(value, stock, 0);
    expect(Math.abs(Math.log(found / value))).toBeLessThan(0.016);
    const two = twoThatMake(found, 'E12');
    if (two) expect(two[0] + two[1]).toBeCloseTo(found, 9 - Math.floor(Math.log10(found)));
    else expect(stepInStock(found, 'E12', 0)).toBe(found);
  }
});

test('steps go to the neighbours, and back', () => {
  const stock = { twoOf: 'E12' } as const;
  let value = stepInStock(7.4e-6, stock, 0);
  for (let i = 0; i < 20; i++) {
    const up = stepInStock(value, stock, 1);
    expect(up).toBeGreaterThan(value);
    expect(up).toBeLessThan(value * 1.05);
    expect(stepInStock(up, stock, -1)).toBeCloseTo(value, 15);
    value = up;
  }
});

test('what one owns ends somewhere', () => {
  const stock = { owned: [1, 2.2, 10] };
  expect([0.3, 1.4, 1.6, 4, 6, 99].map((value) => stepInStock(value, stock, 0))).toEqual([
    1, 1, 2.2, 2.2, 10, 10,
  ]);
  expect(stepInStock(2.2, stock, 1)).toBe(10);
  expect(stepInStock(10, stock, 1)).toBe(10);
  expect(stepInStock(3, stock, -1)).toBe(2.2);
  expect(stepInStock(3, stock, 1)).toBe(10);
  expect(stepInStock(0.5, stock, -1)).toBe(1);
});

test('each piece that one owns is used once', () => {
  const stock = { owned: [1, 2.2, 2.2, 10] };
  expect(stepInStock(2.4, stock, 0, [2.2])).toBe(2.2);
  expect(stepInStock(2.4, stock, 0, [2.2, 2.2])).toBe(1);
  expect(stepInStock(1, stock, 1, [2.2, 2.2])).toBe(10);
  expect(stepInStock(99, stock, 0, [10])).toBe(2.2);
});

test('multiples of a step are walked one by one and never reach nought', () => {
  const stock = { stepOf: 0.05e-3 };
  expect(stepInStock(0.463e-3, stock, 0)).toBe(0.45e-3);
  expect(stepInStock(0.463e-3, stock, 1)).toBe(0.5e-3);
  expect(stepInStock(0.463e-3, stock, -1)).toBe(0.45e-3);
  expect(stepInStock(0.45e-3, stock, -1)).toBe(0.4e-3);
  expect(stepInStock(0.45e-3, stock, 3)).toBe(0.6e-3);
  expect(stepInStock(0.05e-3, stock, -1)).toBe(0.05e-3);
  expect(stepInStock(0.001e-3, stock, 0)).toBe(0.05e-3);
});

test('8.3 µF are 6.8 and 1.5; a member is itself; what no two make is nothing', () => {
  expect(twoThatMake(8.3e-6, 'E12')).toEqual([6.8e-6, 1.5e-6]);
  expect(twoThatMake(8.2e-6, 'E12')).toBeNull();
  expect(twoThatMake(8.2345e-6, 'E12')).toBeNull();
});

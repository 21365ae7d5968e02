import { firstIndexFrom, nearestIndex } from './nearest';

test('the nearest frequency is the one of the smallest ratio, ends included', () => {
  const grid = [100, 200, 400];
  // 283 Hz is the geometric middle of 200 and 400.
  expect([50, 141, 142, 200, 282, 284, 9000].map((hz) => nearestIndex(grid, hz))).toEqual([
    0, 0, 1, 1, 1, 2, 2,
  ]);
  expect(nearestIndex([100], 50)).toBe(0);
});

test('the first frequency that is no lower is found as a search one by one finds it', () => {
  const grid = [100, 200, 200, 400];
  const places = [99, 100, 101, 200, 201, 400, 401].map((hz) => firstIndexFrom(grid, hz));
  expect(places).toEqual([0, 0, 1, 1, 3, 3, 4]);
  expect(firstIndexFrom([], 100)).toBe(0);
});

import { nearestIndex } from './nearest';

test('the nearest frequency is the one of the smallest ratio, ends included', () => {
  const grid = [100, 200, 400];
  // 283 Hz is the geometric middle of 200 and 400.
  expect([50, 141, 142, 282, 284, 9000].map((hz) => nearestIndex(grid, hz))).toEqual([
    0, 0, 1, 1, 2, 2,
  ]);
});

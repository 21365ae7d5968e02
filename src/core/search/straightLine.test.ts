import { straightLine } from './straightLine';

test('a line is found again, whatever its points weigh and however far from zero they are', () => {
  const x = [1e6 + 1, 1e6 + 2, 1e6 + 4, 1e6 + 8];
  const y = x.map((at) => 3 - 0.25 * at);
  for (const weights of [undefined, [1, 2, 3, 4]]) {
    const line = straightLine(x, y, weights);
    expect(line.slope).toBeCloseTo(-0.25, 12);
    expect(line.start).toBeCloseTo(3, 6);
  }
});

test('a worked example: Anscombe’s first set (The American Statistician 27, 1973)', () => {
  const x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5];
  const y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68];
  const { slope, start, meanX, meanY } = straightLine(x, y);
  // Published: y = 3.00 + 0.500·x, means 9.0 and 7.5.
  expect(slope).toBeCloseTo(0.5, 3);
  expect(start).toBeCloseTo(3, 2);
  expect(meanX).toBe(9);
  expect(meanY).toBeCloseTo(7.5, 2);
});

test('points of no weight do not count, and one x has a level line', () => {
  expect(straightLine([0, 1, 2], [0, 1, 50], [1, 1, 0]).slope).toBeCloseTo(1, 12);
  expect(straightLine([2, 2], [1, 5])).toMatchObject({ slope: 0, start: 3 });
});

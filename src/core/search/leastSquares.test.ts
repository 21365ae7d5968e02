import { leastSquares } from './leastSquares';

test('a straight line through four points, with its textbook standard errors', () => {
  const [x, y] = [
    [0, 1, 2, 3],
    [1, 2.9, 5.2, 6.9],
  ];
  const { parameters, covariance, squares, isSettled } = leastSquares([0, 0], 4, ([a, b], out) => {
    for (let i = 0; i < 4; i++) out[i] = a + b * x[i] - y[i];
  });
  // Sxx = 5, mean x = 1.5: slope Σ(x−x̄)(y−ȳ)/Sxx = 2, intercept 4 − 3 = 1.
  expect(isSettled).toBe(true);
  expect(parameters[0]).toBeCloseTo(1, 9);
  expect(parameters[1]).toBeCloseTo(2, 9);
  const variance = squares / 2;
  expect(covariance[1][1]).toBeCloseTo(variance / 5, 9);
  expect(covariance[0][0]).toBeCloseTo(variance * (1 / 4 + 1.5 ** 2 / 5), 9);
});

test('the curved valley of Rosenbrock (1960) is followed to its end', () => {
  const { parameters } = leastSquares([-1.2, 1], 2, ([a, b], out) => {
    out[0] = 10 * (b - a * a);
    out[1] = 1 - a;
  });
  expect(parameters[0]).toBeCloseTo(1, 8);
  expect(parameters[1]).toBeCloseTo(1, 8);
});

test('a parameter that nothing depends on has no certainty, and does not spoil the others', () => {
  const { parameters, covariance } = leastSquares([0, 5], 3, ([a], out) => {
    for (let i = 0; i < 3; i++) out[i] = a - i;
  });
  expect(parameters[0]).toBeCloseTo(1, 9);
  expect(covariance[1][1]).toBe(Infinity);
  expect(covariance[0][0]).toBeCloseTo(2 / 3, 6);
});

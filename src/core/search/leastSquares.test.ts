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

describe('steered', () => {
  const line = ([a, b]: Float64Array, out: Float64Array) => {
    // The least squares lie at a = 1, b = 2.
    out[0] = a - 1;
    out[1] = b - 2;
    out[2] = 0.5 * (a - 1 + (b - 2));
  };

  test('a parameter whose best lies outside its bounds stays at the bound; the others find their best with it', () => {
    const { parameters } = leastSquares([0.2, 0], 3, line, {
      lower: Float64Array.of(-1, -1),
      upper: Float64Array.of(0.5, 9),
    });
    expect(parameters[0]).toBe(0.5);
    // With a = 0.5: minimise (b − 2)² + ¼(b − 2.5)², so b = 2 + 0.1.
    expect(parameters[1]).toBeCloseTo(2.1, 9);
  });

  test('exact derivatives give the same as differences, with fewer residuals worked out', () => {
    let [exact, differences] = [0, 0];
    const curved = (count: () => void) => (p: Float64Array, out: Float64Array) => {
      count();
      out[0] = 10 * (p[1] - p[0] ** 2);
      out[1] = 1 - p[0];
    };
    const first = leastSquares(
      [-1.2, 1],
      2,
      curved(() => exact++),
      {
        derivatives: ([a], [byA, byB]) => {
          [byA[0], byA[1], byB[0], byB[1]] = [-20 * a, -1, 10, 0];
        },
      },
    );
    const second = leastSquares(
      [-1.2, 1],
      2,
      curved(() => differences++),
    );
    expect(first.parameters[0]).toBeCloseTo(second.parameters[0], 7);
    expect(exact).toBeLessThan(differences / 2);
  });

  test('it can be stopped, and tells each step', () => {
    const told: number[] = [];
    const { squares } = leastSquares([9, 9], 3, line, {
      onStep: (_, now) => {
        told.push(now);
        return true;
      },
    });
    expect(told).toEqual([squares]);
  });
});

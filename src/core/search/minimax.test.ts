import { halfHeight, meritOf, minimiseGreatest, type MinimaxProblem } from './minimax';

const options = { mostSteps: 80, settledAt: 1e-12 };

/** A problem from functions: values of the band, and rows with their group. */
function problemOf(
  unknowns: number,
  band: (x: Float64Array, i: number) => number,
  count: number,
  rows: readonly { group: number; of: (x: Float64Array) => number }[] = [],
  penalties: readonly number[] = [],
): MinimaxProblem {
  const values = new Float64Array(count);
  const slopes = new Float64Array(count * unknowns);
  const worst = new Float64Array(penalties.length);
  const written = {
    count: 0,
    group: Int32Array.from(rows, ({ group }) => group),
    value: new Float64Array(rows.length),
    slopes: new Float64Array(rows.length * unknowns),
  };
  const slope = (of: (x: Float64Array) => number, x: Float64Array, v: number) => {
    const [high, low] = [1e-6, -1e-6].map((step) => {
      const moved = x.slice();
      moved[v] += step;
      return of(moved);
    });
    return (high - low) / 2e-6;
  };
  return {
    lower: new Float64Array(unknowns).fill(-5),
    upper: new Float64Array(unknowns).fill(5),
    bands: [{ values, slopes, most: null, penalty: 0 }],
    penalties: Float64Array.from(penalties),
    worst,
    rows: written,
    evaluate(x, hasSlopes) {
      worst.fill(-Infinity);
      for (let i = 0; i < count; i++) values[i] = band(x, i);
      written.count = hasSlopes ? rows.length : 0;
      rows.forEach(({ group, of }, r) => {
        written.value[r] = of(x);
        worst[group] = Math.max(worst[group], of(x));
      });
      if (!hasSlopes) return;
      for (let v = 0; v < unknowns; v++) {
        for (let i = 0; i < count; i++)
          slopes[v * count + i] = slope((moved) => band(moved, i), x, v);
        rows.forEach(({ of }, r) => (written.slopes[r * unknowns + v] = slope(of, x, v)));
      }
    },
  };
}

test('the best cubic to e^x on [−1, 1] misses it by 5.528e-3', () => {
  // Tables of best uniform approximation, Remez’ exchange; from memory.
  const at = (i: number) => i / 200 - 1;
  const problem = problemOf(
    3,
    ([a, b, c], i) => Math.exp(at(i)) - a * at(i) - b * at(i) ** 2 - c * at(i) ** 3,
    401,
  );
  const found = minimiseGreatest(problem, new Float64Array(3), options);
  expect(found.merit).toBeCloseTo(5.528e-3, 6);
  // The greatest deviation is met five times: one more than there are coefficients and level.
  problem.evaluate(found.x, false);
  const { values } = problem.bands[0];
  const middle = (Math.max(...values) + Math.min(...values)) / 2;
  let turns = 0;
  let last = 0;
  values.forEach((value) => {
    const off = value - middle;
    if (Math.abs(off) < 0.999 * found.merit || Math.sign(off) === last) return;
    last = Math.sign(off);
    turns++;
  });
  expect(turns).toBe(5);
});

test('a limit in the way is kept to its last digit, one that is slack does not matter', () => {
  // |x − 1|, |y + 1| as places of a band of ±; the free answer has height 0 at (1, −1).
  const band = ([x, y]: Float64Array, i: number) => [x - 1, 1 - x, y + 1, -1 - y][i];
  const free = minimiseGreatest(problemOf(2, band, 4), Float64Array.of(3, 3), options);
  expect(free.merit).toBeCloseTo(0, 6);
  const circle = { group: 0, of: ([x, y]: Float64Array) => x * x + y * y - 0.5 };
  const slack = { group: 1, of: ([x]: Float64Array) => x - 4 };
  const kept = minimiseGreatest(
    problemOf(2, band, 4, [circle, slack], [10, 10]),
    Float64Array.of(3, 3),
    options,
  );
  // By symmetry at (½, −½), which lies on the circle.
  expect(kept.x[0]).toBeCloseTo(0.5, 6);
  expect(kept.x[1]).toBeCloseTo(-0.5, 6);
  expect(kept.merit).toBeCloseTo(0.5, 6);
});

test('limits that contradict each other are exceeded by little, the cheaper one first', () => {
  const above = { group: 0, of: ([x]: Float64Array) => 1 - x };
  const under = { group: 1, of: ([x]: Float64Array) => x + 1 };
  const dear = minimiseGreatest(
    problemOf(1, () => 0, 2, [above, under], [5, 1]),
    Float64Array.of(0.3),
    options,
  );
  expect(dear.x[0]).toBeCloseTo(1, 6);
  expect(dear.merit).toBeCloseTo(2, 6);
});

test('bounds hold, and what cannot be solved is a bad step or no answer', () => {
  const root = problemOf(1, ([x], i) => (i === 0 ? Math.sqrt(x) : -Math.sqrt(x)), 2);
  const found = minimiseGreatest(root, Float64Array.of(2), options);
  expect(found.x[0]).toBeGreaterThanOrEqual(0);
  expect(found.x[0]).toBeLessThan(1e-3);
  expect(minimiseGreatest(root, Float64Array.of(-1), options).merit).toBeNaN();
  expect(halfHeight(Float64Array.of(1, NaN, 3))).toBeNaN();
  root.evaluate(Float64Array.of(4), false);
  expect(meritOf(root)).toBeCloseTo(2, 12);
});

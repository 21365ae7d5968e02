import { seededRandom } from '../../../tests/fixtures';
import { createQuadraticProgram } from './quadraticProgram';

/** Fills a program with plain lists. */
function programOf(
  hessian: readonly (readonly number[])[],
  gradient: readonly number[],
  rows: readonly (readonly number[])[],
  bounds: readonly number[],
) {
  const n = gradient.length;
  const program = createQuadraticProgram(n + 2, rows.length + 3);
  const size = n + 2;
  hessian.forEach((row, i) => row.forEach((value, j) => (program.hessian[i * size + j] = value)));
  program.gradient.set(gradient);
  rows.forEach((row, r) => row.forEach((value, i) => (program.coefficients[r * size + i] = value)));
  program.bounds.set(bounds);
  return program;
}

test('the example of Goldfarb and Idnani’s method in the manual of R’s quadprog is solved', () => {
  // solve.QP(diag(3), c(0, 5, 0), A, c(-8, 2, 0)): solution and value as printed there; from memory.
  const program = programOf(
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
    [0, -5, 0],
    [
      [-4, -3, 0],
      [2, 1, 0],
      [0, -2, 1],
    ],
    [-8, 2, 0],
  );
  expect(program.solve(3, 3)).toBe(true);
  const [x, y, z] = program.answer;
  expect([x, y, z].map((value) => value.toFixed(7))).toEqual([
    '0.4761905',
    '1.0476190',
    '2.0952381',
  ]);
  expect((x * x + y * y + z * z) / 2 - 5 * y).toBeCloseTo(-2.380952, 6);
  // The first constraint is slack.
  expect(program.multipliers[0]).toBe(0);
});

test('answers of random programs meet the conditions of Karush, Kuhn and Tucker', () => {
  const random = seededRandom(11);
  const draw = () => 2 * random() - 1;
  for (let trial = 0; trial < 200; trial++) {
    const n = 2 + Math.floor(6 * random());
    const count = 1 + Math.floor(4 * n * random());
    const root = Array.from({ length: n }, () => Array.from({ length: n }, draw));
    const hessian = root.map((row, i) =>
      root.map((other, j) => row.reduce((sum, a, k) => sum + a * other[k], i === j ? 0.05 : 0)),
    );
    const gradient = Array.from({ length: n }, draw);
    const rows = Array.from({ length: count }, () => Array.from({ length: n }, draw));
    const inside = Array.from({ length: n }, draw);
    const dot = (a: readonly number[], b: ArrayLike<number>) =>
      a.reduce((sum, value, i) => sum + value * b[i], 0);
    // Some point keeps all of them.
    const bounds = rows.map((row) => dot(row, inside) - 0.3 * random());
    const program = programOf(hessian, gradient, rows, bounds);
    expect(program.solve(n, count)).toBe(true);
    const { answer, multipliers } = program;
    rows.forEach((row, r) => {
      const slack = dot(row, answer) - bounds[r];
      expect(slack).toBeGreaterThan(-1e-7);
      expect(multipliers[r]).toBeGreaterThanOrEqual(0);
      expect(Math.abs(slack * multipliers[r])).toBeLessThan(1e-6 * (1 + multipliers[r]));
    });
    for (let i = 0; i < n; i++) {
      const pull = rows.reduce((sum, row, r) => sum + multipliers[r] * row[i], 0);
      expect(dot(hessian[i], answer) + gradient[i] - pull).toBeCloseTo(0, 6);
    }
  }
});

test('constraints that contradict each other, and a Hessian that is not positive, have no answer', () => {
  const contradicting = programOf([[1]], [0], [[1], [-1]], [1, 0]);
  expect(contradicting.solve(1, 2)).toBe(false);
  expect(programOf([[-1]], [0], [], []).solve(1, 0)).toBe(false);
  // The same program can be used again.
  contradicting.bounds[1] = -2;
  expect(contradicting.solve(1, 2)).toBe(true);
  expect(contradicting.answer[0]).toBeCloseTo(1, 12);
});

import {
  abs,
  add,
  compileRoutines,
  constant,
  difference,
  divide,
  lessThan,
  load,
  loadScalar,
  multiply,
  negate,
  not,
  or,
  overrun,
  product,
  subtract,
  type Vector,
} from './wasm';

const points = 8;
/** Far enough that offsets need two and three bytes. */
const at = { a: 0, b: 200, c: 20_000, scalar: 100, out: 40_000 };

/** Runs one expression over eight numbers a, b and c. */
function run(value: Vector, first = 0, count = points): Float64Array {
  const { memory, run: routines } = compileRoutines(
    [{ name: 'go', body: (code) => code.store(at.out, value) }],
    70_000,
  );
  const doubles = (from: number) => new Float64Array(memory, from, points);
  const input = { a: doubles(at.a), b: doubles(at.b), c: doubles(at.c) };
  for (let i = 0; i < points; i++) {
    input.a[i] = 1 + i;
    input.b[i] = Math.cos(i);
    input.c[i] = i - 3.5;
  }
  new DataView(memory).setFloat64(at.scalar, -2.5, true);
  routines.go(first, count * 8);
  return doubles(at.out).slice();
}
const [a, b, c] = [load(at.a), load(at.b), load(at.c)];

test.each<[string, Vector, (a: number, b: number, c: number) => number]>([
  ['a + b', add(a, b), (x, y) => x + y],
  ['a − c', subtract(a, c), (x, _, z) => x - z],
  ['a · b', multiply(a, b), (x, y) => x * y],
  ['b / a', divide(b, a), (x, y) => y / x],
  ['|c|', abs(c), (_x, _y, z) => Math.abs(z)],
  ['−c', negate(c), (_x, _y, z) => -z],
  ['a scalar', add(a, loadScalar(at.scalar)), (x) => x - 2.5],
  ['a constant', multiply(constant(Math.PI), c), (_x, _y, z) => Math.PI * z],
])('%s over a block', (_name, value, wanted) => {
  run(value).forEach((found, i) => expect(found).toBe(wanted(1 + i, Math.cos(i), i - 3.5)));
});

test('comparisons are all ones or nothing, and what is no number is not below', () => {
  const bits = (value: Vector) => [...new BigInt64Array(run(value).buffer)];
  expect(bits(lessThan(c, constant(0)))).toEqual([-1n, -1n, -1n, -1n, 0n, 0n, 0n, 0n]);
  const nothing = divide(constant(0), constant(0));
  expect(bits(not(lessThan(nothing, constant(1)))).every((one) => one === -1n)).toBe(true);
  expect(bits(or(lessThan(c, constant(0)), lessThan(a, constant(3)))).slice(0, 5)).toEqual([
    -1n,
    -1n,
    -1n,
    -1n,
    0n,
  ]);
});

test('complex products and differences', () => {
  const [x, y] = [
    { re: a, im: b },
    { re: c, im: constant(2) },
  ];
  const { re, im } = difference(product(x, y), x);
  run(re).forEach((found, i) =>
    expect(found).toBeCloseTo((1 + i) * (i - 3.5) - Math.cos(i) * 2 - (1 + i), 12),
  );
  run(im).forEach((found, i) =>
    expect(found).toBeCloseTo((1 + i) * 2 + Math.cos(i) * (i - 3.5) - Math.cos(i), 12),
  );
});

test('an input of its own begins where the call says; a routine stops within a round of its end', () => {
  const found = run(add(load(at.a, 'fromFirst'), constant(0)), 16, 1);
  expect([...found.slice(0, 2)]).toEqual([3, 4]);
  expect([...found.slice(1 + overrun)].every((value) => value === 0)).toBe(true);
});

test('what is kept is computed once, and variables run through the code', () => {
  const { memory, run: routines } = compileRoutines(
    [
      {
        name: 'go',
        body: (code) => {
          const sum = code.variable(constant(1));
          code.scope(() => {
            const kept = code.keep(multiply(load(at.a), constant(3)));
            sum.set(add(sum.value, kept));
            sum.set(add(sum.value, kept));
          });
          code.scope(() => sum.set(add(sum.value, code.keep(constant(10)))));
          code.store(at.out, sum.value);
        },
      },
    ],
    70_000,
  );
  new Float64Array(memory, at.a, points).fill(2);
  routines.go(0, points * 8);
  expect([...new Float64Array(memory, at.out, points)]).toEqual(Array<number>(points).fill(23));
});

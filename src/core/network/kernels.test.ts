import * as kernels from './kernels';

/** Blocks stand at an offset, so that an index without its base shows. */
const at = 3;
const count = 5;
const from = (value: (k: number) => number) =>
  Float64Array.from({ length: at + count + 2 }, (_, i) => value(i));
const a = () => ({ re: from((i) => 1 + i), im: from((i) => 2 - i / 3) });
const b = () => ({ re: from((i) => Math.cos(i)), im: from((i) => Math.sin(2 * i)) });
type Complex = readonly [number, number];
const times = ([x, y]: Complex, [u, v]: Complex): Complex => [x * u - y * v, x * v + y * u];

/** Compares places at…at+count with what is wanted, and that nothing else changed. */
function expectBlock(
  got: { re: Float64Array; im: Float64Array },
  before: { re: Float64Array; im: Float64Array },
  wanted: (k: number) => Complex,
): void {
  for (let i = 0; i < got.re.length; i++) {
    const [re, im] = i >= at && i < at + count ? wanted(i) : [before.re[i], before.im[i]];
    expect(got.re[i]).toBeCloseTo(re, 12);
    expect(got.im[i]).toBeCloseTo(im, 12);
  }
}

test('adding, subtracting and scaling blocks', () => {
  const [x, y] = [a(), b()];
  kernels.addBlock(x.re, x.im, at, y.re, y.im, at, count);
  expectBlock(x, a(), (i) => [a().re[i] + y.re[i], a().im[i] + y.im[i]]);
  kernels.subtractBlock(x.re, x.im, at, y.re, y.im, at, count);
  expectBlock(x, a(), (i) => [a().re[i], a().im[i]]);
  kernels.addTimes(x.re, x.im, at, y.re, y.im, at, 2, -3, count);
  expectBlock(x, a(), (i) => {
    const [re, im] = times([y.re[i], y.im[i]], [2, -3]);
    return [a().re[i] + re, a().im[i] + im];
  });
});

test('products', () => {
  const [x, y] = [a(), b()];
  const factor = { re: Float64Array.of(1, 2, 3, 4, 5), im: Float64Array.of(-1, 0, 1, 2, 3) };
  kernels.subtractProduct(x.re, x.im, at, factor.re, factor.im, y.re, y.im, at, count);
  expectBlock(x, a(), (i) => {
    const [re, im] = times([factor.re[i - at], factor.im[i - at]], [y.re[i], y.im[i]]);
    return [a().re[i] - re, a().im[i] - im];
  });
  const z = a();
  kernels.subtractTimes(z.re, z.im, at, y.re, y.im, at, at, count);
  expectBlock(z, a(), (i) => {
    const [re, im] = times([y.re[i], y.im[i]], [a().re[i], a().im[i]]);
    return [a().re[i] - re, a().im[i] - im];
  });
  kernels.storeBlock(z.re, z.im, at, factor.re, factor.im, count);
  expectBlock(z, a(), (i) => [factor.re[i - at], factor.im[i - at]]);
});

test('an inverse is an inverse', () => {
  const [x, out] = [a(), a()];
  kernels.invertBlock(out.re, out.im, at, x.re, x.im, at, count);
  for (let i = at; i < at + count; i++) {
    const [re, im] = times([x.re[i], x.im[i]], [out.re[i], out.im[i]]);
    expect([re, im].map((value) => Number(value.toFixed(12)) + 0)).toEqual([1, 0]);
  }
});

test('a product that grows too large, or is no number, is marked', () => {
  const out = { re: new Float64Array(3), im: new Float64Array(3) };
  const left = { re: Float64Array.of(1, 1e6, NaN), im: new Float64Array(3) };
  const right = { re: Float64Array.of(1, 1, 1), im: new Float64Array(3) };
  const marked = new Uint8Array(3);
  kernels.multiplyAndWatch(
    out.re,
    out.im,
    left.re,
    left.im,
    0,
    right.re,
    right.im,
    0,
    1e5,
    marked,
    3,
  );
  expect([...marked]).toEqual([0, 1, 1]);
  expect(out.re[0]).toBe(1);
});

test('admittances of the parts, with and without loss', () => {
  const omega = Float64Array.of(1000, 2000);
  const y = { re: new Float64Array(2), im: new Float64Array(2) };
  const impedance = (k: number): Complex => {
    const d = y.re[k] ** 2 + y.im[k] ** 2;
    return [y.re[k] / d, -y.im[k] / d];
  };
  kernels.coilAdmittance(y.re, y.im, 0, omega, 2e-3, 0.5, 2);
  expect(impedance(1)[0]).toBeCloseTo(0.5, 12);
  expect(impedance(1)[1]).toBeCloseTo(4, 12);
  kernels.capacitorAdmittance(y.re, y.im, 0, omega, 1e-4, 0.25, 2);
  expect(impedance(0)[0]).toBeCloseTo(0.25, 12);
  expect(impedance(0)[1]).toBeCloseTo(-10, 12);
  kernels.capacitorAdmittance(y.re, y.im, 0, omega, 1e-4, 0, 2);
  expect([y.re[0], y.im[0]]).toEqual([0, 0.1]);
  kernels.resistorAdmittance(y.re, y.im, 0, 8, 2);
  expect([y.re[1], y.im[1]]).toEqual([0.125, 0]);
  kernels.negativeCoilImpedance(y.re, y.im, 0, omega, 2e-3, 0.5, 2);
  expect([y.re[0], y.im[0]]).toEqual([-0.5, -2]);
});

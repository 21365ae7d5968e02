import { forward, inverse, powerOfTwo } from './fourier';
import { seededRandom } from '../../../tests/fixtures';

/** The sum as it is defined: X[k] = Σ x[n]·e^(−2πjkn/N). */
function byDefinition(signal: readonly number[], length: number) {
  return Array.from({ length: length / 2 + 1 }, (_, k) => {
    let [re, im] = [0, 0];
    signal.forEach((value, n) => {
      const angle = (-2 * Math.PI * k * n) / length;
      re += value * Math.cos(angle);
      im += value * Math.sin(angle);
    });
    return { re, im };
  });
}

test.each([2, 4, 8, 64, 256])(
  'a transform of %d samples is the sum of its definition',
  (length) => {
    const random = seededRandom(length);
    const signal = Array.from({ length }, () => 2 * random() - 1);
    const { re, im } = forward(signal, length);
    byDefinition(signal, length).forEach((expected, k) => {
      expect(re[k]).toBeCloseTo(expected.re, 10);
      expect(im[k]).toBeCloseTo(expected.im, 10);
    });
  },
);

test('zeros are added at the end: a shorter signal keeps its beginning', () => {
  const { re, im, length } = forward([1, -0.5, 0.25], 8);
  expect(length).toBe(8);
  byDefinition([1, -0.5, 0.25], 8).forEach((expected, k) => {
    expect(re[k]).toBeCloseTo(expected.re, 12);
    expect(im[k]).toBeCloseTo(expected.im, 12);
  });
});

test('what went there comes back', () => {
  const random = seededRandom(9);
  const signal = Float64Array.from({ length: 512 }, () => random() - 0.5);
  const back = inverse(forward(signal, 512));
  signal.forEach((value, i) => expect(back[i]).toBeCloseTo(value, 12));
});

test('a later arrival has a falling phase', () => {
  const late = new Float64Array(64);
  late[3] = 1;
  const { re, im } = forward(late, 64);
  for (let k = 1; k < 10; k++)
    expect(Math.atan2(im[k], re[k])).toBeCloseTo((-2 * Math.PI * 3 * k) / 64, 10);
});

test('the energy of a signal is that of its spectrum (Parseval)', () => {
  const random = seededRandom(4);
  const signal = Float64Array.from({ length: 128 }, () => random() - 0.5);
  const { re, im } = forward(signal, 128);
  const inTime = signal.reduce((sum, value) => sum + value ** 2, 0);
  const power = (k: number) => re[k] ** 2 + im[k] ** 2;
  let inFrequency = power(0) + power(64);
  for (let k = 1; k < 64; k++) inFrequency += 2 * power(k);
  expect(inFrequency / 128).toBeCloseTo(inTime, 10);
});

test.each([
  [0.1, 2],
  [2, 2],
  [3, 4],
  [4, 4],
  [1025, 2048],
])('the power of two that is not below %d is %d', (least, power) =>
  expect(powerOfTwo(least)).toBe(power),
);

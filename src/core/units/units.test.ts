import { ProblemError } from '@/core/problem';
import { mantissas, stepPreferred } from './preferredSeries';
import {
  formatFixed,
  formatQuantity,
  parseQuantity,
  parseWithin,
  type Dimension,
} from './quantity';

test.each<[string, Dimension, number]>([
  ['4u7', 'farad', 4.7e-6],
  ['4.7 µF', 'farad', 4.7e-6],
  ['4,7uF', 'farad', 4.7e-6],
  ['33', 'farad', 33e-6],
  ['680 nF', 'farad', 680e-9],
  ['680n', 'farad', 680e-9],
  ['0,33 mH', 'henry', 0.33e-3],
  ['0.39', 'henry', 0.39e-3],
  ['470 µH', 'henry', 470e-6],
  ['2m7', 'henry', 2.7e-3],
  ['2k2', 'ohm', 2200],
  ['6.8', 'ohm', 6.8],
  ['3R3', 'ohm', 3.3],
  ['0,47 Ω', 'ohm', 0.47],
  ['8 ohm', 'ohm', 8],
  ['1.5k', 'ohm', 1500],
  ['1/2"', 'millimetre', 12.7],
  ['2 1/2"', 'millimetre', 63.5],
  ['0.65 in', 'millimetre', 16.51],
  ['65', 'millimetre', 65],
  ['6.5cm', 'millimetre', 65],
  ['−3 mm', 'millimetre', -3],
  ['2.5 kHz', 'hertz', 2500],
  ['2.83 V', 'volt', 2.83],
  ['1e-3 H', 'henry', 1e-3],
  // A resistor under an ohm, as it is printed on it.
  ['R47', 'ohm', 0.47],
  ['u47', 'farad', 0.47e-6],
  ['0,330 mH', 'henry', 0.33e-3],
  ['12,5 kHz', 'hertz', 12_500],
  ['25 m2', 'squareMetre', 25],
])('%s as %s is %d', (text, dimension, value) =>
  expect(parseQuantity(text, dimension)).toBe(value),
);

test.each<[string, Dimension]>([
  ['', 'ohm'],
  ['many', 'ohm'],
  ['4.7 µF', 'ohm'],
  ['3..4', 'farad'],
  ['4u7u', 'farad'],
  ['5 mm', 'henry'],
  ['1/0', 'ohm'],
  ['4u7 H', 'farad'],
])('%j is no %s', (text, dimension) => {
  expect(() => parseQuantity(text, dimension)).toThrow(ProblemError);
});

test.each<[string, Dimension, RegExp]>([
  ['4R7', 'farad', /Type 4u7\./],
  ['4R7', 'henry', /Type 4u7 or 4m7\./],
  ['2,500', 'hertz', /Type 2\.5 or 2500\./],
  ['−12,345 Hz', 'hertz', /Type 12\.345 or 12345\./],
  ['10 MF', 'farad', /old parts have it for µ\. Type 10 µF\./],
  ['10MH', 'henry', /Type 10 mH\./],
])('%s as %s has two readings, and both are named', (text, dimension, mend) =>
  expect(() => parseQuantity(text, dimension)).toThrow(mend),
);

test.each<[number, Dimension, string]>([
  [33e-6, 'farad', '33 µF'],
  [680e-9, 'farad', '0.68 µF'],
  [47e-9, 'farad', '47 nF'],
  [0.39e-3, 'henry', '0.39 mH'],
  [0.05e-3, 'henry', '50 µH'],
  [2200, 'ohm', '2.2 kΩ'],
  [0.47, 'ohm', '0.47 Ω'],
  [0, 'ohm', '0 Ω'],
  [-48, 'millimetre', '−48 mm'],
  [1016.3, 'hertz', '1.016 kHz'],
  [2.83, 'volt', '2.83 V'],
])('%d %s is shown as %s', (value, dimension, text) =>
  expect(formatQuantity(value, dimension)).toBe(text),
);

test('what is shown can be typed', () => {
  for (const dimension of ['ohm', 'henry', 'farad'] as const)
    for (const mantissa of mantissas.E24)
      for (const decade of [-7, -6, -5, -4, -3, -2, -1, 0, 1, 2]) {
        const value = Number(`${mantissa}e${decade}`);
        expect(parseQuantity(formatQuantity(value, dimension), dimension)).toBe(value);
      }
});

test('a true minus sign and fixed decimals', () => expect(formatFixed(-3.04, 1)).toBe('−3.0'));

test('the series have their IEC 60063 members', () => {
  expect(mantissas.E6).toEqual([1, 1.5, 2.2, 3.3, 4.7, 6.8]);
  expect(mantissas.E12).toEqual([1, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2]);
  expect(mantissas.E96.slice(0, 6)).toEqual([1, 1.02, 1.05, 1.07, 1.1, 1.13]);
  expect(mantissas.E96[95]).toBe(9.76);
});

test.each<[number, 'E6' | 'E12' | 'E24' | 'E96', number, number]>([
  [4.7e-6, 'E12', 1, 5.6e-6],
  [4.7e-6, 'E12', -1, 3.9e-6],
  [8.2e-6, 'E12', 1, 10e-6],
  [10e-6, 'E24', -1, 9.1e-6],
  [5e-6, 'E12', 1, 5.6e-6],
  [5e-6, 'E12', -1, 4.7e-6],
  [5e-6, 'E12', 0, 4.7e-6],
  [0.33e-3, 'E24', 10, 0.82e-3],
  [47, 'E6', 6, 470],
  [9.76, 'E96', 1, 10],
])('from %d along %s by %i is %d', (value, series, steps, next) =>
  expect(stepPreferred(value, series, steps)).toBe(next),
);

test('stepping up and down again comes back, over many decades', () => {
  let value = 1e-7;
  for (let i = 0; i < 200; i++) {
    const up = stepPreferred(value, 'E24', 1);
    expect(up).toBeGreaterThan(value);
    expect(stepPreferred(up, 'E24', -1)).toBe(value);
    value = up;
  }
  expect(() => stepPreferred(0, 'E24', 1)).toThrow(RangeError);
});

describe('limits of what is typed', () => {
  const mend = (text: string, min: number, max: number) => {
    try {
      return parseWithin(text, 'decibel', min, max);
    } catch (error) {
      return (error as ProblemError).problem.mend;
    }
  };

  test('belong to what is allowed, and are told as far as there are any', () => {
    expect(mend('20 dB', 20, 130)).toBe(20);
    expect(mend('130', 20, 130)).toBe(130);
    expect(mend('19,9', 20, 130)).toBe('Between 20 dB and 130 dB.');
    expect(mend('-1', 0, Infinity)).toBe('At least 0 dB.');
    expect(mend('1', -Infinity, 0)).toBe('At most 0 dB.');
    expect(mend('loud', 20, 130)).toBe('Type a level such as 1.5 dB.');
  });
});

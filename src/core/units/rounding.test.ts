import fc from 'fast-check';
import { mantissas, stepPreferred } from './preferredSeries';
import { roundedDown, roundedUp } from './rounding';

const positive = fc.double({ min: 1e-12, max: 1e12, noNaN: true });
const digits = fc.integer({ min: 1, max: 6 });

test.each([
  [47.96, 2, 47, 48],
  [0.047_96, 3, 0.0479, 0.048],
  [4.8, 2, 4.8, 4.8],
  [99.99, 2, 99, 100],
  [1234, 2, 1200, 1300],
  // What was computed may be off by a hair.
  [0.1 + 0.2, 1, 0.3, 0.3],
  [4.800000000000001, 2, 4.8, 4.8],
  [4.799999999999999, 2, 4.8, 4.8],
])('%d with %d digits is %d downwards and %d upwards', (value, count, down, up) => {
  expect(roundedDown(value, count)).toBe(down);
  expect(roundedUp(value, count)).toBe(up);
});

test('a limit is never passed, and never by more than a step of its last digit', () =>
  fc.assert(
    fc.property(positive, digits, (value, count) => {
      const step = 10 ** (Math.floor(Math.log10(value)) - count + 1);
      const [down, up] = [roundedDown(value, count), roundedUp(value, count)];
      expect(down).toBeLessThanOrEqual(value * (1 + 1e-8));
      expect(up).toBeGreaterThanOrEqual(value * (1 - 1e-8));
      expect(value - down).toBeLessThanOrEqual(step * (1 + 1e-6));
      expect(up - value).toBeLessThanOrEqual(step * (1 + 1e-6));
    }),
  ));

test('what is rounded already stays as it is', () =>
  fc.assert(
    fc.property(positive, digits, (value, count) => {
      const once = roundedDown(value, count);
      expect(roundedDown(once, count)).toBe(once);
      const up = roundedUp(value, count);
      expect(roundedUp(up, count) / up).toBeCloseTo(1, 9);
    }),
  ));

describe('preferred values', () => {
  const series = fc.constantFrom('E6', 'E12', 'E24', 'E96' as const);

  test('the nearest is a member, and no other is nearer by ratio', () =>
    fc.assert(
      fc.property(positive, series, (value, name) => {
        const found = stepPreferred(value, name, 0);
        const distance = (other: number) => Math.abs(Math.log(other / value));
        const [below, above] = [stepPreferred(found, name, -1), stepPreferred(found, name, 1)];
        expect(distance(found)).toBeLessThanOrEqual(distance(below) + 1e-9);
        expect(distance(found)).toBeLessThanOrEqual(distance(above) + 1e-9);
        const decade = 10 ** Math.floor(Math.log10(found) + 1e-9);
        const nearest = Math.min(...mantissas[name].map((m) => Math.abs(m - found / decade)));
        expect(nearest).toBeLessThan(1e-6);
      }),
    ));

  test('so many steps are as many single ones, and the whole series is a decade', () =>
    fc.assert(
      fc.property(positive, series, fc.integer({ min: 1, max: 40 }), (value, name, steps) => {
        let single = stepPreferred(value, name, 1);
        for (let k = 1; k < steps; k++) single = stepPreferred(single, name, 1);
        expect(stepPreferred(value, name, steps) / single).toBeCloseTo(1, 9);
        const member = stepPreferred(value, name, 0);
        const decade = stepPreferred(member, name, mantissas[name].length);
        expect(decade / member).toBeCloseTo(10, 6);
      }),
    ));

  test.each([0, -1, NaN, Infinity])('%d has none', (value) =>
    expect(() => stepPreferred(value, 'E12', 0)).toThrow(RangeError),
  );
});

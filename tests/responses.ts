/** Invented minimum-phase drivers with exact phase, for tests of what is done to measurements. */
import { logGrid } from '@/core/grid/logGrid';
import type { Samples } from '@/core/measurement/samples';

export type Complex = readonly [re: number, im: number];
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const over = ([a, b]: Complex, [c, d]: Complex): Complex => {
  const square = c * c + d * d;
  return [(a * c + b * d) / square, (b * c - a * d) / square];
};

/** Second-order high pass and low pass in a row; both Q about 0.8. */
export const bandPass =
  (gain: number, lowHz: number, highHz: number) =>
  (hz: number): Complex => {
    const [x, y] = [hz / lowHz, hz / highHz];
    return times(
      over([-gain * x * x, 0], [1 - x * x, 1.2 * x]),
      over([1, 0], [1 - y * y, 1.2 * y]),
    );
  };

export const delayed =
  (of: (hz: number) => Complex, seconds: number) =>
  (hz: number): Complex => {
    const angle = -2 * Math.PI * hz * seconds;
    return times(of(hz), [Math.cos(angle), Math.sin(angle)]);
  };

export const added =
  (...parts: readonly ((hz: number) => Complex)[]) =>
  (hz: number): Complex =>
    parts.map((part) => part(hz)).reduce<Complex>(([a, b], [c, d]) => [a + c, b + d], [0, 0]);

/** A response as it would be measured. */
export function measured(
  of: (hz: number) => Complex,
  frequencyHz: Float64Array = logGrid(10, 30_000, 48),
): Samples {
  const values = Array.from(frequencyHz, of);
  return {
    frequencyHz,
    magnitude: Float64Array.from(values, ([re, im]) => 80 + 20 * Math.log10(Math.hypot(re, im))),
    phaseDeg: Float64Array.from(values, ([re, im]) => (Math.atan2(im, re) * 180) / Math.PI),
  };
}

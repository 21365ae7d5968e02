/** Preferred number series of IEC 60063. Three significant digits from E48 on, two below. */
export type PreferredSeries = 'E6' | 'E12' | 'E24' | 'E96';

const e24 = [
  1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6,
  6.2, 6.8, 7.5, 8.2, 9.1,
];

/** Mantissas from 1 to under 10, rising. */
export const mantissas: Readonly<Record<PreferredSeries, readonly number[]>> = {
  E6: e24.filter((_, i) => i % 4 === 0),
  E12: e24.filter((_, i) => i % 2 === 0),
  E24: e24,
  E96: Array.from({ length: 96 }, (_, i) => Math.round(100 * 10 ** (i / 96)) / 100),
};

/**
 * The value of position `index` in the endless series; 0 is 1, one decade is the series' length.
 */
function valueAt(series: PreferredSeries, index: number): number {
  const steps = mantissas[series];
  const decade = Math.floor(index / steps.length);
  // Through text, so that 4.7e-6 is the double nearest to it and not one off after a
  // multiplication.
  return Number(`${steps[index - decade * steps.length]}e${decade}`);
}

/**
 * The value `steps` places along a preferred series. From a value between two members the first
 * step goes to the neighbour on that side, so a value never jumps over one.
 *
 * @param value positive number in any unit
 * @param series series to walk along
 * @param steps whole number of steps, negative for downward, 0 for the nearest member (by ratio)
 * @throws RangeError when the value is not positive and finite
 */
export function stepPreferred(value: number, series: PreferredSeries, steps: number): number {
  if (!(value > 0) || !Number.isFinite(value))
    throw new RangeError(`No preferred value near ${value}.`);
  const length = mantissas[series].length;
  let below = Math.floor(Math.log10(value) * length) - 2;
  // A member reached by arithmetic may be a rounding away from the table's.
  const slack = 1e-9;
  while (valueAt(series, below + 1) <= value * (1 + slack)) below++;
  const isMember = Math.abs(valueAt(series, below) / value - 1) <= slack;
  if (steps === 0) {
    const nearerAbove = value * value > valueAt(series, below) * valueAt(series, below + 1);
    return valueAt(series, isMember || !nearerAbove ? below : below + 1);
  }
  const start = steps < 0 && !isMember ? below + 1 : below;
  return valueAt(series, start + steps);
}

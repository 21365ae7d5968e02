import { z } from 'zod';
import { forEveryKind, partKinds } from '@/core/document/partKinds';
import { positive } from '@/core/fields';
import { mantissas, stepPreferred, type PreferredSeries } from '@/core/units/preferredSeries';

const seriesSchema = z.enum(['E6', 'E12', 'E24', 'E96']) satisfies z.ZodType<PreferredSeries>;

/** Values that can be had. */
const stockSchema = z.union([
  seriesSchema,
  /** Two members of a series together. */
  z.strictObject({ twoOf: seriesSchema }),
  /** Multiples of a step: coils taken down turn by turn, resistors made of wire. */
  z.strictObject({ stepOf: positive }),
  /** What one owns, each piece once; rising. */
  z.strictObject({ owned: z.array(positive).min(1).max(500) }),
]);

/** Values that one can have, by kind. */
export const buyableSchema = z.strictObject(forEveryKind(() => stockSchema));

export type Stock = z.infer<typeof stockSchema>;
export type Buyable = z.infer<typeof buyableSchema>;

/** Series in which parts are sold. */
export const usualSeries = forEveryKind((kind) => partKinds[kind].series) satisfies Buyable;

/** The smaller of two parts is at least this share of the larger: less is within its tolerance. */
const leastShare = 0.04;
/** How far to each side of a value two parts are looked for. */
const window = 1.35;
/** Two values this close are one. */
const slack = 1e-6;

/** Members of a series between two values. */
function membersBetween(series: PreferredSeries, from: number, to: number): number[] {
  const members: number[] = [];
  for (let decade = Math.floor(Math.log10(from)); 10 ** decade <= to; decade++)
    for (const mantissa of mantissas[series]) {
      const value = Number(`${mantissa}e${decade}`);
      if (value >= from * (1 - slack) && value <= to * (1 + slack)) members.push(value);
    }
  return members;
}

/** Single members and sums of two around a value, rising, each once. */
function sumsAround(series: PreferredSeries, value: number): number[] {
  const most = value * window;
  const larger = membersBetween(series, value / window / 2, most);
  const sums = larger.flatMap((a) => [
    a,
    ...membersBetween(series, a * leastShare, a).map((b) => Number((a + b).toPrecision(12))),
  ]);
  return sums
    .filter((sum) => sum >= value / window && sum <= most)
    .sort((a, b) => a - b)
    .filter((sum, i, all) => i === 0 || sum > all[i - 1] * (1 + slack));
}

/** Multiples of a step around a value, rising; never nought. */
function multiplesAround(step: number, value: number, steps: number): number[] {
  const middle = Math.max(1, Math.round(value / step));
  const first = Math.max(1, middle - Math.abs(steps) - 1);
  return Array.from({ length: middle + Math.abs(steps) + 2 - first }, (_, i) =>
    Number(((first + i) * step).toPrecision(12)),
  );
}

/** What is left of some pieces when others are taken out of them, each once. */
function without(pieces: readonly number[], taken: readonly number[]): number[] {
  const left = [...pieces];
  for (const value of taken) {
    const at = left.findIndex((one) => Math.abs(one / value - 1) < slack);
    if (at >= 0) left.splice(at, 1);
  }
  return left;
}

/**
 * The value `steps` places along what can be had: 0 for the nearest by ratio; from a value between
 * two, the first step goes to the neighbour on that side. Beyond the ends of what one owns, its
 * last.
 *
 * @param taken pieces of what one owns that are used elsewhere; at least one is left
 */
export function stepInStock(
  value: number,
  stock: Stock,
  steps: number,
  taken: readonly number[] = [],
): number {
  if (typeof stock === 'string') return stepPreferred(value, stock, steps);
  const all =
    'owned' in stock
      ? without(stock.owned, taken)
      : 'stepOf' in stock
        ? multiplesAround(stock.stepOf, value, steps)
        : sumsAround(stock.twoOf, value);
  const above = all.findIndex((one) => one > value * (1 + slack));
  const top = above < 0 ? all.length : above;
  const below = top - 1;
  const isMember = below >= 0 && all[below] >= value * (1 - slack);
  const at = (index: number) => all[Math.min(all.length - 1, Math.max(0, index))];
  if (steps === 0) {
    if (isMember || top >= all.length) return at(below);
    return below < 0 || value * value > all[below] * all[top] ? at(top) : at(below);
  }
  return at((steps < 0 && !isMember ? top : below) + steps);
}

/**
 * The two members of a series that make a value together, the larger first; null for a single
 * member or none.
 */
export function twoThatMake(value: number, series: PreferredSeries): [number, number] | null {
  const nearest = stepPreferred(value, series, 0);
  if (Math.abs(nearest / value - 1) < slack) return null;
  for (const a of membersBetween(series, value / 2, value).reverse())
    for (const b of membersBetween(series, a * leastShare, a))
      if (Math.abs((a + b) / value - 1) < slack) return [a, b];
  return null;
}

import { halfHeight } from '@/core/search/minimax';
import { seeded } from '@/core/spectrum/noise';
import type { Limit } from './goal';

/**
 * What a whole reserve that is missing costs, dB: about half of the builds break the promise then,
 * however narrow the reserve is.
 */
export const reserveWorthDb = 0.2;

/** Of a normal distribution 95 % lie under so many standard deviations over its mean. */
export const inNineteenOfTwenty = 1.645;

/** Limits that are further off are not reached by a usual tolerance, dB. */
export const reservedFromDb = -6;

/** Whether a reserve is kept to a limit: to those that were promised and that parts move. */
export const isReserved = ({ promiseId, kind }: Limit): boolean =>
  promiseId !== null &&
  kind !== 'lows' &&
  kind !== 'heat' &&
  kind !== 'outlay' &&
  kind !== 'target-slopes';

/** Draws by which the rise of a band's height is estimated. */
const riseDraws = 40;

/**
 * How much the half height of a band rises in 19 of 20 builds, by its slopes: a band has many places
 * that are nearly the highest, any of which may become it.
 */
export function scatteredRise(
  values: Float64Array,
  slopes: Float64Array,
  variableCount: number,
  tolerance: number,
): number {
  const { uniform } = seeded(2);
  const count = values.length;
  const moved = new Float64Array(count);
  const rises = new Float64Array(riseDraws);
  for (let draw = 0; draw < riseDraws; draw++) {
    moved.set(values);
    for (let v = 0; v < variableCount; v++) {
      const step = tolerance * (2 * uniform() - 1);
      for (let i = 0; i < count; i++) moved[i] += step * slopes[v * count + i];
    }
    rises[draw] = halfHeight(moved);
  }
  return Math.max(0, rises.sort()[Math.floor(0.95 * riseDraws)] - halfHeight(values));
}

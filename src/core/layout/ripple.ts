import type { Band } from '@/core/prediction/figures';

/** Over which a level is averaged to see what is no ripple but its course, octaves. */
const courseOctaves = 2;

/** How uneven levels are: of a curve, or of several together. */
export interface Ripple {
  /** Greatest deviation from their course over two octaves, dB. */
  readonly mostDb: number;
  readonly rmsDb: number;
}

/**
 * Deviation of a level from its own course within a band. The step of a baffle is course: a network
 * makes up for it; ripple it can't.
 *
 * @param frequencyHz evenly spaced in logarithm
 */
export function rippleOf(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  { fromHz, toHz }: Band,
): Ripple {
  const perPoint = Math.log2(frequencyHz[1] / frequencyHz[0]);
  const half = Math.round(courseOctaves / 2 / perPoint);
  const sums = new Float64Array(levelDb.length + 1);
  levelDb.forEach((db, i) => (sums[i + 1] = sums[i] + db));
  let [most, squares, count] = [0, 0, 0];
  for (let i = 0; i < levelDb.length; i++) {
    if (frequencyHz[i] < fromHz || frequencyHz[i] > toHz) continue;
    // As far to one side as to the other, so that a slope is its own course.
    const reach = Math.min(half, i, levelDb.length - 1 - i);
    const course = (sums[i + reach + 1] - sums[i - reach]) / (2 * reach + 1);
    const off = Math.abs(levelDb[i] - course);
    most = Math.max(most, off);
    squares += off * off;
    count++;
  }
  return { mostDb: most, rmsDb: count === 0 ? 0 : Math.sqrt(squares / count) };
}

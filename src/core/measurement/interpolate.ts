import { straightLine } from '@/core/search/straightLine';
/**
 * A curve at other frequencies: straight lines on log frequency, end values held outside.
 *
 * @param frequencyHz rising, two or more
 * @param values levels in dB or unwrapped phases, same length
 * @param atHz rising
 */
export function interpolated(
  frequencyHz: Float64Array,
  values: Float64Array,
  atHz: Float64Array,
): Float64Array {
  const last = frequencyHz.length - 1;
  let i = 0;
  return atHz.map((hz) => {
    if (hz <= frequencyHz[0]) return values[0];
    if (hz >= frequencyHz[last]) return values[last];
    while (frequencyHz[i + 1] < hz) i++;
    const t = Math.log(hz / frequencyHz[i]) / Math.log(frequencyHz[i + 1] / frequencyHz[i]);
    return values[i] + t * (values[i + 1] - values[i]);
  });
}

/**
 * Slope of a level at one of its ends, dB per octave, by least squares over the last octave: a
 * first guess for a tail.
 */
export function endSlope(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  end: 'below' | 'above',
): number {
  const last = frequencyHz.length - 1;
  const isNear = (hz: number) =>
    end === 'below' ? hz <= 2 * frequencyHz[0] : hz >= frequencyHz[last] / 2;
  const near = [...frequencyHz.keys()].filter((i) => isNear(frequencyHz[i]));
  return straightLine(
    near.map((i) => Math.log2(frequencyHz[i])),
    near.map((i) => levelDb[i]),
  ).slope;
}

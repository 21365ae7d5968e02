import type { GridSpectrum } from '@/core/measurement/onGrid';
import { levelsDb, phasesDeg } from '@/core/spectrum/level';
import type { Prediction, WayPrediction } from './prediction';

/*
 * Curves that follow from the complex ones of a prediction. A prediction is made with every nudge
 * of a part, most of these are looked at now and then: so they are worked out by whoever shows
 * them.
 */

/** Level in dB. */
export const levelDbOf = ({ re, im }: GridSpectrum): Float64Array =>
  levelsDb(re, im, new Float64Array(re.length));

/** Phase in degrees, −180…180. */
export const phaseDegOf = ({ re, im }: GridSpectrum): Float64Array =>
  phasesDeg(re, im, new Float64Array(re.length));

/** Absolute values. Not Math.hypot, which guards against overflow and takes ten times as long. */
export function magnitudesOf({ re, im }: GridSpectrum): Float64Array {
  const out = new Float64Array(re.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.sqrt(re[i] * re[i] + im[i] * im[i]);
  return out;
}

/** Level in dB of the sum with one of its ways connected the other way round: total − 2·way. */
export function sumIfReversedDb(
  { pressure: total }: NonNullable<Prediction['sum']>,
  { pressure }: WayPrediction,
): Float64Array {
  const re = total.re.map((value, i) => value - 2 * pressure.re[i]);
  const im = total.im.map((value, i) => value - 2 * pressure.im[i]);
  return levelsDb(re, im, re);
}

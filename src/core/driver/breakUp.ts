import type { Samples } from '@/core/measurement/samples';

/** A peak that rises so far over the mean energy of the octave around it is a cone breaking up. */
const breakUpDb = 4;

/**
 * Where a driver's cone begins to break up, estimated from its measured response: the lowest peak
 * that stands out of the octave around it by 4 dB (common practice, no source).
 *
 * @param fromHz below it a peak is of the box, the edges or the room, not of the cone
 * @returns Hz; null where nothing stands out
 */
export function breakUpHz(
  { frequencyHz, magnitude }: Pick<Samples, 'frequencyHz' | 'magnitude'>,
  fromHz: number,
): number | null {
  const last = frequencyHz.length - 1;
  let [low, high] = [0, 0];
  /** Over the octave that is looked at: energy times width on a logarithmic axis, and widths. */
  const weightAt = (i: number) =>
    Math.log(frequencyHz[Math.min(last, i + 1)] / frequencyHz[Math.max(0, i - 1)]);
  const energyAt = (i: number) => weightAt(i) * 10 ** (magnitude[i] / 10);
  let [energy, width] = [0, 0];
  for (let i = 0; i <= last; i++) {
    const hz = frequencyHz[i];
    for (; high <= last && frequencyHz[high] <= hz * Math.SQRT2; high++) {
      energy += energyAt(high);
      width += weightAt(high);
    }
    for (; frequencyHz[low] < hz / Math.SQRT2; low++) {
      energy -= energyAt(low);
      width -= weightAt(low);
    }
    const isPeak =
      i > 0 && i < last && magnitude[i] >= magnitude[i - 1] && magnitude[i] >= magnitude[i + 1];
    if (hz < fromHz || !isPeak) continue;
    if (magnitude[i] - 10 * Math.log10(energy / width) >= breakUpDb) return hz;
  }
  return null;
}

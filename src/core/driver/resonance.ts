import type { Samples } from '@/core/measurement/samples';

/** Where a driver resonates. */
export interface Resonance {
  readonly hz: number;
  /** Taken from the peak of its impedance, because its sheet does not tell. */
  readonly isEstimated: boolean;
}

/** Above this an impedance rises by its coil, not by a resonance. */
const peaksBelowHz = 2500;
/** A peak this much over the least impedance around it is one. */
const leastRise = 1.15;

/**
 * Resonance of a driver: by its sheet, or else where its measured impedance is highest below
 * 2.5 kHz.
 *
 * @returns null when neither tells
 */
export function resonanceOf(
  { fsHz }: { readonly fsHz: number | null },
  { frequencyHz, magnitude }: Pick<Samples, 'frequencyHz' | 'magnitude'>,
): Resonance | null {
  if (fsHz !== null) return { hz: fsHz, isEstimated: false };
  let top = -1;
  let least = Infinity;
  for (let i = 1; i + 1 < magnitude.length && frequencyHz[i] <= peaksBelowHz; i++) {
    least = Math.min(least, magnitude[i]);
    const isPeak = magnitude[i] >= magnitude[i - 1] && magnitude[i] >= magnitude[i + 1];
    if (isPeak && (top < 0 || magnitude[i] > magnitude[top])) top = i;
  }
  return top >= 0 && magnitude[top] >= leastRise * least
    ? { hz: frequencyHz[top], isEstimated: true }
    : null;
}

/** Resonances from here up are those of tweeters. */
const tweeterFromHz = 400;

export const isTweeterAt = (hz: number): boolean => hz >= tweeterFromHz;
/** Attenuation that a resonance needs, dB (common practice, no source). */
const needsDb = { tweeter: 12, midrange: 6 };
/** A driver that resonates within this ratio of the lowest one plays the lows, and needs none. */
const lowsRatio = 2;

/**
 * Attenuation that a driver's resonance needs against where it is driven hardest, by what kind of
 * driver it is.
 *
 * @param lowestHz resonance of the driver that resonates lowest
 * @returns null for one that is there to play at its resonance
 */
export const resonanceNeedsDb = (hz: number, lowestHz: number): number | null =>
  hz <= lowsRatio * lowestHz ? null : hz >= tweeterFromHz ? needsDb.tweeter : needsDb.midrange;

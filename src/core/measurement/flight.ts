import { bulkDelaySeconds } from '@/core/spectrum/phase';
import type { Samples } from './samples';

const degrees = Math.PI / 180;

/** Delays below this turn the phase by no more than four times up to 20 kHz, and are left in. */
const leastSeconds = 0.0002;

/** The bulk delay that makes a phase unreadable, s: 0 without phase, or when it hardly turns. */
export function flightSeconds({ frequencyHz, phaseDeg }: Samples): number {
  if (!phaseDeg) return 0;
  const seconds = bulkDelaySeconds(
    frequencyHz,
    phaseDeg.map((angle) => angle * degrees),
  );
  return Math.abs(seconds) < leastSeconds ? 0 : seconds;
}

/**
 * A response with a delay taken out of its phase, −180…180°: for the eye only.
 *
 * @param seconds taken out
 */
export function withoutDelay(samples: Samples, seconds: number): Samples {
  const { frequencyHz, phaseDeg } = samples;
  if (!phaseDeg) return samples;
  return {
    ...samples,
    phaseDeg: phaseDeg.map((angle, i) => {
      const turned = angle / 360 + frequencyHz[i] * seconds;
      return 360 * (turned - Math.round(turned));
    }),
  };
}

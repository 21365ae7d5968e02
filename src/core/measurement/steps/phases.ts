import { bulkDelaySeconds, unwrapped } from '@/core/spectrum/phase';
import type { Samples } from '../samples';

/** A phase as bulk delay and unwrapped rest, radians, so that it can be interpolated. */
export function smoothPhase({ frequencyHz, phaseDeg }: Samples) {
  const phase = phaseDeg!.map((angle) => (angle * Math.PI) / 180);
  const delaySeconds = bulkDelaySeconds(frequencyHz, phase);
  const rest = unwrapped(
    phase.map((angle, i) => angle + 2 * Math.PI * frequencyHz[i] * delaySeconds),
  );
  return { rest, delaySeconds };
}

/** Phase in degrees, −180 to 180, of angles and a delay. */
export const degreesOf = (radians: Float64Array, frequencyHz: Float64Array, delaySeconds: number) =>
  radians.map((angle, i) => {
    const turns = angle / (2 * Math.PI) - frequencyHz[i] * delaySeconds;
    return 360 * (turns - Math.round(turns));
  });

import { logGrid } from '@/core/grid/logGrid';
import { bulkDelaySeconds, unwrapped } from '@/core/spectrum/phase';
import { endSlope, interpolated } from './interpolate';
import { minimumPhase, type Tails } from './minimumPhase';
import type { Samples } from './samples';

/** Delay of the envelope at each frequency. */
export interface GroupDelay {
  readonly frequencyHz: Float64Array;
  /** −dφ/dω, ms. */
  readonly groupMs: Float64Array;
  /**
   * What is left of it when the group delay of the minimum phase is taken away: constant for a pure
   * delay, ms.
   */
  readonly excessMs: Float64Array;
}

/**
 * The derivative is taken over a sixth of an octave, so that the noise of single points does not
 * rule it.
 */
const halfStep = 2 ** (1 / 12);

/**
 * Group delay and excess group delay of a response.
 *
 * @param tails slopes outside the data; null takes those of the outer octaves
 * @returns null without phase, or for less than an octave
 */
export function groupDelay(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  tails: Tails | null,
): GroupDelay | null {
  const last = frequencyHz[frequencyHz.length - 1];
  if (!phaseDeg || last < 2 * frequencyHz[0]) return null;
  const phase = phaseDeg.map((degrees) => (degrees * Math.PI) / 180);
  const bulk = bulkDelaySeconds(frequencyHz, phase);
  const rest = unwrapped(phase.map((angle, i) => angle + 2 * Math.PI * frequencyHz[i] * bulk));
  const grid = logGrid(frequencyHz[0] * halfStep, last / halfStep, 24);
  const level = interpolated(frequencyHz, magnitude, grid);
  const minimum = minimumPhase(
    grid,
    level,
    tails ?? {
      belowDbPerOctave: endSlope(frequencyHz, magnitude, 'below'),
      aboveDbPerOctave: endSlope(frequencyHz, magnitude, 'above'),
    },
  );
  const delayMs = (hz: Float64Array, angle: Float64Array) => {
    const [low, high] = [grid.map((f) => f / halfStep), grid.map((f) => f * halfStep)];
    const [before, after] = [interpolated(hz, angle, low), interpolated(hz, angle, high)];
    // At the ends the step is cut short.
    return grid.map((_, i) => {
      const [from, to] = [Math.max(low[i], hz[0]), Math.min(high[i], hz[hz.length - 1])];
      return (-1000 * (after[i] - before[i])) / (2 * Math.PI * (to - from));
    });
  };
  const groupMs = delayMs(frequencyHz, rest).map((ms) => ms + 1000 * bulk);
  const ofMinimum = delayMs(grid, minimum);
  return { frequencyHz: grid, groupMs, excessMs: groupMs.map((ms, i) => ms - ofMinimum[i]) };
}

import type { AxisSlopes } from '@/core/fitting/axisPlayback';
import type { Playback } from '@/core/fitting/playback';

/** Values that were just played, as the terms of a model see them. */
export interface Played {
  readonly playback: Playback;
  readonly logValues: Float64Array;
  /** Of the sum on the axis from the target, its mean over the band taken away; dB. */
  readonly deviation: Float64Array;
  /** The same of the listening window, over its own band; null where there is none. */
  readonly windowDeviation: Float64Array | null;
  /** Mean level over the band of the sensitivity, dB. */
  readonly middleDb: number;
}

/** Slopes of all that was played for a factor of e in one variable. */
export interface Slopes {
  readonly variable: number;
  readonly axis: AxisSlopes;
  /** Mean of the sum's slope over the band. */
  readonly meanDb: number;
  /** Of ln|Z|, and of Z's phase in degrees. */
  readonly lnZ: Float64Array;
  readonly angle: Float64Array;
  /** Of the listening window's level; of each resistor's heat. */
  readonly windowDb: Float64Array;
  readonly watts: Float64Array;
  /** Of the drivers' mean square voltages and excursions. */
  readonly strain: Float64Array;
}

/** One aim of a fit, as residuals in dB that are 0 where it is met. */
export interface Term {
  readonly rows: number;
  /**
   * @param power 1 for squares of the deviation on axis, 2 for fourth powers
   * @param row of `out` at which it begins
   */
  residuals(played: Played, power: 1 | 2, out: Float64Array, row: number): void;
  /** Writes into a column of zeros. */
  derivatives(
    played: Played,
    power: 1 | 2,
    slopes: Slopes,
    column: Float64Array,
    row: number,
  ): void;
}

export const decibelsPerNeper = 20 / Math.LN10;
/**
 * Breaking a limit somewhere counts as much as a deviation on axis this many times as large: a
 * limit is not traded against evenness, it is kept.
 */
export const limitFactor = 6;
/** Degrees of phase that weigh like a decibel. */
export const degreesPerDb = 15;

/** Mean of a curve over some places. */
export function meanAt(curve: Float64Array, places: Int32Array): number {
  let sum = 0;
  for (const i of places) sum += curve[i];
  return sum / places.length;
}

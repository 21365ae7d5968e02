/** How good a design is, in the units of its promises. */
export interface FitFigures {
  /** Half the height of the band that holds the response on axis. */
  readonly deviationDb: number;
  /** Root of its mean square deviation. */
  readonly rmsDb: number;
  readonly lowestOhms: number;
  readonly levelDb: number;
  /** Largest loss between neighbours; null where nobody asks or nothing hands over. */
  readonly lossDb: number | null;
  /**
   * Half the height of the band that holds the mean over the listening window; null where it is not
   * known or not asked for.
   */
  readonly windowDb: number | null;
  /** How far the directivity index is off a straight line; null as above. */
  readonly directivityDb: number | null;
  /** Root mean square of what is known of axis, window and directivity: what networks are told by. */
  readonly errorDb: number;
  /** Of the hottest resistor under programme; null where it is not asked for. */
  readonly hottestWatts: number | null;
  /** Cost of all parts, at the prices of the goal. */
  readonly outlay: number;
  /** Limits that are exceeded by more than a rounding. */
  readonly brokenCount: number;
}

/** Of those that are known. */
export function rootMeanSquare(figures: readonly (number | null)[]): number {
  const known = figures.filter((figure) => figure !== null);
  return Math.sqrt(known.reduce((sum, figure) => sum + figure * figure, 0) / known.length);
}

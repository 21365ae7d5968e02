import type { FitInputs } from '@/core/fitting/inputs';
import type { Limit } from '@/core/fitting/goal';
import { addSlopes } from '@/core/fitting/play/curve';
import { type Playback } from '@/core/fitting/play/playback';

/** What the terms of a goal are made from. */
export interface TermContext {
  readonly playback: Playback;
  readonly inputs: FitInputs;
  /** Places of the grid in the band of the target, and in that of the sensitivity. */
  readonly inBand: Int32Array;
  readonly inMiddle: Int32Array;
  /** Mean level of the sum in each. */
  readonly band: MeanLevel;
  readonly middle: MeanLevel;
  /** Where anything is heard. */
  readonly isHeard: (i: number) => boolean;
  /** Resistance before the terminals; 0 where there is no one voltage at them. */
  readonly sourceOhms: number;
}

/** Mean level of the sum over some places, worked out once for each solution. */
export interface MeanLevel {
  /** To be called when something was solved. */
  readonly reset: () => void;
  readonly db: () => number;
  readonly slopesOf: () => Float64Array;
}

export function createMeanLevel(
  { sum, sumDb, variables }: Playback,
  places: Int32Array,
): MeanLevel {
  const slopes = new Float64Array(variables.length);
  let db = NaN;
  let isMade = false;
  return {
    reset() {
      db = meanAt(sumDb, places);
      isMade = false;
    },
    db: () => db,
    slopesOf() {
      if (isMade) return slopes;
      isMade = true;
      slopes.fill(0);
      const each = decibelsPerNeper / places.length;
      for (const i of places) addSlopes(sum, i, each, 0, slopes, 0, variables.length);
      return slopes;
    },
  };
}

/** Takes rows that are near their limit. */
export interface RowWriter {
  /**
   * @param value decibels over the limit, or what counts like them
   * @returns where the slopes of the row begin; −1 when there is no room
   */
  readonly open: (value: number) => number;
  readonly slopes: Float64Array;
}

/** A limit of a goal, as decibels over it. */
export interface Term {
  readonly limit: Limit;
  /** What a decibel over it costs beside a decibel of deviation on axis. */
  readonly rate: number;
  /** Whether it is a curve, of which many places may be over at once. */
  readonly isCurve: boolean;
  /** Decibels over the limit at the worst place; −Infinity where nothing is known. */
  readonly worst: () => number;
  /** Writes rows that are above `from` decibels, with their slopes. */
  readonly write: (from: number, rows: RowWriter) => void;
  /** The figure as its promise tells it; null where nothing is known. */
  readonly figure: () => number | null;
}

export const decibelsPerNeper = 20 / Math.LN10;

/** What a limit costs per decibel over it when it must be kept. */
export const firmRate = 3;

/** Mean of a curve over some places. */
export function meanAt(curve: Float64Array, places: Int32Array): number {
  let sum = 0;
  for (const i of places) sum += curve[i];
  return sum / places.length;
}

/** What is known of a limit at some places. */
interface Excess {
  readonly limit: Limit;
  readonly rate: number;
  /** Decibels over the limit at a place. */
  readonly excess: (i: number) => number;
  /** Adds its slopes to a row that holds zeros. */
  readonly slopes: (i: number, out: Float64Array, at: number) => void;
  readonly figure: () => number | null;
}

/** Places to each side of a peak of a curve that may come over a limit with the same step. */
const besidePeak = 2;

/** Whether a place of a curve, which runs from one place to before another, is next to a peak. */
export function isNearPeak(curve: Float64Array, at: number, from: number, to: number): boolean {
  const last = Math.min(to - 1, at + besidePeak);
  for (let j = Math.max(from, at - besidePeak); j <= last; j++)
    if ((j === from || !(curve[j - 1] > curve[j])) && (j === to - 1 || !(curve[j + 1] > curve[j])))
      return true;
  return false;
}

/**
 * A limit on something at every place of a curve. Of what is not over the limit only peaks are
 * written, with what is next to them: the rest follows them.
 */
export function curveTerm({
  limit,
  rate,
  places,
  excess,
  slopes,
  figure,
}: Excess & { readonly places: Int32Array }): Term {
  const over = new Float64Array(places.length);
  return {
    ...{ limit, rate, figure },
    isCurve: true,
    worst() {
      let worst = -Infinity;
      for (let k = 0; k < places.length; k++) {
        over[k] = excess(places[k]);
        if (over[k] > worst) worst = over[k];
      }
      return worst;
    },
    write(from, rows) {
      for (let k = 0; k < places.length; k++) {
        if (!(over[k] > from) || !(over[k] > 0 || isNearPeak(over, k, 0, places.length))) continue;
        const at = rows.open(over[k]);
        if (at < 0) return;
        slopes(places[k], rows.slopes, at);
      }
    },
  };
}

/** Limits on a few single figures. */
export function singleTerm({
  count,
  excess,
  slopes,
  ...rest
}: Excess & { readonly count: number }): Term {
  const over = new Float64Array(count);
  return {
    ...rest,
    isCurve: false,
    worst() {
      let worst = -Infinity;
      for (let k = 0; k < count; k++) {
        over[k] = excess(k);
        if (over[k] > worst) worst = over[k];
      }
      return worst;
    },
    write(from, rows) {
      for (let k = 0; k < count; k++) {
        if (!(over[k] > from)) continue;
        const at = rows.open(over[k]);
        if (at < 0) return;
        slopes(k, rows.slopes, at);
      }
    },
  };
}

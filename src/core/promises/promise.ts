import type { SeatConditions } from '@/core/brief/arithmetic';
import type { PromiseKind, Target } from '@/core/design/briefSchema';
import type { Band } from '@/core/design/figures';

/** Where a promise comes from. */
export interface Source {
  /** Answers of the brief that it follows from, in words; empty for a promise made by hand. */
  readonly answers: readonly string[];
  /** How its limit was found. */
  readonly arithmetic: string;
  /** Changed by hand since. */
  readonly isAdjusted: boolean;
}

/**
 * Something measurable that the speaker must do. It holds all that is needed to judge it, except the curves: null
 * where an answer or a data sheet is missing.
 */
export interface DesignPromise {
  readonly id: string;
  readonly kind: PromiseKind;
  readonly atLeast: number | null;
  readonly atMost: number | null;
  readonly band: Band | null;
  /** 1, may give way first, to 5. */
  readonly weight: number;
  readonly source: Source;
  readonly conditions: Conditions;
}

/** What a promise is judged under. */
export interface Conditions {
  readonly target: Target;
  /** Voltage at which the prediction's levels hold. */
  readonly volts: number;
  readonly seat: SeatConditions | null;
  readonly travel: TravelConditions | null;
}

export interface TravelConditions {
  readonly driverName: string;
  readonly allowedMm: number;
  /** Travel to each side, peak, for the level asked for. */
  readonly neededMm: number;
  readonly atHz: number;
}

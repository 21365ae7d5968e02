import type { SeatConditions } from '@/core/brief/arithmetic';
import type { CrossingLimits } from '@/core/brief/crossing';
import type { PromiseKind, Target } from '@/core/document/briefSchema';
import type { Band } from '@/core/prediction/figures';
import type { Quadrature } from '@/core/document/meantPhase';
import type { Seat } from '@/core/document/seats';
import type { WayId } from '@/core/fields';
import type { Design, Driver, WayTarget } from '@/core/document/schema';
import type { Direction } from '@/core/radiation/direction';
import type { DriverLoad } from '@/core/prediction/strain';

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
 * Something measurable that the speaker must do. It holds all that is needed to judge it, except
 * the curves: null where an answer or a data sheet is missing.
 */
export interface DesignPromise {
  readonly id: string;
  readonly kind: PromiseKind;
  readonly atLeast: number | null;
  readonly atMost: number | null;
  readonly band: Band | null;
  /** Direction that it is about; null for most. */
  readonly angle: Direction | null;
  /** 1, may give way first, to 5. */
  readonly weight: number;
  readonly source: Source;
  readonly conditions: Conditions;
}

/** What a promise is judged under. */
export interface Conditions {
  readonly target: Target;
  /** What drives the prediction: its levels hold for this amplifier's voltage. */
  readonly amplifier: Design['amplifier'];
  readonly seat: SeatConditions | null;
  /** All seats that the brief tells of. */
  readonly seats: readonly Seat[];
  /** Ways that are meant to be 90° apart. */
  readonly quadrature: Quadrature;
  /** Ways with the slopes that they are to follow. */
  readonly targets: readonly { readonly wayId: WayId; readonly slopes: WayTarget }[];
  /** Highest frequencies at which two drivers, by their ids, can hand over. */
  readonly crossingLimits: CrossingLimits;
  /** Drivers with what their data sheets allow. */
  readonly drivers: readonly Driver[];
  /** Rms voltage of the programme at the source; null while the brief does not say the power. */
  readonly driveVolts: number | null;
  /** Outside volume of the boxes in use; null while none is. */
  readonly outsideLitres: number | null;
  /** Long-term level that is asked for at the farthest seat. */
  readonly loudnessDb: number | null;
  /** Loads of the drivers by their data sheets alone, at that level: while nothing is measured. */
  readonly sheetLoads: readonly DriverLoad[];
}

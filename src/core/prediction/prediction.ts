import type { DriverId, PairId, WayId } from '@/core/fields';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { Mark } from '@/core/measurement/steps/step';
import { problem, type Problem } from '@/core/problem';
import type { Motion } from '@/core/driver/motion';
import type { SpinCurves } from '@/core/radiation/cta2034';
import type { RadiationSource } from '@/core/radiation/direction';
import type { PlayingRange } from './wayOrder';
import type { Resonance } from '@/core/driver/resonance';

/** Something the designer should know about a prediction. */
export interface Finding extends Problem {
  /** `stops` when something could not be computed, `doubt` when a result rests on a guess. */
  readonly severity: 'stops' | 'doubt';
  /** Id of the driver, way or measurement concerned, or null. */
  readonly about: string | null;
}

/**
 * Something about a way, driver or part that stops or is in doubt.
 *
 * @param about id of what it is about
 * @param told code, name, what, why and how to mend it, as `problem` takes them
 */
export const finding = (
  severity: Finding['severity'],
  about: string,
  ...told: Parameters<typeof problem>
): Finding => ({ ...problem(...told).problem, severity, about });

export interface WayPrediction {
  readonly wayId: WayId;
  /** Where its drivers play by themselves; null for a silent way. */
  readonly range: PlayingRange | null;
  /** Contribution to the sum, and its level in dB; −Infinity where the driver counts as silent. */
  readonly pressure: GridSpectrum;
  readonly levelDb: Float64Array;
  /** Voltage at the end of the rail: of drivers in series, across all of them. */
  readonly voltage: GridSpectrum;
  /** Stretches of the driver's response that were not measured. */
  readonly gaps: readonly Mark[];
}

/** Impedance at a pair of terminals. */
export interface PairLoad {
  readonly pairId: PairId;
  readonly name: string;
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
}

/** A level off the axis, dB as the sum on it, and what it rests on. */
export interface OffAxisLevel {
  readonly levelDb: Float64Array;
  /** The least certain of all drivers and directions. */
  readonly source: RadiationSource;
}

/** Means over the sphere after ANSI/CTA-2034-A, dB as the sum on the axis, and what they rest on. */
export interface SpinLevels extends Omit<SpinCurves, 'onAxis'> {
  readonly source: RadiationSource;
}

/** What is heard off the axis. */
export interface OffAxisLevels {
  /**
   * Mean energy over the listening window; null where some driver was neither measured off its axis
   * nor can be modelled there.
   */
  readonly window: OffAxisLevel | null;
  readonly spin: SpinLevels | null;
  /** At the seats of the brief and in the directions of promises, by the ids of these. */
  readonly places: readonly (OffAxisLevel & { readonly id: string })[];
  /** What is yet to be worked out, as it takes its time; null when all is there. */
  readonly due: 'window' | 'whole' | null;
}

/** Figures drawn from the curves. */
export interface PredictionSummary {
  /** Smallest |Z| at the amplifier's terminals. */
  readonly lowestImpedance: { readonly ohms: number; readonly atHz: number } | null;
  /** Mean level of the sum over 200 Hz–15 kHz (log frequency), and how far it strays from that. */
  readonly onAxis: {
    readonly fromHz: number;
    readonly toHz: number;
    readonly meanDb: number;
    readonly highestDb: number;
    readonly highestAtHz: number;
    readonly lowestDb: number;
    readonly lowestAtHz: number;
  } | null;
}

/**
 * What a driver takes of a programme with 1 V rms at the source behind the amplifier; all grows
 * with that voltage.
 */
export interface DriverStrain {
  readonly wayId: WayId;
  readonly driverId: DriverId;
  /** Mean square voltage at the driver, and electrical power into it, W. */
  readonly voltsSquared: number;
  readonly watts: number;
  /** Null while force factor or resonance are not known. */
  readonly excursion: DriverExcursion | null;
  /** The programme's excursion under this frequency is not in it; 0 when all is. */
  readonly excursionFromHz: number;
  /**
   * Air in the port of its box, rms m/s as {@link DriverExcursion}; null without a port or a box in
   * use.
   */
  readonly portRmsMps: number | null;
  /** Whether a box in use holds it, so that its low end is not what was measured. */
  readonly isBoxed: boolean;
  /** Smallest impedance that was measured, Ω; null when none was. */
  readonly lowestOhms: number | null;
  /**
   * Its resonance, and how far the voltage there lies under the highest above it; null where it is
   * not known.
   */
  readonly resonance: (Resonance & { readonly attenuationDb: number }) | null;
  /** Where its cone begins to break up by its measured response; null where that does not show. */
  readonly breakUpHz: number | null;
}

/** How far a cone moves for 1 V rms at the source. */
interface DriverExcursion {
  /** Of the programme, rms. */
  readonly rmsMm: number;
  /** Over the frequencies of the prediction: peak for a sine; NaN where it is not known. */
  readonly sinePeakMm: Float64Array;
  readonly basis: Motion['basis'];
}

/** Everything computed from a design; arrays run over `frequencyHz`. */
export interface Prediction {
  readonly frequencyHz: Float64Array;
  /** Only ways that could be computed, in the design's order. */
  readonly ways: readonly WayPrediction[];
  /** On the design axis, referred to 1 m. Null without any usable way. */
  readonly sum: { readonly pressure: GridSpectrum; readonly levelDb: Float64Array } | null;
  readonly offAxis: OffAxisLevels;
  /** Load of the amplifier; of several, at each frequency that with the least magnitude. */
  readonly impedance: { readonly ohms: Float64Array; readonly phaseDeg: Float64Array } | null;
  /** What the amplifier at each pair of terminals sees; a single one when the pairs are joined. */
  readonly loads: readonly PairLoad[];
  /** What each driver takes of a programme. */
  readonly strains: readonly DriverStrain[];
  readonly findings: readonly Finding[];
  readonly summary: PredictionSummary;
}

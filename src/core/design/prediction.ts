import type { Mark } from '@/core/measurement/condition';
import { lowestOhms } from './figures';
import type { Problem } from '@/core/problem';
import type { DriverStrain } from './strain';

/** Something the designer should know about a prediction. */
export interface Finding extends Problem {
  /** `stops` when something could not be computed, `doubt` when a result rests on a guess. */
  readonly severity: 'stops' | 'doubt';
  /** Id of the driver, way or measurement concerned, or null. */
  readonly about: string | null;
}

export interface WayPrediction {
  readonly wayId: string;
  /** Contribution to the sum, dB as the sum. −Infinity where the driver counts as silent. */
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
  /** Voltage at the end of the rail: of drivers in series, across all of them. */
  readonly volts: Float64Array;
  readonly voltsPhaseDeg: Float64Array;
  /** Level of the sum if this way were connected the other way round. */
  readonly sumIfReversedDb: Float64Array;
  /** Stretches of the driver's response that were bridged. */
  readonly bridges: readonly Mark[];
}

/** Impedance at a pair of terminals. */
export interface PairLoad {
  readonly pairId: string;
  readonly name: string;
  readonly ohms: Float64Array;
  readonly phaseDeg: Float64Array;
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

/** Everything computed from a design; arrays run over `frequencyHz`. */
export interface Prediction {
  readonly frequencyHz: Float64Array;
  /** Only ways that could be computed, in the design's order. */
  readonly ways: readonly WayPrediction[];
  /** On the design axis, referred to 1 m. Null without any usable way. */
  readonly sum: { readonly levelDb: Float64Array; readonly phaseDeg: Float64Array } | null;
  /** Mean energy over the listening window; null where some driver was not measured off its axis. */
  readonly window: { readonly levelDb: Float64Array } | null;
  /** Load of the amplifier; of several, at each frequency that with the least magnitude. */
  readonly impedance: { readonly ohms: Float64Array; readonly phaseDeg: Float64Array } | null;
  /** What the amplifier at each pair of terminals sees; a single one when the pairs are joined. */
  readonly loads: readonly PairLoad[];
  /** What each driver takes of a programme. */
  readonly strains: readonly DriverStrain[];
  readonly findings: readonly Finding[];
  readonly summary: PredictionSummary;
}

/** Band in which the on-axis figures are taken. */
const onAxisBandHz = { from: 200, to: 15_000 };

/** Figures of a prediction, from its sum and impedance. */
export function summarise(
  frequencyHz: Float64Array,
  sum: Prediction['sum'],
  impedance: Prediction['impedance'],
): PredictionSummary {
  const lowest = lowestOhms({ frequencyHz, impedance });
  return {
    lowestImpedance: lowest && { ohms: lowest.value, atHz: lowest.atHz },
    onAxis: sum && spread(frequencyHz, sum.levelDb),
  };
}

function spread(frequencyHz: Float64Array, levelDb: Float64Array): PredictionSummary['onAxis'] {
  let count = 0;
  let total = 0;
  let high = -1;
  let low = -1;
  for (let i = 0; i < levelDb.length; i++) {
    if (
      frequencyHz[i] < onAxisBandHz.from ||
      frequencyHz[i] > onAxisBandHz.to ||
      !Number.isFinite(levelDb[i])
    )
      continue;
    count++;
    total += levelDb[i];
    if (high < 0 || levelDb[i] > levelDb[high]) high = i;
    if (low < 0 || levelDb[i] < levelDb[low]) low = i;
  }
  if (count === 0) return null;
  const meanDb = total / count;
  return {
    fromHz: onAxisBandHz.from,
    toHz: onAxisBandHz.to,
    meanDb,
    highestDb: levelDb[high] - meanDb,
    highestAtHz: frequencyHz[high],
    lowestDb: levelDb[low] - meanDb,
    lowestAtHz: frequencyHz[low],
  };
}

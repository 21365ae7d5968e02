import { nearestIndex } from '@/core/grid/nearest';
import { formatFixed } from '@/core/units/quantity';
import { phaseBetweenDeg } from '@/core/prediction/crossoverLoss';
import { crossovers } from '@/core/prediction/crossovers';
import { sumIfReversedDb } from '@/core/prediction/derived';
import type { Prediction, WayPrediction } from '@/core/prediction/prediction';

/** How two neighbouring ways hand over. */
export interface CrossoverReport {
  readonly lowerId: string;
  readonly upperId: string;
  readonly atHz: number;
  /** Phase of the lower over the upper at that frequency, −180…180°. */
  readonly phaseDeg: number;
  /**
   * How far the sum falls at its deepest within half an octave when the upper way is turned round,
   * dB; above 0 when it falls.
   */
  readonly nullDb: number;
  /**
   * Acoustic slopes from one to two octaves beyond the crossover, dB per octave; null where the
   * data end before.
   */
  readonly lowerSlopeDb: number | null;
  readonly upperSlopeDb: number | null;
}

/** Handovers of a prediction from the lowest up. */
export function crossoverReports(prediction: Prediction): CrossoverReport[] {
  const { frequencyHz, sum } = prediction;
  if (!sum) return [];
  return crossovers(prediction).map(({ lower, upper, atHz }) => {
    const i = nearestIndex(frequencyHz, atHz);
    const reversedDb = sumIfReversedDb(sum, upper);
    let nullDb = -Infinity;
    frequencyHz.forEach((hz, k) => {
      if (Math.abs(Math.log2(hz / atHz)) > 0.5) return;
      const fall = sum.levelDb[k] - reversedDb[k];
      if (fall > nullDb) nullDb = fall;
    });
    return {
      lowerId: lower.wayId,
      upperId: upper.wayId,
      atHz,
      phaseDeg: phaseBetweenDeg(lower, upper, i),
      nullDb,
      lowerSlopeDb: slope(frequencyHz, lower, 2 * atHz, 4 * atHz),
      upperSlopeDb: slope(frequencyHz, upper, atHz / 4, atHz / 2),
    };
  });
}

/** What turning one of two ways round would do to their sum, as a sentence. */
export function ifReversed({ nullDb }: Pick<CrossoverReport, 'nullDb'>): string {
  const size = formatFixed(Math.min(60, Math.abs(nullDb)), 0);
  if (nullDb > leastChangeDb) return `with reversed polarity the sum would dip by ${size} dB.`;
  return nullDb < -leastChangeDb
    ? `with reversed polarity the sum would be louder there, by ${size} dB or more.`
    : 'with reversed polarity the sum would hardly change.';
}

/** Change of a sum that is worth a word, dB. */
const leastChangeDb = 1;

/** Shortest stretch over which a slope is told, octaves. */
const leastStretch = 0.5;

/** Slope of a way's level between two frequencies, dB per octave, as far as the data go. */
function slope(
  frequencyHz: Float64Array,
  { levelDb }: WayPrediction,
  fromHz: number,
  toHz: number,
): number | null {
  const from = nearestIndex(frequencyHz, fromHz);
  const to = nearestIndex(frequencyHz, toHz);
  const octaves = Math.log2(frequencyHz[to] / frequencyHz[from]);
  const change = levelDb[to] - levelDb[from];
  return octaves >= leastStretch && Number.isFinite(change) ? change / octaves : null;
}

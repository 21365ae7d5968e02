import { crossovers } from './figures';
import type { Prediction, WayPrediction } from './prediction';

/** How two neighbouring ways hand over. */
export interface Handover {
  readonly lowerId: string;
  readonly upperId: string;
  readonly atHz: number;
  /** Phase of the lower over the upper at that frequency, −180…180°. */
  readonly phaseDeg: number;
  /** How far the sum falls at its deepest within half an octave when the upper way is turned round, dB; above 0 when it falls. */
  readonly nullDb: number;
  /** Acoustic slopes where each is on its way out, over the octave beyond the crossover, dB per octave; null outside the data. */
  readonly lowerSlopeDb: number | null;
  readonly upperSlopeDb: number | null;
}

/** Handovers of a prediction from the lowest up. */
export function handovers(prediction: Prediction): Handover[] {
  const { frequencyHz, sum } = prediction;
  if (!sum) return [];
  return crossovers(prediction).map(({ lower, upper, atHz }) => {
    const i = nearest(frequencyHz, atHz);
    const turn = lower.phaseDeg[i] - upper.phaseDeg[i];
    let nullDb = -Infinity;
    frequencyHz.forEach((hz, k) => {
      if (Math.abs(Math.log2(hz / atHz)) > 0.5) return;
      const fall = sum.levelDb[k] - upper.sumIfReversedDb[k];
      if (fall > nullDb) nullDb = fall;
    });
    return {
      lowerId: lower.wayId,
      upperId: upper.wayId,
      atHz,
      phaseDeg: turn - 360 * Math.round(turn / 360),
      nullDb,
      lowerSlopeDb: slope(frequencyHz, lower, atHz, 2 * atHz),
      upperSlopeDb: slope(frequencyHz, upper, atHz / 2, atHz),
    };
  });
}

/** Change of a way's level from one frequency to another an octave above, dB. */
function slope(
  frequencyHz: Float64Array,
  { levelDb }: WayPrediction,
  fromHz: number,
  toHz: number,
): number | null {
  if (fromHz < frequencyHz[0] || toHz > frequencyHz[frequencyHz.length - 1]) return null;
  const change = levelDb[nearest(frequencyHz, toHz)] - levelDb[nearest(frequencyHz, fromHz)];
  return Number.isFinite(change) ? change : null;
}

function nearest(frequencyHz: Float64Array, hz: number): number {
  let best = 0;
  for (let i = 1; i < frequencyHz.length; i++)
    if (Math.abs(Math.log(frequencyHz[i] / hz)) < Math.abs(Math.log(frequencyHz[best] / hz)))
      best = i;
  return best;
}

import type { Prediction, WayPrediction } from './prediction';
import { fromLowest } from './wayOrder';

/** Where two neighbouring ways cross over: equal in level, and both heard. */
export interface Crossover {
  readonly lower: WayPrediction;
  readonly upper: WayPrediction;
  readonly atHz: number;
}

/** Crossover frequencies between neighbouring ways, in the order of {@link fromLowest}. */
export function crossovers({ frequencyHz, ways }: Prediction): readonly Crossover[] {
  const known = found.get(ways);
  if (known) return known;
  const crossings = crossoversOf(frequencyHz, ways);
  found.set(ways, crossings);
  return crossings;
}

/** A prediction never changes, and several promises ask for the same crossovers. */
const found = new WeakMap<Prediction['ways'], readonly Crossover[]>();

function crossoversOf(
  frequencyHz: Float64Array,
  ways: readonly WayPrediction[],
): readonly Crossover[] {
  const heard = fromLowest(ways.filter(({ levelDb }) => levelDb.some(Number.isFinite)));
  return heard.slice(1).flatMap((upper, i) => {
    const lower = heard[i];
    const j = crossingIndex(lower.levelDb, upper.levelDb);
    if (j < 0) return [];
    const before = lower.levelDb[j - 1] - upper.levelDb[j - 1];
    const after = lower.levelDb[j] - upper.levelDb[j];
    const share = Number.isFinite(before - after) ? before / (before - after) : 1;
    const atHz = frequencyHz[j - 1] * (frequencyHz[j] / frequencyHz[j - 1]) ** share;
    return [{ lower, upper, atHz }];
  });
}

/**
 * Place on the grid before which a lower way falls under an upper one; of several the loudest.
 *
 * @returns -1 where they never cross
 */
export function crossingIndex(lowerDb: Float64Array, upperDb: Float64Array): number {
  let cross = -1;
  for (let i = 1; i < lowerDb.length; i++)
    if (
      lowerDb[i - 1] > upperDb[i - 1] &&
      lowerDb[i] <= upperDb[i] &&
      (cross < 0 || lowerDb[i] > lowerDb[cross])
    )
      cross = i;
  return cross;
}

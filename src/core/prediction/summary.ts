import { lowestOhms } from './figures';
import type { Prediction, PredictionSummary } from './prediction';

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

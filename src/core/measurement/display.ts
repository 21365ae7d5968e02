import type { Samples } from './samples';

/**
 * Fewer points of a long table, for drawing only: the lowest and highest value of each of `columns`
 * equal steps of log frequency, so that no peak or dip disappears. Short tables come back as they
 * are.
 *
 * @param samples any measurement
 * @param columns steps across the table; at most twice as many points come back
 */
export function thinnedForDisplay(samples: Samples, columns = 600): Samples {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const count = frequencyHz.length;
  if (count <= 2 * columns) return samples;
  const first = Math.log(frequencyHz[0]);
  const span = Math.log(frequencyHz[count - 1]) - first;
  const kept: number[] = [];
  for (let start = 0; start < count;) {
    const column = Math.floor(((Math.log(frequencyHz[start]) - first) / span) * columns);
    let [low, high, end] = [start, start, start];
    for (
      ;
      end < count && Math.floor(((Math.log(frequencyHz[end]) - first) / span) * columns) === column;
      end++
    ) {
      if (magnitude[end] < magnitude[low]) low = end;
      if (magnitude[end] > magnitude[high]) high = end;
    }
    kept.push(...new Set([Math.min(low, high), Math.max(low, high)]));
    start = end;
  }
  const pick = (values: Float64Array) => Float64Array.from(kept, (i) => values[i]);
  return {
    frequencyHz: pick(frequencyHz),
    magnitude: pick(magnitude),
    phaseDeg: phaseDeg && pick(phaseDeg),
  };
}

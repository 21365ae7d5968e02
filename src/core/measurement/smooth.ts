import { decibels } from '@/core/spectrum/level';
import type { Samples } from './samples';

/**
 * A response with its power averaged over a share of an octave, for display and for looking at its
 * course. Phase stays. Runs in one pass over cumulative sums, with the ends of each window between
 * points taken in proportion.
 *
 * @param octaves width of the window, e.g. 1/6
 */
export function smoothed(samples: Samples, octaves: number): Samples {
  const { frequencyHz, magnitude } = samples;
  const n = frequencyHz.length;
  const u = frequencyHz.map(Math.log2);
  // Power is constant over each point's cell, which reaches half-way to its neighbours.
  const edges = Float64Array.from({ length: n + 1 }, (_, i) =>
    i === 0 ? u[0] : i === n ? u[n - 1] : (u[i - 1] + u[i]) / 2,
  );
  const sums = new Float64Array(n + 1);
  const power = magnitude.map((level) => 10 ** (level / 10));
  for (let i = 0; i < n; i++) sums[i + 1] = sums[i] + power[i] * (edges[i + 1] - edges[i]);
  let cell = 0;
  const upTo = (place: number) => {
    while (cell > 0 && edges[cell] > place) cell--;
    while (cell < n - 1 && edges[cell + 1] < place) cell++;
    return sums[cell] + power[cell] * (place - edges[cell]);
  };
  const out = u.map((centre) => {
    const from = Math.max(u[0], centre - octaves / 2);
    const to = Math.min(u[n - 1], centre + octaves / 2);
    return decibels((upTo(to) - upTo(from)) / (to - from)) / 2;
  });
  return { ...samples, magnitude: out };
}

import type { LimitOf } from '@/core/fitting/goal';
import { decibelsPerNeper, firmRate, singleTerm, type Term, type TermContext } from './term';

/** A tenth of a decibel per octave too much counts as this much on axis. */
const slopeRate = 3 * firmRate;

/** Slope of the directivity index over a band: the line of least squares over log frequency. */
export function slopeTerm(
  limit: LimitOf<'index-slope'>,
  places: Int32Array,
  { playback }: TermContext,
): Term | null {
  const { window, soundPower, frequencyHz } = playback;
  if (!window || !soundPower || places.length < 3) return null;
  const points = frequencyHz.length;
  const octaves = Float64Array.from(places, (i) => Math.log2(frequencyHz[i]));
  const middle = octaves.reduce((sum, x) => sum + x, 0) / places.length;
  const square = octaves.reduce((sum, x) => sum + (x - middle) ** 2, 0);
  const share = octaves.map((x) => (x - middle) / square);
  const slope = () =>
    places.reduce(
      (sum, i, k) => sum + share[k] * 10 * Math.log10(window.energy[i] / soundPower.energy[i]),
      0,
    );
  const sides = [
    ...(limit.most === null ? [] : [{ sign: 1, limit: limit.most }]),
    ...(limit.least === null ? [] : [{ sign: -1, limit: limit.least }]),
  ];
  return singleTerm({
    limit,
    rate: slopeRate,
    count: sides.length,
    excess: (k) => sides[k].sign * (slope() - sides[k].limit),
    slopes(k, out, at) {
      const [upper, lower] = [window.slopes(), soundPower.slopes()];
      places.forEach((i, p) => {
        const scale = (sides[k].sign * share[p] * decibelsPerNeper) / 2;
        for (let v = 0, from = i; from < upper.length; v++, from += points)
          out[at + v] +=
            scale * (upper[from] / window.energy[i] - lower[from] / soundPower.energy[i]);
      });
    },
    figure: slope,
  });
}

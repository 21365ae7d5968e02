import type { LimitOf } from '@/core/fitting/goal';
import { equivalentOhms } from '@/core/prediction/figures';
import { curveTerm, decibelsPerNeper, firmRate, type Term, type TermContext } from './term';

const smallest = (places: Int32Array, of: (i: number) => number) => {
  let least = Infinity;
  for (const i of places) least = Math.min(least, of(i));
  return least;
};

/** |Z|, at every frequency. */
export function loadTerm(limit: LimitOf<'load' | 'equivalent'>, { playback }: TermContext): Term {
  const { ohms, frequencyHz } = playback;
  const places = Int32Array.from(frequencyHz, (_, i) => i);
  return curveTerm({
    limit,
    rate: firmRate,
    places,
    excess: (i) => decibelsPerNeper * Math.log(limit.leastOhms / ohms[i]),
    slopes: (i, out, at) => playback.addLoadSlopes(i, -decibelsPerNeper, 0, out, at),
    figure: () => smallest(places, (i) => ohms[i]),
  });
}

/** Step for the slope of the equivalent resistance over phase, degrees. */
const turnDeg = 1e-4;
const degreesPerRadian = 180 / Math.PI;

/** Equivalent peak dissipation resistance, at every frequency. */
export function equivalentTerm(
  limit: LimitOf<'load' | 'equivalent'>,
  { playback }: TermContext,
): Term {
  const { ohms, phaseDeg, frequencyHz } = playback;
  const places = Int32Array.from(frequencyHz, (_, i) => i);
  const at = (i: number) => equivalentOhms(ohms[i], phaseDeg[i]);
  return curveTerm({
    limit,
    rate: firmRate,
    places,
    excess: (i) => decibelsPerNeper * Math.log(limit.leastOhms / at(i)),
    slopes(i, out, at0) {
      const ratio =
        equivalentOhms(1, phaseDeg[i] + turnDeg) / equivalentOhms(1, phaseDeg[i] - turnDeg);
      const perRadian = (degreesPerRadian * Math.log(ratio)) / (2 * turnDeg);
      playback.addLoadSlopes(i, -decibelsPerNeper, -decibelsPerNeper * perRadian, out, at0);
    },
    figure: () => smallest(places, at),
  });
}

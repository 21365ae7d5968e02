import { equivalentOhms } from '@/core/prediction/figures';
import type { Goal } from '@/core/fitting/goal';
import { type Term, decibelsPerNeper, limitFactor } from './term';

/** |Z|, at every frequency. */
export function loadTerm({ weight, leastOhms }: NonNullable<Goal['load']>, points: number): Term {
  const factor = weight * Math.sqrt(1 / points) * limitFactor * decibelsPerNeper;
  return {
    rows: points,
    residuals({ playback: { ohms } }, _, out, row) {
      for (let i = 0; i < points; i++)
        out[row + i] = ohms[i] < leastOhms ? factor * Math.log(leastOhms / ohms[i]) : 0;
    },
    derivatives({ playback: { ohms } }, _, { lnZ }, column, row) {
      for (let i = 0; i < points; i++) if (ohms[i] < leastOhms) column[row + i] = -factor * lnZ[i];
    },
  };
}

/** Step for the slope of the equivalent resistance over phase, degrees. */
const turnDeg = 1e-4;

/** Equivalent peak dissipation resistance, at every frequency. */
export function equivalentTerm(
  { weight, leastOhms }: NonNullable<Goal['equivalent']>,
  points: number,
): Term {
  const factor = weight * Math.sqrt(1 / points) * limitFactor * decibelsPerNeper;
  return {
    rows: points,
    residuals({ playback: { ohms, phaseDeg } }, _, out, row) {
      for (let i = 0; i < points; i++) {
        const value = equivalentOhms(ohms[i], phaseDeg[i]);
        out[row + i] = value < leastOhms ? factor * Math.log(leastOhms / value) : 0;
      }
    },
    derivatives({ playback: { ohms, phaseDeg } }, _, { lnZ, angle }, column, row) {
      for (let i = 0; i < points; i++) {
        if (equivalentOhms(ohms[i], phaseDeg[i]) >= leastOhms) continue;
        const ratio =
          equivalentOhms(1, phaseDeg[i] + turnDeg) / equivalentOhms(1, phaseDeg[i] - turnDeg);
        column[row + i] = -factor * (lnZ[i] + (Math.log(ratio) / (2 * turnDeg)) * angle[i]);
      }
    },
  };
}

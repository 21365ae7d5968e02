import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { GradientSolver } from '@/core/network/gradient';

/** A driver that is heard: pressure per volt at its probe. */
export interface Voice extends GridSpectrum {
  readonly probe: number;
}

/** The mean energy over several directions, over frequency. */
interface WindowPlayback {
  readonly levelDb: Float64Array;
  /** Works it out from what the solver found. */
  evaluate(): void;
  /** Slopes of the level for a factor of e in what some of the solver's elements share, dB. */
  slopes(elements: readonly number[], out: Float64Array): void;
}

const decibelsPerNeper = 10 / Math.LN10;

/**
 * @param directions the drivers that are heard, direction by direction, the axis among them
 * @param points of the frequency grid
 */
export function createWindowPlayback(
  solver: GradientSolver,
  directions: readonly (readonly Voice[])[],
  points: number,
): WindowPlayback {
  const levelDb = new Float64Array(points);
  const energy = new Float64Array(points);
  const sumRe = directions.map(() => new Float64Array(points));
  const sumIm = directions.map(() => new Float64Array(points));
  return {
    levelDb,
    evaluate() {
      energy.fill(0);
      directions.forEach((voices, d) => {
        const [totalRe, totalIm] = [sumRe[d].fill(0), sumIm[d].fill(0)];
        voices.forEach(({ probe, re, im }) => {
          const [vRe, vIm] = [solver.re[probe], solver.im[probe]];
          for (let i = 0; i < points; i++) {
            totalRe[i] += re[i] * vRe[i] - im[i] * vIm[i];
            totalIm[i] += re[i] * vIm[i] + im[i] * vRe[i];
          }
        });
        for (let i = 0; i < points; i++)
          energy[i] += totalRe[i] * totalRe[i] + totalIm[i] * totalIm[i];
      });
      for (let i = 0; i < points; i++)
        levelDb[i] = decibelsPerNeper * Math.log(energy[i] / directions.length);
    },
    slopes(elements, out) {
      out.fill(0);
      directions.forEach((voices, d) => {
        const [totalRe, totalIm] = [sumRe[d], sumIm[d]];
        voices.forEach(({ probe, re, im }) => {
          elements.forEach((e) => {
            const [dRe, dIm] = [solver.slopeRe[probe][e], solver.slopeIm[probe][e]];
            for (let i = 0; i < points; i++)
              out[i] +=
                (re[i] * dRe[i] - im[i] * dIm[i]) * totalRe[i] +
                (re[i] * dIm[i] + im[i] * dRe[i]) * totalIm[i];
          });
        });
      });
      for (let i = 0; i < points; i++) out[i] *= (2 * decibelsPerNeper) / energy[i];
    },
  };
}

import type { Curve } from '@/core/network/sensitivity';
import { energyGradientOf, energyOf, type EnergyForm } from '@/core/radiation/energyForm';

/** A mean energy of a design that is played, and its slopes over the variables. */
export interface PlayedEnergy {
  /** At each frequency, of the last solution. */
  readonly energy: Float64Array;
  /** Its change for a factor of e in variable v at frequency i, at v · points + i; when asked for. */
  readonly slopes: () => Float64Array;
  /** To be called when something was solved. */
  readonly play: () => void;
}

/**
 * @param volts at each voice, of the last solution
 * @param signsOf the voices, as they are turned now
 * @param slopesOf the voltage at a voice, over the variables
 */
export function createPlayedEnergy(
  form: EnergyForm,
  volts: readonly Curve[],
  signsOf: () => readonly number[],
  slopesOf: (voice: number) => Curve,
  variableCount: number,
): PlayedEnergy {
  const { points } = form;
  const energy = new Float64Array(points);
  const slopes = new Float64Array(variableCount * points);
  const gradient = volts.map(() => ({
    re: new Float64Array(points),
    im: new Float64Array(points),
  }));
  let isMade = false;
  return {
    energy,
    play() {
      isMade = false;
      energyOf(form, volts, signsOf(), energy);
    },
    slopes() {
      if (isMade) return slopes;
      isMade = true;
      energyGradientOf(form, volts, signsOf(), gradient);
      slopes.fill(0);
      gradient.forEach(({ re, im }, voice) => {
        const { re: dRe, im: dIm } = slopesOf(voice);
        for (let v = 0; v < variableCount; v++)
          for (let i = 0, at = v * points; i < points; i++, at++)
            slopes[at] += 2 * (re[i] * dRe[at] + im[i] * dIm[at]);
      });
      return slopes;
    },
  };
}

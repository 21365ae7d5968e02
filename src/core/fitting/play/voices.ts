import type { Design, Driver } from '@/core/document/schema';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import type { UsableDriver } from '@/core/prediction/inspect';
import type { Solvable } from '@/core/prediction/solvable';
import type { FitInputs } from '@/core/fitting/inputs';
import { addProduct, clear, curveOf, type PlayedCurve } from './curve';
import type { PlayedNetwork } from './network';

/** A driver that is heard: pressure per volt at its probe. */
export interface Voice {
  readonly probe: number;
  readonly driver: Driver;
  /** Without its sign, and with it. */
  readonly radiation: GridSpectrum;
  readonly sign: 1 | -1;
  readonly weight: GridSpectrum;
  /** −1 while its way is turned against the design. */
  turn: 1 | -1;
}

/** Ways with the drivers that are heard, in the order of the design. */
export function voicesOf(
  { usable }: Solvable,
  design: Design,
  data: MeasurementData,
  { radiationOf }: FitInputs['ofWays'],
): {
  readonly wayId: string;
  readonly voices: readonly Voice[];
  readonly ends: readonly UsableDriver[];
}[] {
  let first = 0;
  return usable.flatMap(({ way, ends }) => {
    const from = first;
    first += ends.length;
    const voices = ends.flatMap((end, e): Voice[] => {
      const { response, driver, sign } = end;
      if (response === null) return [];
      const radiation = radiationOf({ ...end, response }, design, data);
      const weight = turned(radiation, sign);
      return [{ probe: from + e, driver, radiation, sign, weight, turn: 1 }];
    });
    return voices.length > 0 ? [{ wayId: way.id, voices, ends }] : [];
  });
}

export const turned = ({ re, im }: GridSpectrum, sign: number): GridSpectrum =>
  sign === 1 ? { re, im } : { re: re.map((value) => -value), im: im.map((value) => -value) };

/** Pressure of several drivers together. */
export interface Mix extends PlayedCurve {
  /** To be called when something was solved. */
  readonly play: () => void;
}

/** @param weights pressure of each voice per volt, its sign in it */
export function createMix(
  { values, slopesOf }: PlayedNetwork,
  voices: readonly Voice[],
  weights: readonly GridSpectrum[],
  variableCount: number,
): Mix {
  const points = weights[0].re.length;
  const value = curveOf(points);
  const slopes = curveOf(variableCount * points);
  let isMade = false;
  return {
    ...value,
    play() {
      isMade = false;
      clear(value);
      voices.forEach(({ probe, turn }, k) => addProduct(values[probe], weights[k], turn, value, 0));
    },
    slopes() {
      if (isMade) return slopes;
      isMade = true;
      clear(slopes);
      voices.forEach(({ probe, turn }, k) => {
        const own = slopesOf(probe);
        for (let v = 0; v < variableCount; v++)
          addProduct(own, weights[k], turn, slopes, v * points);
      });
      return slopes;
    },
  };
}

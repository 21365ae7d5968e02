import { decibelsPerNeper, firmRate } from '@/core/fitting/terms/term';
import { countedPlaces, wayTargetDb } from '@/core/prediction/wayTarget';
import { addSlopes } from '@/core/fitting/play/curve';
import { type Playback } from '@/core/fitting/play/playback';
import type { MinimaxBand } from '@/core/search/minimax';
import type { Limit, LimitOf } from './goal';
/** A band with what fills it. */
export interface FilledBand extends MinimaxBand {
  most: number | null;
  penalty: number;
  readonly fill: (hasSlopes: boolean) => void;
  readonly limit: Limit | null;
}

/** The response on axis against its target: what is made small. */
export function axisBand(
  { sum, variables, frequencyHz }: Playback,
  inBand: Int32Array,
  deviation: Float64Array,
): FilledBand {
  const count = inBand.length;
  const points = frequencyHz.length;
  const values = new Float64Array(count);
  const slopes = new Float64Array(count * variables.length);
  return {
    ...{ values, slopes, most: null, penalty: 0, limit: null },
    fill(hasSlopes) {
      for (let k = 0; k < count; k++) values[k] = deviation[inBand[k]];
      if (!hasSlopes) return;
      const { re: dRe, im: dIm } = sum.slopes();
      const { re, im } = sum;
      for (let k = 0; k < count; k++) {
        const i = inBand[k];
        const x = re[i];
        const y = im[i];
        const scale = decibelsPerNeper / (x * x + y * y);
        for (let v = 0; v < variables.length; v++)
          slopes[v * count + k] = scale * (dRe[v * points + i] * x + dIm[v * points + i] * y);
      }
    },
  };
}

/** The same curve as a limit of its own. */
export const limitedBand = (
  { values, slopes }: FilledBand,
  limit: LimitOf<'on-axis'>,
): FilledBand => ({
  ...{ values, slopes, limit },
  most: limit.withinDb,
  // It is made small already; within its limit nothing more is asked.
  penalty: (firmRate / 3) * limit.weight,
  // And filled.
  fill: () => undefined,
});

/** Ways that are to follow slopes of their own. */
export function slopeBands(
  { ways: aimed, ...limit }: LimitOf<'target-slopes'>,
  { ways, variables, frequencyHz }: Playback,
): FilledBand[] {
  return aimed.flatMap(({ wayId, target }): FilledBand[] => {
    const way = ways.find((one) => one.wayId === wayId);
    if (!way) return [];
    const shapeDb = wayTargetDb(target, frequencyHz);
    const places = countedPlaces(target, shapeDb, frequencyHz, limit.band).filter(way.isHeard);
    if (places.length < 2) return [];
    const count = places.length;
    const values = new Float64Array(count);
    const slopes = new Float64Array(count * variables.length);
    const row = new Float64Array(variables.length);
    return [
      {
        ...{ values, slopes, most: limit.mostDb, penalty: firmRate * limit.weight },
        limit: { ...limit, ways: aimed },
        fill(hasSlopes) {
          for (let k = 0; k < count; k++) values[k] = way.levelDb[places[k]] - shapeDb[places[k]];
          if (!hasSlopes) return;
          for (let k = 0; k < count; k++) {
            row.fill(0);
            addSlopes(way.steers, places[k], decibelsPerNeper, 0, row, 0, variables.length);
            for (let v = 0; v < variables.length; v++) slopes[v * count + k] = row[v];
          }
        },
      },
    ];
  });
}

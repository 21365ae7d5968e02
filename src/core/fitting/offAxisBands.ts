import { decibelsPerNeper, firmRate } from '@/core/fitting/terms/term';
import { createLineRemover } from '@/core/prediction/straightness';
import { targetDb } from '@/core/document/target';
import type { FilledBand } from './bands';
import type { LimitOf } from './goal';
import type { PlayedEnergy } from '@/core/fitting/play/energy';
import type { PlayedCurve } from '@/core/fitting/play/curve';
import type { Playback } from '@/core/fitting/play/playback';

const decibelsPerEnergy = decibelsPerNeper / 2;

/** Fills numbers of some places, and their slopes at v · count + k. */
type Filler = (values: Float64Array, slopes: Float64Array | null) => void;

/** Adds a mean energy in decibels, or takes it away. */
function energyFiller(
  { energy, slopes: slopesOf }: PlayedEnergy,
  places: Int32Array,
  points: number,
  sign: 1 | -1,
): Filler {
  const count = places.length;
  return (values, slopes) => {
    for (let k = 0; k < count; k++) values[k] += sign * 10 * Math.log10(energy[places[k]]);
    if (!slopes) return;
    const own = slopesOf();
    const scale = sign * decibelsPerEnergy;
    for (let at = 0, from = 0; at < slopes.length; at += count, from += points)
      for (let k = 0; k < count; k++)
        slopes[at + k] += (scale * own[from + places[k]]) / energy[places[k]];
  };
}

function curveFiller(curve: PlayedCurve, places: Int32Array, points: number): Filler {
  const count = places.length;
  const { re, im } = curve;
  return (values, slopes) => {
    for (let k = 0; k < count; k++) {
      const i = places[k];
      values[k] += 10 * Math.log10(re[i] * re[i] + im[i] * im[i]);
    }
    if (!slopes) return;
    const { re: dRe, im: dIm } = curve.slopes();
    for (let at = 0, from = 0; at < slopes.length; at += count, from += points)
      for (let k = 0; k < count; k++) {
        const i = places[k];
        slopes[at + k] +=
          (decibelsPerNeper * (re[i] * dRe[from + i] + im[i] * dIm[from + i])) /
          (re[i] * re[i] + im[i] * im[i]);
      }
  };
}

type OffAxisLimit = LimitOf<'window'> | LimitOf<'straight'> | LimitOf<'places'>;

/**
 * Bands of what is heard off the axis: against the target, or against a straight line whose slope is
 * free. None where it is not known.
 *
 * @param places in the band of the limit
 */
export function offAxisBands(
  limit: OffAxisLimit,
  playback: Playback,
  places: Int32Array,
): FilledBand[] {
  const { frequencyHz, variables, window, soundPower, inRoom } = playback;
  const points = frequencyHz.length;
  if (places.length < 3) return [];
  const energy = (mean: PlayedEnergy, sign: 1 | -1 = 1) => energyFiller(mean, places, points, sign);
  const bandOf = (fillers: readonly Filler[], finish: Filler): FilledBand => {
    const values = new Float64Array(places.length);
    const slopes = new Float64Array(places.length * variables.length);
    return {
      ...{ values, slopes, limit, most: limit.withinDb, penalty: firmRate * limit.weight },
      fill(hasSlopes) {
        values.fill(0);
        if (hasSlopes) slopes.fill(0);
        for (const filler of [...fillers, finish]) filler(values, hasSlopes ? slopes : null);
      },
    };
  };
  const overTarget: Filler = (values) => {
    const { target } = playback.design;
    for (let k = 0; k < places.length; k++) values[k] -= targetDb(target, frequencyHz[places[k]]);
  };
  const remover = createLineRemover(frequencyHz, places);
  const overLine: Filler = (values, slopes) => {
    remover.remove(values, 0);
    if (!slopes) return;
    for (let at = 0; at < slopes.length; at += places.length) remover.remove(slopes, at);
  };
  switch (limit.kind) {
    case 'window':
      return window ? [bandOf([energy(window)], overTarget)] : [];
    case 'places':
      return limit.ids.flatMap((id) => {
        const curve = playback.places.get(id);
        return curve ? [bandOf([curveFiller(curve, places, points)], overTarget)] : [];
      });
    case 'straight':
      if (limit.of === 'directivity')
        return window && soundPower
          ? [bandOf([energy(window), energy(soundPower, -1)], overLine)]
          : [];
      return limit.of === 'sound-power'
        ? soundPower
          ? [bandOf([energy(soundPower)], overLine)]
          : []
        : inRoom
          ? [bandOf([energy(inRoom)], overLine)]
          : [];
  }
}

import { createLineRemover, knownPlaces } from '@/core/prediction/straightness';
import type { Band } from '@/core/prediction/figures';
import { relativeLevels, type AroundView, type Plane } from './orbits';

/** A stretch in which directivity strays from a straight line. */
export interface Anomaly {
  /** More widely than around it, or more narrowly. */
  readonly kind: 'widens' | 'narrows';
  readonly fromHz: number;
  readonly toHz: number;
  readonly atHz: number;
  /** How far the directivity index is off the line, dB, without sign. */
  readonly sizeDb: number;
  /** Where it shows most. */
  readonly plane: Plane;
  readonly degrees: number;
}

/** From here on a stretch is worth telling (common practice), dB. */
export const tellFromDb = 1;
/** Half of the octaves over which an index is smoothed before it is looked at. */
const smoothOctaves = 1 / 12;
/** Angles that are looked at for where it shows: beyond, reflections come from the rear. */
const widestDeg = 90;
const mostTold = 5;

/** An index off its straight line, smoothed over a sixth of an octave; NaN outside of the band. */
export function residualOf(
  frequencyHz: Float64Array,
  indexDb: Float64Array,
  band: Band,
): Float64Array {
  const places = knownPlaces(frequencyHz, indexDb, band);
  const out = new Float64Array(frequencyHz.length).fill(NaN);
  if (places.length < 3) return out;
  const values = Float64Array.from(places, (i) => indexDb[i]);
  createLineRemover(frequencyHz, places).remove(values, 0);
  places.forEach((i, k) => {
    let [sum, count] = [0, 0];
    for (let j = 0; j < places.length; j++) {
      if (Math.abs(Math.log2(frequencyHz[places[j]] / frequencyHz[i])) > smoothOctaves) continue;
      sum += values[j];
      count++;
    }
    out[i] = count === 0 ? values[k] : sum / count;
  });
  return out;
}

/** The stretches in which the directivity index strays, the largest first. */
export function anomaliesOf(view: AroundView, band: Band): Anomaly[] {
  const { frequencyHz, curves } = view;
  const residual = residualOf(frequencyHz, curves.soundPowerIndex, band);
  const found: Anomaly[] = [];
  for (let i = 1; i < residual.length - 1; i++) {
    const size = Math.abs(residual[i]);
    if (!(size >= tellFromDb)) continue;
    const sign = Math.sign(residual[i]);
    const isTop = !(sign * residual[i - 1] > size) && !(sign * residual[i + 1] >= size);
    if (!isTop) continue;
    const isPart = (k: number) => sign * residual[k] > size / 2;
    let [low, high] = [i, i];
    while (low > 0 && isPart(low - 1)) low--;
    while (high < residual.length - 1 && isPart(high + 1)) high++;
    const kind = sign < 0 ? 'widens' : 'narrows';
    found.push({
      ...{ kind, sizeDb: size },
      ...{ fromHz: frequencyHz[low], toHz: frequencyHz[high], atHz: frequencyHz[i] },
      ...whereMost(view, band, i, -sign),
    });
  }
  // Of tops of one stretch the highest is told.
  return found
    .sort((a, b) => b.sizeDb - a.sizeDb)
    .filter(
      ({ atHz, kind }, k, all) =>
        !all.slice(0, k).some((one) => one.kind === kind && atHz >= one.fromHz && atHz <= one.toHz),
    )
    .slice(0, mostTold);
}

/** The direction whose level against the axis is farthest off its own line, with that sign. */
function whereMost(
  { frequencyHz, orbits }: AroundView,
  band: Band,
  at: number,
  sign: number,
): Pick<Anomaly, 'plane' | 'degrees'> {
  const points = frequencyHz.length;
  let best: Pick<Anomaly, 'plane' | 'degrees'> & { readonly off: number } = {
    ...{ plane: 'horizontal', degrees: 0, off: -Infinity },
  };
  for (const orbit of Object.values(orbits)) {
    const levels = relativeLevels(orbit, points, 0);
    orbit.degrees.forEach((degrees, a) => {
      if (degrees === 0 || Math.abs(degrees) > widestDeg) return;
      const row = Float64Array.from(levels.subarray(a * points, (a + 1) * points));
      const off = sign * residualOf(frequencyHz, row, band)[at];
      // What is alike on both sides is told of the right.
      if (
        off > best.off + 1e-6 ||
        (off > best.off - 0.05 && degrees === -best.degrees && degrees > 0)
      )
        best = { plane: orbit.plane, degrees, off };
    });
  }
  return { plane: best.plane, degrees: best.degrees };
}

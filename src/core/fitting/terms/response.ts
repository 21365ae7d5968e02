import type { WayId } from '@/core/fields';
import type { WayTarget } from '@/core/document/schema';
import type { Goal } from '@/core/fitting/goal';
import type { Playback } from '@/core/fitting/playback';
import { countedPlaces, wayTargetDb } from '@/core/fitting/wayTarget';
import { type Played, type Slopes, type Term, limitFactor, meanAt } from './term';

/** The response on axis, evenly. */
export function onAxisTerm({ weight }: Goal['onAxis'], places: Int32Array): Term {
  const factor = weight * Math.sqrt(1 / places.length);
  return {
    rows: places.length,
    residuals({ deviation }, power, out, row) {
      for (let r = 0; r < places.length; r++) {
        const d = deviation[places[r]];
        out[row + r] = factor * (power === 1 ? d : d * Math.abs(d));
      }
    },
    derivatives({ deviation }, power, { axis, meanDb }, column, row) {
      for (let r = 0; r < places.length; r++) {
        const i = places[r];
        const d = axis.sumDb[i] - meanDb;
        column[row + r] = factor * (power === 1 ? d : 2 * Math.abs(deviation[i]) * d);
      }
    },
  };
}

/** A response that may stray so far and no farther. */
function bandTerm(
  weight: number,
  withinDb: number,
  places: Int32Array,
  root: number,
  deviationOf: (played: Played) => Float64Array,
  slopeOf: (slopes: Slopes) => { readonly slope: Float64Array; readonly mean: number },
): Term {
  const factor = weight * root * limitFactor;
  return {
    rows: places.length,
    residuals(played, _, out, row) {
      const deviation = deviationOf(played);
      for (let r = 0; r < places.length; r++) {
        const over = Math.abs(deviation[places[r]]) - withinDb;
        out[row + r] = over > 0 ? factor * over : 0;
      }
    },
    derivatives(played, _, slopes, column, row) {
      const deviation = deviationOf(played);
      const { slope, mean } = slopeOf(slopes);
      for (let r = 0; r < places.length; r++) {
        const d = deviation[places[r]];
        if (Math.abs(d) > withinDb)
          column[row + r] = factor * Math.sign(d) * (slope[places[r]] - mean);
      }
    },
  };
}

/** The lows, under the band of the target. */
export const lowsTerm = (
  { weight, withinDb }: Goal['lows'],
  places: Int32Array,
  root: number,
): Term =>
  bandTerm(
    weight,
    withinDb,
    places,
    root,
    ({ deviation }) => deviation,
    ({ axis, meanDb }) => ({ slope: axis.sumDb, mean: meanDb }),
  );

/** The mean over the listening window. */
export const windowTerm = (
  { weight, withinDb }: NonNullable<Goal['window']>,
  places: Int32Array,
): Term =>
  bandTerm(
    weight,
    withinDb,
    places,
    Math.sqrt(1 / places.length),
    ({ windowDeviation }) => windowDeviation!,
    ({ windowDb }) => ({ slope: windowDb, mean: meanAt(windowDb, places) }),
  );

/** A way that is to follow its own slopes; null where nothing of it is heard where these count. */
export function wayTerm(
  {
    wayId,
    target,
    weight,
  }: { readonly wayId: WayId; readonly target: WayTarget; readonly weight: number },
  playback: Playback,
  frequencyHz: Float64Array,
  band: Goal['onAxis']['band'],
): Term | null {
  const w = playback.wayIds.indexOf(wayId);
  if (w < 0) return null;
  const shapeDb = wayTargetDb(target, frequencyHz);
  const places = countedPlaces(target, shapeDb, frequencyHz, band).filter((i) =>
    playback.isWayHeard(w, i),
  );
  if (places.length === 0) return null;
  const factor = weight * Math.sqrt(1 / places.length);
  const apart = new Float64Array(frequencyHz.length);
  return {
    rows: places.length,
    residuals({ playback: { partDb } }, _, out, row) {
      for (const i of places) apart[i] = partDb[w][i] - shapeDb[i];
      const mean = meanAt(apart, places);
      for (let r = 0; r < places.length; r++) out[row + r] = factor * (apart[places[r]] - mean);
    },
    derivatives(_, __, { axis: { levels } }, column, row) {
      const mean = meanAt(levels[w], places);
      for (let r = 0; r < places.length; r++)
        column[row + r] = factor * (levels[w][places[r]] - mean);
    },
  };
}

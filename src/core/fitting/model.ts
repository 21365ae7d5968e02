import { centreOf, equivalentOhms, sensitivityBand, type Band } from '@/core/design/figures';
import type { MeasurementData } from '@/core/design/predict';
import type { Design } from '@/core/design/schema';
import { targetDb } from '@/core/design/target';
import { problem } from '@/core/problem';
import type { Goal } from './goal';
import { createPlayback } from './playback';
import type { Variable } from './variables';
import { countedPlaces, wayTargetDb } from './wayTarget';

/** Residuals of a design over the logarithms of its free values, with their exact derivatives. */
export interface FitModel {
  readonly variables: readonly Variable[];
  readonly residualCount: number;
  /** Logarithms of the values that the design has. */
  readonly start: Float64Array;
  readonly lower: Float64Array;
  readonly upper: Float64Array;
  /**
   * Writes the residuals: decibels over the square root of the number of points, so that the sum of squares is a mean
   * square in dB² for each aim.
   *
   * @param power 1 for squares of the deviation on axis, 2 for fourth powers, which press on the worst place
   */
  residuals(logValues: Float64Array, power: 1 | 2, out: Float64Array): void;
  /** Derivatives of the residuals. */
  derivatives(logValues: Float64Array, power: 1 | 2, columns: readonly Float64Array[]): void;
  /** Figures of the last call of either. */
  figures(): FitFigures;
  /**
   * What parts with a tolerance make of the response on axis: root of the mean over the band of
   * Σ(slope · tolerance/√3)², for values spread evenly within it.
   *
   * @param tolerance 0.05 for ±5 %
   */
  scatterDb(logValues: Float64Array, tolerance: number): number;
}

/** How good a design is, in the units of its promises. */
export interface FitFigures {
  /** Half the height of the band that holds the response on axis. */
  readonly deviationDb: number;
  /** Root of the mean square deviation. */
  readonly rmsDb: number;
  readonly lowestOhms: number;
  readonly levelDb: number;
}

const decibelsPerNeper = 20 / Math.LN10;

/**
 * Breaking a limit somewhere counts as much as a deviation on axis this many times as large: a limit is not traded against
 * evenness, it is kept.
 */
const limitFactor = 6;
/** Ways this far apart in level do not hear each other's phase. */
const overlapDb = 10;
/** Degrees of phase that weigh like a decibel. */
const degreesPerDb = 15;

/**
 * @param variables from `variablesOf(design)`; at least one
 * @param frequencyHz rising, evenly spaced in logarithm
 * @throws ProblemError when no way can be computed
 */
export function createFitModel(
  design: Design,
  data: MeasurementData,
  goal: Goal,
  variables: readonly Variable[],
  frequencyHz: Float64Array,
): FitModel {
  const points = frequencyHz.length;
  const playback = createPlayback(design, data, variables, frequencyHz);
  const { wayIds, isHeard, partRe, partIm, partDb, sumDb, ohms, phaseDeg } = playback;
  const target = frequencyHz.map((hz) => targetDb(goal.onAxis.target, hz));
  const inBand = indicesIn(frequencyHz, goal.onAxis.band).filter(isHeard);
  const inMiddle = indicesIn(frequencyHz, sensitivityBand).filter(isHeard);
  const inLows = indicesIn(frequencyHz, {
    fromHz: goal.lows.fromHz,
    toHz: goal.onAxis.band.fromHz * (1 - 1e-9),
  }).filter(isHeard);
  if (inBand.length < 2)
    throw problem(
      'fit_without_response',
      design.name,
      'No driver has a response in the band of the target.',
      'There is nothing to judge a network by.',
      'Widen the band of the target, or measure the drivers in it.',
    );
  const pairs = Math.max(0, wayIds.length - 1);
  /** Ways with slopes of their own: where these count, and what they are. */
  const followers = goal.ways.flatMap(({ wayId, target: shape, weight }) => {
    const w = wayIds.indexOf(wayId);
    if (w < 0) return [];
    const shapeDb = wayTargetDb(shape, frequencyHz);
    const places = countedPlaces(shape, shapeDb, frequencyHz, goal.onAxis.band).filter((i) =>
      playback.isWayHeard(w, i),
    );
    return places.length > 0 ? [{ w, weight, shapeDb, places }] : [];
  });
  const offsets = {
    onAxis: 0,
    load: inBand.length,
    equivalent: inBand.length + (goal.load ? points : 0),
    tracking: inBand.length + (goal.load ? points : 0) + (goal.equivalent ? points : 0),
    level: 0,
    lows: 0,
    ways: 0,
  };
  offsets.level = offsets.tracking + (goal.tracking ? pairs * points : 0);
  offsets.lows = offsets.level + (goal.level ? 1 : 0);
  offsets.ways = offsets.lows + inLows.length;
  const residualCount = followers.reduce((sum, { places }) => sum + places.length, offsets.ways);
  const roots = { band: Math.sqrt(1 / inBand.length), all: Math.sqrt(1 / points) };

  const deviation = new Float64Array(points);
  /** Factor of each tracking residual on the phase difference in degrees; 0 where it does not count. */
  const trackingFactor = new Float64Array(pairs * points);
  const order = partDb.map((_, w) => w);
  let [meanDb, middleDb] = [0, 0];

  /** Deviations from the target and the level in the middle. */
  function evaluate(): void {
    meanDb = 0;
    for (const i of inBand) meanDb += (sumDb[i] - target[i]) / inBand.length;
    for (const i of inBand) deviation[i] = sumDb[i] - target[i] - meanDb;
    for (const i of inLows) deviation[i] = sumDb[i] - target[i] - meanDb;
    middleDb = 0;
    for (const i of inMiddle) middleDb += sumDb[i] / inMiddle.length;
  }

  /** Neighbours by the middle of the band in which each is loudest, and what their phase counts. */
  function track(): void {
    if (!goal.tracking) return;
    trackingFactor.fill(0);
    const centres = partDb.map(centreOf);
    order.sort((a, b) => centres[a] - centres[b]);
    for (let k = 0; k < pairs; k++) {
      const [low, high] = [partDb[order[k]], partDb[order[k + 1]]];
      let cross = -1;
      for (let i = 1; i < points; i++)
        if (low[i - 1] > high[i - 1] && low[i] <= high[i] && (cross < 0 || low[i] > low[cross]))
          cross = i;
      if (cross < 0) continue;
      for (let i = 0; i < points; i++) {
        const apart = Math.abs(low[i] - high[i]);
        const octaves = Math.abs(Math.log2(frequencyHz[i] / frequencyHz[cross]));
        if (octaves <= 0.5 && apart < overlapDb)
          trackingFactor[k * points + i] =
            (goal.tracking.weight * (1 - apart / overlapDb) * roots.all * limitFactor) /
            degreesPerDb /
            2;
      }
    }
  }

  /** Solves the network for some values and works out everything that residuals and derivatives need. */
  function play(logValues: Float64Array, hasSlopes: boolean): void {
    playback.play(logValues, hasSlopes);
    evaluate();
    track();
  }

  /** Phase of the lower over the upper neighbour, degrees, −180…180. */
  function between(k: number, i: number): number {
    const [a, b] = [order[k], order[k + 1]];
    const re = partRe[a][i] * partRe[b][i] + partIm[a][i] * partIm[b][i];
    const im = partIm[a][i] * partRe[b][i] - partRe[a][i] * partIm[b][i];
    return (Math.atan2(im, re) * 180) / Math.PI;
  }

  const createSlopes = () => ({
    sumDb: new Float64Array(points),
    levels: partDb.map(() => new Float64Array(points)),
    phases: partDb.map(() => new Float64Array(points)),
  });

  const short = (value: number, least: number) =>
    value < least ? decibelsPerNeper * Math.log(least / value) : 0;

  return {
    variables,
    residualCount,
    start: Float64Array.from(variables, ({ part }) =>
      Math.log(
        part.kind === 'resistor' ? part.ohms : part.kind === 'coil' ? part.henries : part.farads,
      ),
    ),
    lower: Float64Array.from(variables, ({ lowest }) => Math.log(lowest)),
    upper: Float64Array.from(variables, ({ highest }) => Math.log(highest)),

    residuals(logValues, power, out) {
      play(logValues, false);
      const { onAxis, lows, load, equivalent, tracking, level } = goal;
      inBand.forEach((i, r) => {
        const d = deviation[i];
        out[r] = onAxis.weight * roots.band * (power === 1 ? d : d * Math.abs(d));
      });
      for (let i = 0; i < points; i++) {
        if (load)
          out[offsets.load + i] =
            load.weight * roots.all * limitFactor * short(ohms[i], load.leastOhms);
        if (equivalent)
          out[offsets.equivalent + i] =
            equivalent.weight *
            roots.all *
            limitFactor *
            short(equivalentOhms(ohms[i], phaseDeg[i]), equivalent.leastOhms);
      }
      if (tracking)
        for (let k = 0; k < pairs; k++)
          for (let i = 0; i < points; i++) {
            const factor = trackingFactor[k * points + i];
            const over = factor === 0 ? 0 : Math.abs(between(k, i)) - tracking.mostDeg;
            out[offsets.tracking + k * points + i] = over > 0 ? factor * over : 0;
          }
      inLows.forEach((i, r) => {
        const over = Math.abs(deviation[i]) - lows.withinDb;
        out[offsets.lows + r] = over > 0 ? lows.weight * roots.band * limitFactor * over : 0;
      });
      if (level)
        out[offsets.level] = level.weight * limitFactor * Math.max(0, level.leastDb - middleDb);
      let row = offsets.ways;
      for (const { w, weight, shapeDb, places } of followers)
        row = writeEvenly(out, row, places, weight, (i) => partDb[w][i] - shapeDb[i]);
    },

    derivatives(logValues, power, columns) {
      play(logValues, true);
      const { onAxis, lows, load, equivalent, tracking, level } = goal;
      const slopes = createSlopes();
      const { sumDb: slopeDb, levels, phases } = slopes;
      const [lnZ, angle] = [new Float64Array(points), new Float64Array(points)];
      columns.forEach((column, v) => {
        column.fill(0);
        playback.slopesOnAxis(v, slopes);
        let mean = 0;
        for (const i of inBand) mean += slopeDb[i] / inBand.length;
        inBand.forEach((i, r) => {
          const d = slopeDb[i] - mean;
          column[r] =
            onAxis.weight * roots.band * (power === 1 ? d : 2 * Math.abs(deviation[i]) * d);
        });
        if (load || equivalent) playback.slopesOfLoad(v, lnZ, angle);
        for (let i = 0; i < points; i++) {
          if (load && ohms[i] < load.leastOhms)
            column[offsets.load + i] =
              -load.weight * roots.all * limitFactor * decibelsPerNeper * lnZ[i];
          if (!equivalent) continue;
          const value = equivalentOhms(ohms[i], phaseDeg[i]);
          if (value < equivalent.leastOhms) {
            const turn = 1e-4;
            const perDegree =
              Math.log(
                equivalentOhms(1, phaseDeg[i] + turn) / equivalentOhms(1, phaseDeg[i] - turn),
              ) /
              (2 * turn);
            column[offsets.equivalent + i] =
              -equivalent.weight *
              roots.all *
              limitFactor *
              decibelsPerNeper *
              (lnZ[i] + perDegree * angle[i]);
          }
        }
        if (tracking)
          for (let k = 0; k < pairs; k++)
            for (let i = 0; i < points; i++) {
              const factor = trackingFactor[k * points + i];
              if (factor === 0) continue;
              const now = between(k, i);
              if (Math.abs(now) > tracking.mostDeg)
                column[offsets.tracking + k * points + i] =
                  factor * Math.sign(now) * (phases[order[k]][i] - phases[order[k + 1]][i]);
            }
        inLows.forEach((i, r) => {
          if (Math.abs(deviation[i]) > lows.withinDb)
            column[offsets.lows + r] =
              lows.weight *
              roots.band *
              limitFactor *
              Math.sign(deviation[i]) *
              (slopeDb[i] - mean);
        });
        if (level && middleDb < level.leastDb) {
          let middle = 0;
          for (const i of inMiddle) middle += slopeDb[i] / inMiddle.length;
          column[offsets.level] = -level.weight * limitFactor * middle;
        }
        let row = offsets.ways;
        for (const { w, weight, places } of followers)
          row = writeEvenly(column, row, places, weight, (i) => levels[w][i]);
      });
    },

    scatterDb(logValues, tolerance) {
      play(logValues, true);
      const slopes = createSlopes();
      const { sumDb: slopeDb } = slopes;
      let square = 0;
      for (let v = 0; v < variables.length; v++) {
        playback.slopesOnAxis(v, slopes);
        let mean = 0;
        for (const i of inBand) mean += slopeDb[i] / inBand.length;
        for (const i of inBand) square += (slopeDb[i] - mean) ** 2 / inBand.length;
      }
      return (Math.sqrt(square) * tolerance) / Math.sqrt(3);
    },

    figures() {
      let [high, low, square, lowestOhms] = [-Infinity, Infinity, 0, Infinity];
      for (const i of inBand) {
        high = Math.max(high, deviation[i]);
        low = Math.min(low, deviation[i]);
        square += deviation[i] ** 2 / inBand.length;
      }
      for (const value of ohms) lowestOhms = Math.min(lowestOhms, value);
      return {
        deviationDb: (high - low) / 2,
        rmsDb: Math.sqrt(square),
        lowestOhms,
        levelDb: middleDb,
      };
    },
  };
}

/**
 * Writes what some places deviate from their mean, so that the sum of squares is a mean square.
 *
 * @returns the row after the last
 */
function writeEvenly(
  out: Float64Array,
  row: number,
  places: Int32Array,
  weight: number,
  valueAt: (i: number) => number,
): number {
  const mean = places.reduce((sum, i) => sum + valueAt(i), 0) / places.length;
  const root = Math.sqrt(1 / places.length);
  for (const [k, i] of places.entries()) out[row + k] = weight * root * (valueAt(i) - mean);
  return row + places.length;
}

function indicesIn(frequencyHz: Float64Array, { fromHz, toHz }: Band): Int32Array {
  return Int32Array.from(
    [...frequencyHz.keys()].filter((i) => frequencyHz[i] >= fromHz && frequencyHz[i] <= toHz),
  );
}

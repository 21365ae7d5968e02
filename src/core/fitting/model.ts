import { partValue } from '@/core/document/partKinds';
import {
  deviationDb,
  lowestOhms,
  sensitivityBand,
  sourceOhmsOf,
  type Band,
} from '@/core/prediction/figures';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { targetDb } from '@/core/document/target';
import { problem } from '@/core/problem';
import type { Goal } from './goal';
import type { FitInputs } from './inputs';
import { noPartLimits } from './limits';
import { createPlayback } from './playback';
import { equivalentTerm, loadTerm } from './terms/load';
import { heatTerm, outlayAt, outlayTerm } from './terms/means';
import { driversTerm, levelTerm } from './terms/level';
import { lowsTerm, onAxisTerm, wayTerm, windowTerm } from './terms/response';
import { meanAt, type Played, type Slopes } from './terms/term';
import { trackingTerm } from './terms/tracking';
import type { Variable } from './variables';

/** Residuals of a design over the logarithms of its free values, with their exact derivatives. */
export interface FitModel {
  readonly variables: readonly Variable[];
  readonly residualCount: number;
  /** Logarithms of the values that the design has. */
  readonly start: Float64Array;
  readonly lower: Float64Array;
  readonly upper: Float64Array;
  /**
   * Writes the residuals: decibels over the square root of the number of points, so that the sum of
   * squares is a mean square in dB² for each aim.
   *
   * @param power 1 for squares of the deviation on axis, 2 for fourth powers, which press on the
   *   worst place
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
  /** Root of its mean square deviation. */
  readonly rmsDb: number;
  readonly lowestOhms: number;
  readonly levelDb: number;
  /**
   * Half the height of the band that holds the mean over the listening window; null where it is not
   * known or not asked for.
   */
  readonly windowDb: number | null;
  /** Of the hottest resistor under programme; null where it is not asked for. */
  readonly hottestWatts: number | null;
  /** Cost of all parts, at the prices of the goal or the usual ones. */
  readonly outlay: number;
}

/**
 * @param variables from `variablesOf(design)`; at least one
 * @throws ProblemError when no way can be computed
 */
export function createFitModel(
  design: Design,
  data: MeasurementData,
  goal: Goal,
  variables: readonly Variable[],
  inputs: FitInputs,
): FitModel {
  const { frequencyHz } = inputs;
  const points = frequencyHz.length;
  const playback = createPlayback(design, data, variables, inputs, {
    wantsWindow: goal.window !== null,
    wantsHeat: goal.heat !== null,
    wantsStrain: goal.drivers !== null,
  });
  const { wayIds, isHeard, partDb, sumDb, windowDb, watts, strain } = playback;
  // With several amplifiers there is no one voltage at the terminals: as `sensitivityDb` has it.
  const sourceOhms = playback.amplifierCount > 1 ? 0 : sourceOhmsOf(design.amplifier);
  const target = frequencyHz.map((hz) => targetDb(goal.onAxis.target, hz));
  const inBand = indicesIn(frequencyHz, goal.onAxis.band).filter(isHeard);
  const inMiddle = indicesIn(frequencyHz, sensitivityBand).filter(isHeard);
  const inLows = indicesIn(frequencyHz, {
    fromHz: goal.lows.fromHz,
    toHz: goal.onAxis.band.fromHz * (1 - 1e-9),
  }).filter(isHeard);
  const inWindow =
    goal.window && windowDb ? indicesIn(frequencyHz, goal.window.band).filter(isHeard) : inBand;
  if (inBand.length < 2)
    throw problem(
      'fit_without_response',
      design.name,
      'No driver has a response in the band of the target.',
      'There is nothing to judge a network by.',
      'Widen the band of the target, or measure the drivers in it.',
    );
  const terms = [
    onAxisTerm(goal.onAxis, inBand),
    goal.load && loadTerm(goal.load, points),
    goal.equivalent && equivalentTerm(goal.equivalent, points),
    goal.tracking && trackingTerm(goal.tracking, wayIds, frequencyHz),
    goal.sensitivity && levelTerm(goal.sensitivity, inMiddle, sourceOhms),
    goal.seatLevel && levelTerm(goal.seatLevel, inMiddle, 0),
    goal.drivers && strain && driversTerm(goal.drivers, strain, inMiddle),
    lowsTerm(goal.lows, inLows, Math.sqrt(1 / inBand.length)),
    goal.window && windowDb && windowTerm(goal.window, inWindow),
    goal.heat && watts && heatTerm(goal.heat, watts.length),
    goal.outlay && outlayTerm(goal.outlay, design, variables),
    ...goal.ways.map((one) => wayTerm(one, playback, frequencyHz, goal.onAxis.band)),
  ].filter((term) => term !== null);
  const rows = terms.map((_, t) => terms.slice(0, t).reduce((sum, term) => sum + term.rows, 0));
  const outlay = outlayAt(design, variables, goal.outlay?.rates ?? noPartLimits.rates);

  const deviation = new Float64Array(points);
  const windowDeviation = windowDb && new Float64Array(points);
  const last: { logValues: Float64Array; middleDb: number } = {
    logValues: new Float64Array(variables.length),
    middleDb: 0,
  };

  /** Writes what a curve deviates from the target, its mean over some places taken away. */
  function deviate(curve: Float64Array, places: Int32Array, out: Float64Array): void {
    for (let i = 0; i < points; i++) out[i] = curve[i] - target[i];
    const mean = meanAt(out, places);
    for (let i = 0; i < points; i++) out[i] -= mean;
  }

  /**
   * Solves the network for some values and works out everything that residuals and derivatives
   * need.
   */
  function play(logValues: Float64Array, hasSlopes: boolean): Played {
    playback.play(logValues, hasSlopes);
    deviate(sumDb, inBand, deviation);
    if (windowDb) deviate(windowDb, inWindow, windowDeviation!);
    last.logValues = logValues;
    last.middleDb = meanAt(sumDb, inMiddle);
    return { playback, deviation, windowDeviation, ...last };
  }

  const slopes = {
    axis: {
      sumDb: new Float64Array(points),
      levels: partDb.map(() => new Float64Array(points)),
      phases: partDb.map(() => new Float64Array(points)),
    },
    lnZ: new Float64Array(points),
    angle: new Float64Array(points),
    windowDb: new Float64Array(points),
    watts: new Float64Array(watts?.length ?? 0),
    strain: new Float64Array(strain?.values.length ?? 0),
  };

  /** The promise's own figure, where the drivers are heard. */
  function deviationOf(curve: Float64Array, band: Band): number {
    const heard = curve.map((db, i) => (isHeard(i) ? db : NaN));
    return deviationDb(frequencyHz, heard, goal.onAxis.target, band)?.value ?? NaN;
  }

  function slopesOf(variable: number): Slopes {
    playback.slopesOnAxis(variable, slopes.axis);
    if (goal.load || goal.equivalent || (goal.sensitivity && sourceOhms > 0))
      playback.slopesOfLoad(variable, slopes.lnZ, slopes.angle);
    playback.slopesOfWindow(variable, slopes.windowDb);
    playback.slopesOfHeat(variable, slopes.watts);
    playback.slopesOfStrain(variable, slopes.strain);
    return { variable, ...slopes, meanDb: meanAt(slopes.axis.sumDb, inBand) };
  }

  return {
    variables,
    residualCount: terms.reduce((sum, term) => sum + term.rows, 0),
    start: Float64Array.from(variables, ({ part }) => Math.log(partValue(part))),
    lower: Float64Array.from(variables, ({ lowest }) => Math.log(lowest)),
    upper: Float64Array.from(variables, ({ highest }) => Math.log(highest)),

    residuals(logValues, power, out) {
      const played = play(logValues, false);
      terms.forEach((term, t) => term.residuals(played, power, out, rows[t]));
    },

    derivatives(logValues, power, columns) {
      const played = play(logValues, true);
      columns.forEach((column, v) => {
        column.fill(0);
        const own = slopesOf(v);
        terms.forEach((term, t) => term.derivatives(played, power, own, column, rows[t]));
      });
    },

    scatterDb(logValues, tolerance) {
      play(logValues, true);
      let square = 0;
      for (let v = 0; v < variables.length; v++) {
        playback.slopesOnAxis(v, slopes.axis);
        const mean = meanAt(slopes.axis.sumDb, inBand);
        for (const i of inBand) square += (slopes.axis.sumDb[i] - mean) ** 2 / inBand.length;
      }
      return (Math.sqrt(square) * tolerance) / Math.sqrt(3);
    },

    figures() {
      let square = 0;
      for (const i of inBand) square += deviation[i] ** 2 / inBand.length;
      return {
        deviationDb: deviationOf(sumDb, goal.onAxis.band),
        rmsDb: Math.sqrt(square),
        lowestOhms: lowestOhms({ frequencyHz, impedance: playback })!.value,
        levelDb: last.middleDb,
        windowDb: windowDb && goal.window && deviationOf(windowDb, goal.window.band),
        hottestWatts: watts?.reduce((most, value) => Math.max(most, value), 0) ?? null,
        outlay: outlay.total(last.logValues),
      };
    },
  };
}

function indicesIn(frequencyHz: Float64Array, { fromHz, toHz }: Band): Int32Array {
  return Int32Array.from(
    [...frequencyHz.keys()].filter((i) => frequencyHz[i] >= fromHz && frequencyHz[i] <= toHz),
  );
}

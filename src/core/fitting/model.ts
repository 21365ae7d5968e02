import { type FilledBand, axisBand, limitedBand, slopeBands } from './bands';
import { offAxisBands } from './offAxisBands';
import { partValue } from '@/core/document/partKinds';
import type { Design } from '@/core/document/schema';
import { targetDb } from '@/core/document/target';
import type { MeasurementData } from '@/core/measurement/samples';
import { lowestOhms, sensitivityBand, sourceOhmsOf, type Band } from '@/core/prediction/figures';
import { problem, ProblemError } from '@/core/problem';
import { halfHeight, type MinimaxProblem } from '@/core/search/minimax';
import type { Goal, Limit } from './goal';
import type { FitInputs } from './inputs';
import { createPlayback } from '@/core/fitting/play/playback';
import { crossoverFloorTerm, crossoverLossTerm, crossoverPlaceTerm } from './terms/crossover';
import { driverPowerTerm, excursionTerm, resonanceTerm } from './terms/drivers';
import { cutOffTerm, levelTerm, lowsTerm } from './terms/level';
import { equivalentTerm, loadTerm } from './terms/load';
import { slopeTerm } from './terms/slope';
import { createHeat, heatTerm, outlayAt, outlayTerm } from './terms/means';
import {
  createMeanLevel,
  firmRate,
  meanAt,
  type RowWriter,
  type Term,
  type TermContext,
} from './terms/term';
import { rootMeanSquare, type FitFigures } from './fitFigures';
import { spreadWith, turnsOf, type LikelyTurns } from './likelyTurns';
import {
  inNineteenOfTwenty,
  isReserved,
  reservedFromDb,
  reserveWorthDb,
  scatteredRise,
} from './reserves';
import type { Variable } from './variables';

/**
 * A design over the logarithms of its free values: how far the response on axis strays, and how
 * far each limit is exceeded, with exact derivatives.
 */
export interface FitModel extends MinimaxProblem {
  /**
   * Plays values.
   *
   * @param fromDb rows are written from so many decibels over their limits, by default from where a
   *   step may bring them over
   */
  readonly evaluate: (logValues: Float64Array, hasSlopes: boolean, fromDb?: number) => void;
  readonly variables: readonly Variable[];
  /** Logarithms of the values that the design has. */
  readonly start: Float64Array;
  /** Limits in the order of the groups, those of the bands after them. */
  readonly limits: readonly FitLimit[];
  /**
   * Whether groups are curves, of which many places may be over at once; in a sum of squares each
   * counts as its share.
   */
  readonly isCurve: readonly boolean[];
  /**
   * Polarities of the ways that are heard, in the order of the design, by how flat the last solution
   * would be with them. The first way stays.
   */
  likelyTurns(): LikelyTurns[];
  /** Turns the polarity of ways against that of the design; holds from the next evaluation on. */
  readonly turn: (turns: LikelyTurns['turns']) => void;
  /** Decibels over each limit, its reserve apart; at or under 0 where it is kept. */
  excesses(): number[];
  /**
   * What each limit would have to give to hold in 19 of 20 builds with parts spread uniformly within
   * a tolerance, dB, by its exact slopes; 0 where nobody promised it or parts hardly move it.
   *
   * @param tolerance 0.05 for ±5 %
   */
  reservesAt(logValues: Float64Array, tolerance: number): Float64Array;
  /**
   * Asks for reserves to the limits, in their order, from the next evaluation on; null for none. What is
   * missing of one costs its share of {@link reserveWorthDb}, never as much as the limit itself.
   */
  readonly keepReserves: (reserves: Float64Array | null) => void;
  /**
   * Makes limits firm that are kept, in their order: none is given up for another. Those of bands are
   * firm already.
   */
  readonly hold: (kept: readonly boolean[]) => void;
  /** Figures of the last evaluation. */
  figures(): FitFigures;
  /** The figure of each promise that is a limit, as its verdict tells it. */
  promised(): ReadonlyMap<string, number | null>;
  /**
   * What parts with a tolerance make of the response on axis: root of the mean over the band of
   * Σ(slope · tolerance/√3)², for values spread uniformly within it.
   *
   * @param tolerance 0.05 for ±5 %
   */
  scatterDb(logValues: Float64Array, tolerance: number): number;
}

/** A limit and what a decibel over it costs. */
export interface FitLimit {
  readonly limit: Limit;
  readonly penalty: number;
}

/** Exceeding a limit by less is rounding, dB. */
export const roundingDb = 6e-3;

/** A limit that was kept when a fit began is not given up for another. */
const keptFactor = 8;

/** Rows further under their limit than this cannot be reached by a step. */
const nearDb = -2.5;

/**
 * @param variables from `variablesOf(design)`; at least one
 * @param wantsReserves whether it can be made to keep reserves, which takes room for their rows
 * @throws ProblemError when no way can be computed
 */
export function createFitModel(
  design: Design,
  data: MeasurementData,
  goal: Goal,
  variables: readonly Variable[],
  inputs: FitInputs,
  wantsReserves = false,
): FitModel {
  const { frequencyHz } = inputs;
  const points = frequencyHz.length;
  const asks = (kind: Limit['kind']) => goal.limits.some((limit) => limit.kind === kind);
  const playback = createPlayback(design, data, variables, inputs, {
    // The directivity index is that of the window over the power.
    wantsWindow: asks('window') || asks('straight') || asks('index-slope'),
    wantsSpin: asks('straight') || asks('index-slope'),
    wantsPlaces: asks('places'),
    wantsHeat: asks('heat'),
  });
  const { sumDb, ways } = playback;
  const isHeard = (i: number) => ways.some((way) => way.isHeard(i));
  const heardIn = (band: Band) => indicesIn(frequencyHz, band).filter(isHeard);
  const inBand = heardIn(goal.onAxis.band);
  if (inBand.length < 2)
    throw problem(
      'fit_without_response',
      design.name,
      'No driver has a response in the band of the target.',
      'There is nothing to judge a network by.',
      'Widen the band of the target, or measure the drivers in it.',
    );
  const target = frequencyHz.map((hz) => targetDb(goal.onAxis.target, hz));
  const inMiddle = heardIn(sensitivityBand);
  const context: TermContext = {
    ...{ playback, inputs, inBand, inMiddle, isHeard },
    band: createMeanLevel(playback, inBand),
    middle: createMeanLevel(playback, inMiddle),
    // With several amplifiers there is no one voltage at the terminals: as `sensitivityDb` has it.
    sourceOhms: playback.amplifierCount > 1 ? 0 : sourceOhmsOf(design.amplifier),
  };
  const deviation = new Float64Array(points);
  const heat = asks('heat') ? createHeat(playback, inputs) : null;
  const outlay = outlayAt(design, variables, goal.rates);

  const terms = goal.limits.flatMap((limit) => {
    const term = termOf(limit);
    return term ? [term] : [];
  });
  function termOf(limit: Limit): Term | null {
    switch (limit.kind) {
      case 'load':
        return loadTerm(limit, context);
      case 'equivalent':
        return equivalentTerm(limit, context);
      case 'crossover-loss':
        return crossoverLossTerm(limit, context);
      case 'crossover-place':
        return crossoverPlaceTerm(limit, context);
      case 'crossover-floor':
        return crossoverFloorTerm(limit, context);
      case 'level':
        return levelTerm(limit, context);
      case 'cut-off':
        return cutOffTerm(limit, context);
      case 'lows':
        return lowsTerm(limit, context, deviation);
      case 'driver-power':
        return driverPowerTerm(limit, context);
      case 'excursion':
        return excursionTerm(limit, context);
      case 'resonance':
        return resonanceTerm(limit, context);
      case 'heat':
        return heat && heatTerm(limit, context, heat);
      case 'outlay':
        return outlayTerm(limit, context);
      case 'index-slope':
        return slopeTerm(limit, heardIn(limit.band), context);
      case 'on-axis':
      case 'window':
      case 'straight':
      case 'places':
      case 'target-slopes':
        return null;
    }
  }
  const onAxis = axisBand(playback, inBand, deviation);
  const bands: FilledBand[] = [
    onAxis,
    ...goal.limits.flatMap((limit) =>
      limit.kind === 'on-axis'
        ? [limitedBand(onAxis, limit)]
        : limit.kind === 'window' || limit.kind === 'straight' || limit.kind === 'places'
          ? offAxisBands(limit, playback, heardIn(limit.band))
          : limit.kind === 'target-slopes'
            ? slopeBands(limit, playback)
            : [],
    ),
  ];
  // Limits, and after them their reserves.
  const groups = wantsReserves ? 2 * terms.length : terms.length;
  const penalties = new Float64Array(groups);
  terms.forEach(({ limit, rate }, k) => (penalties[k] = rate * limit.weight));
  const worst = new Float64Array(groups).fill(-Infinity);
  const bandLimits = bands.slice(1);
  const reserves = new Float64Array(terms.length + bandLimits.length);
  /** The same curves within their limits less the reserves. */
  const reservedBands = wantsReserves ? bandLimits.map(shadowOf) : [];
  const allBands = [...bands, ...reservedBands];
  const capacity = (wantsReserves ? 6 : 3) * points + 60;
  const rows = {
    count: 0,
    group: new Int32Array(capacity),
    value: new Float64Array(capacity),
    slopes: new Float64Array(capacity * variables.length),
  };
  let group = 0;
  const writer: RowWriter = {
    slopes: rows.slopes,
    open(value) {
      if (rows.count === capacity) return -1;
      rows.group[rows.count] = group;
      rows.value[rows.count] =
        group < terms.length ? value : value + reserves[group - terms.length];
      const at = rows.count++ * variables.length;
      rows.slopes.fill(0, at, at + variables.length);
      return at;
    },
  };

  function evaluate(logValues: Float64Array, hasSlopes: boolean, fromDb = nearDb): void {
    try {
      playback.play(logValues, hasSlopes);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      // Values that can't be solved are a bad step, not the end of the fit.
      bands[0].values.fill(NaN);
      return;
    }
    for (let i = 0; i < points; i++) deviation[i] = sumDb[i] - target[i];
    context.band.reset();
    context.middle.reset();
    for (const band of bands) band.fill(hasSlopes);
    rows.count = 0;
    for (let k = 0; k < terms.length; k++) {
      group = k;
      worst[k] = terms[k].worst();
      if (hasSlopes && worst[k] > fromDb) terms[k].write(fromDb, writer);
      if (!(reserves[k] > 0)) continue;
      group = terms.length + k;
      worst[group] = worst[k] + reserves[k];
      if (hasSlopes && worst[group] > fromDb) terms[k].write(fromDb - reserves[k], writer);
    }
  }

  const excesses = (): number[] => [
    ...worst.subarray(0, terms.length),
    ...bandLimits.map(({ values, most }) => halfHeight(values) - most!),
  ];
  function keepReserves(next: Float64Array | null): void {
    if (next) reserves.set(next);
    else reserves.fill(0);
    worst.fill(-Infinity, terms.length);
    /** Cost of a decibel that is missing. */
    const rateOf = (k: number, limit: number) => Math.min(limit, reserveWorthDb / reserves[k]);
    for (let k = 0; k < groups - terms.length; k++)
      penalties[terms.length + k] = reserves[k] > 0 ? rateOf(k, penalties[k]) : 0;
    reservedBands.forEach((band, b) => {
      const k = terms.length + b;
      const { most, penalty } = bandLimits[b];
      band.most = reserves[k] > 0 ? Math.max(0, most! - reserves[k]) : Infinity;
      band.penalty = reserves[k] > 0 ? rateOf(k, penalty) : 0;
    });
  }
  function reservesAt(logValues: Float64Array, tolerance: number): Float64Array {
    const found = new Float64Array(reserves.length);
    const factor = (inNineteenOfTwenty * tolerance) / Math.sqrt(3);
    const n = variables.length;
    const before = reserves.slice();
    keepReserves(null);
    evaluate(logValues, true, reservedFromDb);
    for (let r = 0; r < rows.count; r++) {
      const k = rows.group[r];
      if (!isReserved(terms[k].limit)) continue;
      let square = 0;
      for (let v = 0; v < n; v++) square += rows.slopes[r * n + v] ** 2;
      const needed = rows.value[r] - worst[k] + factor * Math.sqrt(square);
      if (needed > found[k]) found[k] = needed;
    }
    bandLimits.forEach(({ values, slopes, limit }, b) => {
      if (!limit || !isReserved(limit)) return;
      found[terms.length + b] = scatteredRise(values, slopes, n, tolerance);
    });
    keepReserves(before);
    return found;
  }
  const model: FitModel = {
    ...{
      variables,
      bands: allBands,
      penalties,
      worst,
      rows,
      evaluate,
      excesses,
      reservesAt,
      keepReserves,
    },
    start: Float64Array.from(variables, ({ part }) => Math.log(partValue(part))),
    lower: Float64Array.from(variables, ({ lowest }) => Math.log(lowest)),
    upper: Float64Array.from(variables, ({ highest }) => Math.log(highest)),
    isCurve: terms.map(({ isCurve }) => isCurve),
    limits: [
      ...terms.map(({ limit }, k) => ({ limit, penalty: penalties[k] })),
      ...bandLimits.map(({ limit, penalty }) => ({ limit: limit!, penalty })),
    ],
    turn: playback.turn,
    hold(kept) {
      terms.forEach(({ rate, limit }, k) => {
        if (kept[k]) penalties[k] = Math.max(firmRate, rate * limit.weight) * keptFactor;
      });
    },
    likelyTurns: () =>
      turnsOf(ways.map(({ wayId }) => wayId))
        .map((turns) => ({ turns, spread: spreadWith(turns, ways, inBand, target) }))
        .sort((a, b) => a.spread - b.spread),
    promised() {
      const figures = new Map<string, number | null>();
      for (const { limit, figure } of terms)
        if (limit.promiseId !== null) figures.set(limit.promiseId, figure());
      for (const { limit, values } of bandLimits)
        if (limit?.promiseId)
          figures.set(
            limit.promiseId,
            Math.max(figures.get(limit.promiseId) ?? 0, halfHeight(values)),
          );
      return figures;
    },
    scatterDb(logValues, tolerance) {
      playback.play(logValues, true);
      bands[0].fill(true);
      const { slopes } = bands[0];
      const count = inBand.length;
      let square = 0;
      for (let v = 0; v < variables.length; v++) {
        const own = slopes.subarray(v * count, (v + 1) * count);
        const mean = own.reduce((total, slope) => total + slope, 0) / count;
        for (const slope of own) square += (slope - mean) ** 2 / count;
      }
      return (Math.sqrt(square) * tolerance) / Math.sqrt(3);
    },
    figures() {
      const mean = meanAt(deviation, inBand);
      let square = 0;
      for (const i of inBand) square += (deviation[i] - mean) ** 2 / inBand.length;
      const heightOf = (isIt: (limit: Limit) => boolean): number | null => {
        const band = bandLimits.find(({ limit }) => limit && isIt(limit));
        return band ? halfHeight(band.values) : null;
      };
      const deviationDb = halfHeight(bands[0].values);
      const windowDb = heightOf(({ kind }) => kind === 'window');
      const directivityDb = heightOf(
        (limit) => limit.kind === 'straight' && limit.of === 'directivity',
      );
      const loss = terms.find(({ limit }) => limit.kind === 'crossover-loss');
      return {
        ...{ deviationDb, windowDb, directivityDb },
        errorDb: rootMeanSquare([deviationDb, windowDb, directivityDb]),
        rmsDb: Math.sqrt(square),
        lowestOhms: lowestOhms({ frequencyHz, impedance: playback })!.value,
        levelDb: meanAt(sumDb, context.inMiddle),
        lossDb: loss?.figure() ?? null,
        hottestWatts: heat?.hottest() ?? null,
        outlay: outlay.total(playback.logValues),
        brokenCount: excesses().filter((excess) => excess > roundingDb).length,
      };
    },
  };
  return model;
}

/** A curve as a limit that does not bind until it is told to. */
const shadowOf = ({ values, slopes, limit }: FilledBand): FilledBand => ({
  ...{ values, slopes, limit, most: Infinity, penalty: 0 },
  fill: () => undefined,
});

/** Places in a band, a hair of tolerance for ends that were computed. */
function indicesIn(frequencyHz: Float64Array, { fromHz, toHz }: Band): Int32Array {
  return Int32Array.from(
    [...frequencyHz.keys()].filter(
      (i) => frequencyHz[i] >= fromHz * (1 - 1e-9) && frequencyHz[i] <= toHz * (1 + 1e-9),
    ),
  );
}

import type { WayId } from '@/core/fields';
import { followedLoss, hasLoss, partValue } from '@/core/document/partKinds';
import type { Design, Way } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import type { PartSetting } from '@/core/editing/change';
import { designGridHz, logGrid } from '@/core/grid/logGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { createPredictor } from '@/core/prediction/predict';
import { judgedPromisesOf, type JudgedPromise } from '@/core/promises/judgedPromises';
import { meritOf, minimiseGreatest } from '@/core/search/minimax';
import { seeded } from '@/core/spectrum/noise';
import { goalOf, type Goal, type Limit } from './goal';
import { createFitInputs, type FitInputs } from './inputs';
import type { FitFigures } from './fitFigures';
import { createFitModel, roundingDb, type FitModel } from './model';
import { reserveWorthDb } from './reserves';
import { findValley } from './valley';
import { variablesOf, type Variable } from './variables';

/** What a fit found so far. */
export interface FitState {
  /** By part id, tied parts included. */
  readonly values: ReadonlyMap<string, PartSetting>;
  /** Ways whose polarity is another than the design's. */
  readonly turned: readonly WayId[];
  /**
   * Deviation on axis, and decibels over limits and into their reserves times what they cost: what is
   * made small.
   */
  readonly merit: number;
  readonly figures: FitFigures;
}

/** A limit that was not kept, and by how much it would have to give. */
export interface Contradiction {
  readonly limit: Limit;
  readonly excessDb: number;
  /** The figure as its promise tells it; null for what nobody promised. */
  readonly figure: number | null;
}

export interface FitResult extends FitState {
  readonly before: { readonly merit: number; readonly figures: FitFigures };
  /** Network solutions. */
  readonly evaluations: number;
  /** Starts that were followed to their end. */
  readonly startCount: number;
  /** Limits that can't all be kept together with these parts. */
  readonly contradictions: readonly Contradiction[];
}

interface FitSettings {
  readonly seed: number;
  /** Numbers of the starts to follow; 0 is the design as it is, others are drawn from the seed. */
  readonly starts: readonly number[];
  /** Whether ways may be reversed. */
  readonly mayTurn?: boolean;
  /** Asked often; true ends the fit with the best so far. */
  readonly shouldStop?: () => boolean;
  /** Told whenever something better was found. */
  readonly onBetter?: (state: FitState) => void;
  /** Told after each start. */
  readonly onFollowed?: () => void;
}

/** 24 points per octave see everything that a network can do; the end is settled on twice as many. */
export const fitGridHz = (): Float64Array => logGrid(20, 20_000, 24);

/** How far a fit goes. */
export interface FitEffort {
  readonly valley: number;
  readonly greatest: number;
  readonly settledAt: number;
}

const efforts = {
  whole: { valley: 60, greatest: 60, settledAt: 2e-4 },
  last: { valley: 0, greatest: 40, settledAt: 2e-5 },
} as const satisfies Record<string, FitEffort>;

/** Half the decades over which a drawn start scatters, in nepers: a factor of 5 to each side. */
const scatter = Math.log(5);

/** Polarities that go on from the valley of each start. */
const followedTurns = 2;

/**
 * Fits the free values of a design, and the polarity of its ways, to what its promises ask: limits
 * are kept, and among what keeps them the greatest deviation of the response on axis is made small.
 * From several starts; the same seed and starts give the same answer everywhere. Nothing that the
 * design kept is broken for it.
 *
 * @param data numbers of its measurements
 * @param goal by default what the promises ask
 * @throws ProblemError `nothing_free`, or what the model says is missing
 */
export function fitDesign(
  design: Design,
  data: MeasurementData,
  { seed, starts, mayTurn = true, shouldStop, onBetter, onFollowed }: FitSettings,
  goal: Goal = goalOf(design),
): FitResult {
  const variables = variablesOf(design);
  const coarse = createFitInputs(fitGridHz());
  const fine = createFitInputs(designGridHz());
  const turns = mayTurn ? turnsOf(design) : [[]];
  let evaluations = 0;
  const own = createFitter(createFitModel(design, data, goal, variables, fine));
  const start = own.model.start;
  own.meritAt(start);
  // Whichever way round the ways are: what the design keeps as it is must stay kept.
  const kept = own.model.excesses().map((excess) => excess <= roundingDb);
  own.model.hold(kept);
  const fitterOf = (turned: readonly WayId[], inputs: FitInputs, wantsReserves = false) => {
    const model = createFitModel(
      ...([withTurned(design, turned), data, goal, variables, inputs, wantsReserves] as const),
    );
    model.hold(kept);
    return createFitter(model);
  };
  const fitters = turns.map((turned) => ({ turned, fitter: fitterOf(turned, coarse) }));
  const { tolerance } = goal;
  const before = {
    merit: own.reservedMeritAt(start, tolerance),
    figures: figuresAt(own.model, start),
  };
  const predict = createPredictor();
  const judgedIn = (one: Design) => judgedPromisesOf(one, predict(one, data));
  const judgedBefore = judgedIn(design);
  let best: FitState = { ...before, values: settingsOf(variables, start), turned: [] };
  let contradictions = contradictionsOf(own.model);
  let startCount = 0;

  /** Takes the first of some values, best first, that is better and breaks nothing that was kept. */
  function keepIfBetter(
    fitter: Fitter,
    turned: readonly WayId[],
    candidates: readonly Float64Array[],
  ): void {
    for (const logValues of candidates) {
      const merit = fitter.reservedMeritAt(logValues, tolerance);
      if (!(merit < best.merit - 1e-9)) return;
      const figures = figuresAt(fitter.model, logValues);
      const state: FitState = { values: settingsOf(variables, logValues), turned, merit, figures };
      if (breaksAny(judgedBefore, judgedIn(withFit(design, state)))) continue;
      best = state;
      contradictions = contradictionsOf(fitter.model);
      onBetter?.(best);
      return;
    }
  }

  for (const number of starts) {
    if (shouldStop?.()) break;
    const from = startOf(own.model, seed, number);
    const valleys = fitters
      .map(({ turned, fitter }) => {
        const logValues = fitter.valley(from, efforts.whole, shouldStop);
        return { turned, fitter, logValues, merit: fitter.meritAt(logValues) };
      })
      .filter(({ merit }) => Number.isFinite(merit))
      .sort((a, b) => a.merit - b.merit);
    const ends = valleys.slice(0, followedTurns).map(({ turned, fitter, logValues }): End => {
      const near = fitter.settle(logValues, efforts.whole, fitter.model, shouldStop);
      const last = turned.length === 0 ? own : fitterOf(turned, fine);
      const settled = last.settle(near.logValues, efforts.last, last.model, shouldStop);
      return { ...settled, turned, fitter: last };
    });
    for (const { fitter, turned, logValues } of ends) keepIfBetter(fitter, turned, [logValues]);
    // Reserves cost half of a start: the better polarity gets them.
    const end = ends.reduce<End | null>((a, b) => (a && a.merit <= b.merit ? a : b), null);
    if (end && tolerance > 0) {
      const { turned, logValues } = end;
      const fitter = fitterOf(turned, fine, true);
      const found = fitter.reserved(logValues, efforts.last, fitter.model, tolerance);
      keepIfBetter(
        fitter,
        turned,
        found.map((one) => one.logValues),
      );
      evaluations += fitter.evaluations();
    }
    for (const { fitter } of ends) evaluations += fitter === own ? 0 : fitter.evaluations();
    startCount++;
    onFollowed?.();
  }
  evaluations += own.evaluations();
  for (const { fitter } of fitters) evaluations += fitter.evaluations();
  return { ...best, before, evaluations, startCount, contradictions };
}

/** Where a start ended, before reserves. */
interface End {
  readonly logValues: Float64Array;
  readonly merit: number;
  readonly turned: readonly WayId[];
  readonly fitter: Fitter;
}

function figuresAt(model: FitModel, logValues: Float64Array): FitFigures {
  model.evaluate(logValues, false);
  return model.figures();
}

/** Values and polarities of a fit put into its design. */
export const withFit = (
  design: Design,
  { values, turned }: Pick<FitState, 'values' | 'turned'>,
): Design => applyChange(withTurned(design, turned), { type: 'setPartValues', values });

const reversed = ({ polarity }: Way) => (polarity === 'normal' ? 'reversed' : 'normal');

/** A design with some ways the other way round. */
export const withTurned = (design: Design, turned: readonly WayId[]): Design =>
  turned.length === 0
    ? design
    : {
        ...design,
        ways: design.ways.map((way) =>
          turned.includes(way.id) ? { ...way, polarity: reversed(way) } : way,
        ),
      };

/**
 * Every way of turning some of the ways round that makes a difference: the first one stays, and
 * ways that mirror another turn with it. With many ways each by itself and in pairs of neighbours.
 */
function turnsOf({ ways }: Design): WayId[][] {
  const free = ways.filter(({ ends, mirrorOf }) => ends.length > 0 && mirrorOf === undefined);
  const turning = free
    .slice(1)
    .map(({ id }) =>
      ways.filter((way) => way.id === id || way.mirrorOf === id).map((way) => way.id),
    );
  if (turning.length > mostTurning) return [[], ...turning];
  return turning.reduce<WayId[][]>(
    (all, ids) => [...all, ...all.map((one) => [...one, ...ids])],
    [[]],
  );
}

/** Beyond this many, not every combination is tried. */
const mostTurning = 3;

/** Whether a promise that was kept is not any more. */
function breaksAny(before: readonly JudgedPromise[], after: readonly JudgedPromise[]): boolean {
  const kept = new Set(
    before.filter(({ verdict }) => verdict.isKept === true).map(({ promise }) => promise.id),
  );
  return after.some(({ promise, verdict }) => kept.has(promise.id) && verdict.isKept === false);
}

/** Limits that are exceeded where a model was evaluated last. */
export function contradictionsOf(model: FitModel): Contradiction[] {
  const promised = model.promised();
  const excesses = model.excesses();
  return model.limits.flatMap(({ limit }, k) =>
    excesses[k] > roundingDb
      ? [{ limit, excessDb: excesses[k], figure: promised.get(limit.promiseId ?? '') ?? null }]
      : [],
  );
}

/**
 * The design's own values for number 0, others scattered around them and kept within the bounds.
 */
function startOf({ start, lower, upper }: FitModel, seed: number, number: number): Float64Array {
  if (number === 0) return start.slice();
  const { uniform } = seeded(seed * 1009 + number);
  return start.map((value, v) =>
    Math.min(upper[v], Math.max(lower[v], value + scatter * (2 * uniform() - 1))),
  );
}

/** Of the logarithms of the values; one whose bounds are equal is held. */
export interface Bounds {
  readonly lower: Float64Array;
  readonly upper: Float64Array;
}

/** Follows starts to where they end, and counts what that takes. */
export interface Fitter {
  readonly model: FitModel;
  readonly meritAt: (logValues: Float64Array) => number;
  /**
   * The merit, and what the shares of the reserves cost that are missing for a tolerance.
   */
  readonly reservedMeritAt: (logValues: Float64Array, tolerance: number) => number;
  readonly valley: (
    from: Float64Array,
    effort: FitEffort,
    shouldStop?: () => boolean,
  ) => Float64Array;
  /** Makes the greatest deviation small, within bounds. */
  readonly settle: (
    from: Float64Array,
    effort: FitEffort,
    bounds: Bounds,
    shouldStop?: () => boolean,
  ) => { readonly logValues: Float64Array; readonly merit: number };
  /**
   * The same from what has settled, with reserves for a tolerance: candidates, those of the least
   * merit first, since what is given up for a reserve may be worth more.
   */
  readonly reserved: (
    settled: Float64Array,
    effort: FitEffort,
    bounds: Bounds,
    tolerance: number,
    shouldStop?: () => boolean,
  ) => readonly { readonly logValues: Float64Array; readonly merit: number }[];
  readonly evaluations: () => number;
}

/** Reserves move with the values: they are worked out so often. */
const reserveRounds = 3;

export function createFitter(given: FitModel): Fitter {
  let count = 0;
  const model: FitModel = {
    ...given,
    evaluate(logValues, hasSlopes, fromDb) {
      count++;
      given.evaluate(logValues, hasSlopes, fromDb);
    },
  };
  function meritAt(logValues: Float64Array): number {
    model.evaluate(logValues, false);
    return meritOf(model);
  }
  function reservedMeritAt(logValues: Float64Array, tolerance: number): number {
    if (tolerance === 0) return meritAt(logValues);
    const reserves = model.reservesAt(logValues, tolerance);
    const merit = meritAt(logValues);
    return model.excesses().reduce((sum, excess, k) => {
      const missing = reserves[k] > 0 ? (excess + reserves[k]) / reserves[k] : 0;
      return sum + reserveWorthDb * Math.max(0, Math.min(1, missing));
    }, merit);
  }
  const settle: Fitter['settle'] = (
    from,
    { greatest, settledAt },
    { lower, upper },
    shouldStop,
  ) => {
    const { x, merit } = minimiseGreatest({ ...model, lower, upper }, from, {
      mostSteps: greatest,
      settledAt,
      ...(shouldStop && { shouldStop }),
    });
    return { logValues: x, merit };
  };
  return {
    ...{ model, meritAt, reservedMeritAt, settle },
    reserved(settled, effort, bounds, tolerance, shouldStop) {
      const found = [settled];
      const brokenAt = (logValues: Float64Array): boolean[] => {
        model.evaluate(logValues, false);
        return model
          .excesses()
          .map((excess, k) => excess > roundingDb && model.limits[k].limit.kind !== 'lows');
      };
      // No limit is broken for the reserve of another.
      const before = brokenAt(settled);
      for (let round = 0; tolerance > 0 && round < reserveRounds; round++) {
        if (shouldStop?.()) break;
        const reserves = model.reservesAt(found.at(-1)!, tolerance);
        if (reserves.every((reserve) => reserve === 0)) break;
        model.keepReserves(reserves);
        found.push(settle(found.at(-1)!, effort, bounds, shouldStop).logValues);
        model.keepReserves(null);
      }
      return found
        .filter((one) => brokenAt(one).every((isBroken, k) => !isBroken || before[k]))
        .map((logValues) => ({ logValues, merit: reservedMeritAt(logValues, tolerance) }))
        .filter(({ merit }) => Number.isFinite(merit))
        .sort((a, b) => a.merit - b.merit);
    },
    valley: (from, { valley, settledAt }, shouldStop) =>
      findValley(model, from, {
        mostSteps: valley,
        settledAt: settledAt * 10,
        ...(shouldStop && { shouldStop }),
      }),
    evaluations: () => count,
  };
}

/** Values and losses of all parts that move with the variables. */
export function settingsOf(
  variables: readonly Variable[],
  logValues: Float64Array,
): Map<string, PartSetting> {
  return new Map(
    variables.flatMap(({ members }, v) =>
      members.map(({ part, ratio }) => {
        const value = Math.exp(logValues[v]) * ratio;
        return [
          part.id,
          {
            value,
            seriesOhms: !hasLoss(part) ? null : followedLoss(part, value / partValue(part)),
          },
        ] as const;
      }),
    ),
  );
}

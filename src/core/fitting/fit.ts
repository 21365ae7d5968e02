import { followedLoss, partValue, hasLoss } from '@/core/document/partKinds';
import { ProblemError } from '@/core/problem';
import { applyChange } from '@/core/editing/applyChange';
import type { PartSetting } from '@/core/editing/change';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { leastSquares } from '@/core/search/leastSquares';
import { seeded } from '@/core/spectrum/noise';
import { goalOf, type Goal } from './goal';
import { createFitInputs } from './inputs';
import { createFitModel, type FitFigures, type FitModel } from './model';
import { variablesOf, type Variable } from './variables';

/** What a fit found so far. */
export interface FitState {
  /** By part id, tied parts included. */
  readonly values: ReadonlyMap<string, PartSetting>;
  /** What is made small: decibels, over all aims. */
  readonly cost: number;
  readonly figures: FitFigures;
}

export interface FitResult extends FitState {
  readonly before: { readonly cost: number; readonly figures: FitFigures };
  /** Network solutions with derivatives, or without. */
  readonly evaluations: number;
  /** Starts that were followed to their end. */
  readonly startCount: number;
}

interface FitSettings {
  readonly seed: number;
  /** Numbers of the starts to follow; 0 is the design as it is, others are drawn from the seed. */
  readonly starts: readonly number[];
  /** Asked often; true ends the fit with the best so far. */
  readonly shouldStop?: () => boolean;
  /** Told whenever something better was found. */
  readonly onBetter?: (state: FitState) => void;
  /** Told after each start. */
  readonly onFollowed?: () => void;
}

/** 24 points per octave see everything that a network can do. */
export const fitGridHz = (): Float64Array => logGrid(20, 20_000, 24);

const steps = { square: 60, fourth: 50, settle: 8 };
/** Half the decades over which a drawn start scatters, in nepers: a factor of 5 to each side. */
const scatter = Math.log(5);

/**
 * Fits the free values of a design to what its promises ask: least squares with exact derivatives
 * from several starts; first squares, which find the valley, then fourth powers of the deviation on
 * axis, which level its highest place. The same seed and starts give the same answer everywhere.
 *
 * @param data numbers of its measurements
 * @param goal by default what the promises ask
 * @throws ProblemError `nothing_free`, or what the model says is missing
 */
export function fitDesign(
  design: Design,
  data: MeasurementData,
  { seed, starts, shouldStop, onBetter, onFollowed }: FitSettings,
  goal: Goal = goalOf(design),
): FitResult {
  const variables = variablesOf(design);
  const model = createFitModel(design, data, goal, variables, createFitInputs(fitGridHz()));
  const fitter = createFitter(model);
  const before = { cost: fitter.costOf(model.start), figures: model.figures() };
  let best: FitState = { ...before, values: settingsOf(variables, model.start) };
  let startCount = 0;
  for (const number of starts) {
    if (shouldStop?.()) break;
    const found = fitter.follow(startOf(model, seed, number), shouldStop);
    startCount++;
    onFollowed?.();
    // Not the other way round: what could not be solved has no cost at all.
    if (!(found.cost < best.cost)) continue;
    best = {
      values: settingsOf(variables, found.logValues),
      cost: found.cost,
      figures: found.figures,
    };
    onBetter?.(best);
  }
  return { ...best, before, evaluations: fitter.evaluations(), startCount };
}

/** Values of a fit put into its design. */
export const withFit = (design: Design, { values }: Pick<FitState, 'values'>): Design =>
  applyChange(design, { type: 'setPartValues', values });

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

interface Fitter {
  /** Cost of values, by fourth powers. */
  readonly costOf: (logValues: Float64Array) => number;
  readonly follow: (
    from: Float64Array,
    shouldStop?: () => boolean,
  ) => { readonly logValues: Float64Array; readonly cost: number; readonly figures: FitFigures };
  /** A few steps of the second kind within other bounds. */
  readonly settle: (from: Float64Array, bounds: Bounds) => Float64Array;
  readonly evaluations: () => number;
}

/** Of the logarithms of the values; one whose bounds are equal is held. */
export interface Bounds {
  readonly lower: Float64Array;
  readonly upper: Float64Array;
}

/**
 * Follows starts into their valleys.
 *
 * @param model what is made small
 * @param mostSteps of squares, then of fourth powers; a second of 0 leaves these out
 */
export function createFitter(
  model: FitModel,
  [squareSteps, fourthSteps]: readonly [number, number] = [steps.square, steps.fourth],
): Fitter {
  const { residualCount, lower, upper } = model;
  const scratch = new Float64Array(residualCount);
  let count = 0;
  const residuals = (power: 1 | 2) => (values: Float64Array, out: Float64Array) => {
    count++;
    try {
      model.residuals(values, power, out);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      // Values that can't be solved are a bad step, not the end of the fit.
      out.fill(NaN);
    }
  };
  const squares = (values: Float64Array) => {
    residuals(2)(values, scratch);
    let sum = 0;
    for (const value of scratch) sum += value * value;
    return sum;
  };
  const descend = (
    from: Float64Array,
    power: 1 | 2,
    mostSteps: number,
    bounds: Bounds,
    shouldStop?: () => boolean,
  ) =>
    leastSquares(from, residualCount, residuals(power), {
      derivatives: (values, columns) => {
        count++;
        model.derivatives(values, power, columns);
      },
      ...bounds,
      mostSteps,
      settledAt: 1e-6,
      onStep: () => shouldStop?.() ?? false,
    }).parameters;
  // The fourth root brings fourth powers back to decibels.
  const costOf = (values: Float64Array) => squares(values) ** 0.25;
  return {
    costOf,
    follow(from, shouldStop) {
      const near = descend(from, 1, squareSteps, { lower, upper }, shouldStop);
      const logValues =
        fourthSteps === 0 ? near : descend(near, 2, fourthSteps, { lower, upper }, shouldStop);
      return { logValues, cost: costOf(logValues), figures: model.figures() };
    },
    settle: (from, bounds) => descend(from, 2, steps.settle, bounds),
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

import { kindsOfParts } from '@/core/document/partKinds';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { problem } from '@/core/problem';
import { stepInStock, type Buyable } from './stock';
import {
  contradictionsOf,
  createFitter,
  settingsOf,
  type FitEffort,
  type FitResult,
  type FitState,
} from './fit';
import { designGridHz } from '@/core/grid/logGrid';
import { goalOf, type Goal } from './goal';
import { createFitInputs } from './inputs';
import { createFitModel } from './model';
import { variablesOf, type Variable } from './variables';

interface RoundingSettings {
  readonly series: Buyable;
  readonly shouldStop?: () => boolean;
  readonly onBetter?: (state: FitState) => void;
}

/** The others begin close to where they end. */
const around: FitEffort = { valley: 0, greatest: 6, settledAt: 2e-3 };

/** Rounds of exchanges at most; each has to gain something. */
const mostExchanges = 6;

/**
 * Rounds the free values of a design to preferred ones: one after the other, the one whose rounding
 * costs least first, with the others fitted anew around it; then exchanges one or two of them for
 * their neighbours in the series as long as that helps.
 *
 * @throws ProblemError `nothing_free`; `owned_too_few`; or what the model says is missing
 */
export function roundedToSeries(
  design: Design,
  data: MeasurementData,
  { series, shouldStop, onBetter }: RoundingSettings,
  goal: Goal = goalOf(design),
): FitResult {
  const variables = variablesOf(design);
  const model = createFitModel(design, data, goal, variables, createFitInputs(designGridHz()));
  const fitter = createFitter(model);
  const meritAt = (logValues: Float64Array) => fitter.reservedMeritAt(logValues, goal.tolerance);
  const before = { merit: meritAt(model.start), figures: model.figures() };
  const kindOf = (v: number) => variables[v].part.kind;
  checkOwned(series, variables);
  /** A value some steps along its stock, of which others of its kind have taken theirs. */
  const member = (v: number, from: Float64Array, steps: number, others: readonly number[]) =>
    Math.log(
      stepInStock(
        Math.exp(from[v]),
        series[kindOf(v)],
        steps,
        others.flatMap((w) => (w !== v && kindOf(w) === kindOf(v) ? [Math.exp(from[w])] : [])),
      ),
    );
  const isAllowed = (v: number, logValue: number) =>
    logValue >= model.lower[v] - 1e-9 && logValue <= model.upper[v] + 1e-9;

  let values: Float64Array = model.start.slice();
  const numbers = variables.map((_, v) => v);
  const isRounded = variables.map(() => false);
  const held = () => ({
    lower: model.lower.map((bound, v) => (isRounded[v] ? values[v] : bound)),
    upper: model.upper.map((bound, v) => (isRounded[v] ? values[v] : bound)),
  });
  while (isRounded.includes(false) && !shouldStop?.()) {
    let best: { v: number; values: Float64Array; cost: number } | null = null;
    for (let v = 0; v < variables.length; v++) {
      if (isRounded[v]) continue;
      const rounded = numbers.filter((w) => isRounded[w]);
      const [below, nearest, above] = [-1, 0, 1].map((steps) => member(v, values, steps, rounded));
      const candidates = [nearest, nearest > values[v] ? below : above].filter((logValue) =>
        isAllowed(v, logValue),
      );
      for (const logValue of candidates.length > 0 ? candidates : [nearest]) {
        const trial = values.slice();
        trial[v] = logValue;
        const cost = meritAt(trial);
        if (!best || cost < best.cost) best = { v, values: trial, cost };
      }
    }
    values = best!.values;
    isRounded[best!.v] = true;
    if (isRounded.includes(false)) values = fitter.settle(values, around, held()).logValues;
  }

  // What was stopped before its end is rounded as it is.
  for (const v of numbers) {
    if (isRounded[v]) continue;
    const rounded = numbers.filter((w) => isRounded[w]);
    values[v] = member(v, values, 0, rounded);
    isRounded[v] = true;
  }
  let cost = meritAt(values);
  const tell = (): FitState => {
    const merit = meritAt(values);
    return { values: settingsOf(variables, values), turned: [], merit, figures: model.figures() };
  };
  onBetter?.(tell());

  const tried = (changes: readonly (readonly [v: number, steps: number])[]): boolean => {
    const trial = values.slice();
    const moving = changes.map(([v]) => v);
    changes.forEach(([v, steps], at) => {
      const others = numbers.filter((w) => !moving.includes(w) || moving.indexOf(w) < at);
      trial[v] = member(v, trial, steps, others);
    });
    if (changes.some(([v]) => !isAllowed(v, trial[v]))) return false;
    const trialCost = meritAt(trial);
    if (trialCost >= cost * (1 - 1e-9)) return false;
    [values, cost] = [trial, trialCost];
    return true;
  };
  for (let round = 0; round < mostExchanges; round++) {
    let hasGained = false;
    for (let v = 0; v < variables.length && !shouldStop?.(); v++) {
      for (const steps of [1, -1]) while (tried([[v, steps]])) hasGained = true;
      for (let w = v + 1; w < variables.length; w++)
        for (const steps of [1, -1])
          for (const others of [1, -1])
            if (
              tried([
                [v, steps],
                [w, others],
              ])
            )
              hasGained = true;
    }
    if (!hasGained) break;
    onBetter?.(tell());
  }
  const end = tell();
  return {
    ...end,
    before,
    evaluations: fitter.evaluations(),
    startCount: 1,
    contradictions: contradictionsOf(model),
  };
}

/** Of what one owns, each free part needs a piece of its own. */
function checkOwned(series: Buyable, variables: readonly Variable[]): void {
  for (const kind of kindsOfParts) {
    const stock = series[kind];
    if (typeof stock === 'string' || !('owned' in stock)) continue;
    const needed = variables.filter(({ part }) => part.kind === kind).length;
    if (needed > stock.owned.length)
      throw problem(
        'owned_too_few',
        `${kind}s`,
        `${needed} ${kind}s are free, and ${stock.owned.length} are owned.`,
        'Each piece is used once.',
        'List more of them, a value as often as one has it, or fix some parts.',
      );
  }
}

import type { MeasurementData } from '@/core/design/predict';
import type { Design, PartKind } from '@/core/design/schema';
import { stepInStock, type Stock } from './stock';
import { createFitter, fitGridHz, settingsOf, type FitResult, type FitState } from './fit';
import { goalOf, type Goal } from './goal';
import { createFitModel } from './model';
import { variablesOf } from './variables';

/** Values that one can have, by kind. */
export type Buyable = Readonly<Record<PartKind, Stock>>;

/** IEC 60063. */
export const usualSeries = {
  resistor: 'E24',
  coil: 'E12',
  capacitor: 'E12',
} as const satisfies Buyable;

export interface RoundingSettings {
  readonly series: Buyable;
  readonly shouldStop?: () => boolean;
  readonly onBetter?: (state: FitState) => void;
}

/** Rounds of exchanges at most; each has to gain something. */
const mostExchanges = 6;

/**
 * Rounds the free values of a design to preferred ones: one after the other, the one whose rounding costs least first, with
 * the others fitted anew around it; then exchanges one or two of them for their neighbours in the series as long as that helps.
 *
 * @throws ProblemError `nothing_free`, or what the model says is missing
 */
export function roundedToSeries(
  design: Design,
  data: MeasurementData,
  { series, shouldStop, onBetter }: RoundingSettings,
  goal: Goal = goalOf(design),
): FitResult {
  const variables = variablesOf(design);
  const model = createFitModel(design, data, goal, variables, fitGridHz());
  const fitter = createFitter(model);
  const before = { cost: fitter.costOf(model.start), figures: model.figures() };
  const stockOf = (v: number) => series[variables[v].part.kind];
  const member = (v: number, logValue: number, steps: number) =>
    Math.log(stepInStock(Math.exp(logValue), stockOf(v), steps));
  const isAllowed = (v: number, logValue: number) =>
    logValue >= model.lower[v] - 1e-9 && logValue <= model.upper[v] + 1e-9;

  let values: Float64Array = model.start.slice();
  const isRounded = variables.map(() => false);
  const held = () => ({
    lower: model.lower.map((bound, v) => (isRounded[v] ? values[v] : bound)),
    upper: model.upper.map((bound, v) => (isRounded[v] ? values[v] : bound)),
  });
  while (isRounded.includes(false) && !shouldStop?.()) {
    let best: { v: number; values: Float64Array; cost: number } | null = null;
    for (let v = 0; v < variables.length; v++) {
      if (isRounded[v]) continue;
      const nearest = member(v, values[v], 0);
      const [below, above] = [member(v, values[v], -1), member(v, values[v], 1)];
      const candidates = [nearest, nearest > values[v] ? below : above].filter((logValue) =>
        isAllowed(v, logValue),
      );
      for (const logValue of candidates.length > 0 ? candidates : [nearest]) {
        const trial = values.slice();
        trial[v] = logValue;
        const cost = fitter.costOf(trial);
        if (!best || cost < best.cost) best = { v, values: trial, cost };
      }
    }
    values = best!.values;
    isRounded[best!.v] = true;
    if (isRounded.includes(false)) values = fitter.settle(values, held());
  }

  // What was stopped before its end is rounded as it stands.
  values = values.map((logValue, v) => (isRounded[v] ? logValue : member(v, logValue, 0)));
  let cost = fitter.costOf(values);
  const tell = (): FitState => {
    const settled = fitter.costOf(values);
    return { values: settingsOf(variables, values), cost: settled, figures: model.figures() };
  };
  onBetter?.(tell());

  const tried = (changes: readonly (readonly [v: number, steps: number])[]): boolean => {
    const trial = values.slice();
    for (const [v, steps] of changes) trial[v] = member(v, values[v], steps);
    if (changes.some(([v]) => !isAllowed(v, trial[v]))) return false;
    const trialCost = fitter.costOf(trial);
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
  return { ...tell(), before, evaluations: fitter.evaluations(), startCount: 1 };
}

import type { PartId } from '@/core/fields';
import { partValue, hasLoss } from '@/core/document/partKinds';
import { applyChange } from '@/core/editing/applyChange';
import type { MeasurementData } from '@/core/measurement/samples';
import { partsOf, type Design, type Part } from '@/core/document/schema';
import { ProblemError } from '@/core/problem';
import { createFitter, fitGridHz, settingsOf, type FitEffort, type FitState } from './fit';
import { goalOf, type Goal } from './goal';
import { createFitInputs } from './inputs';
import type { FitFigures } from './fitFigures';
import { createFitModel } from './model';
import { variablesOf } from './variables';

/** A part that went, and what the network came to without it. */
interface Omission {
  readonly partId: PartId;
  readonly partName: string;
  /** Rise of the merit, dB; negative where the rest does better alone. */
  readonly addedDb: number;
}

export interface FewerResult {
  readonly omissions: readonly Omission[];
  /** The design without them, the rest fitted around it. */
  readonly design: Design;
  /** The values of its parts. */
  readonly values: FitState['values'];
  readonly before: { readonly merit: number; readonly figures: FitFigures };
  readonly after: { readonly merit: number; readonly figures: FitFigures };
}

interface FewerSettings {
  /** Each part that stays is worth at least this much of the merit, dB. */
  readonly worthDb: number;
  readonly shouldStop?: () => boolean;
}

/** The rest begins close to where it ends. */
const effort: FitEffort = { valley: 12, greatest: 20, settledAt: 1e-3 };

/**
 * Fits a design, then leaves out the parts that hardly matter, one after the other, the one that
 * matters least first, with the rest fitted anew each time, as long as each merits less than it is
 * worth. Only free parts are tried; they are turned off, not removed.
 *
 * @throws ProblemError `nothing_free`, or what the model says is missing
 */
export function withFewerParts(
  design: Design,
  data: MeasurementData,
  { worthDb, shouldStop }: FewerSettings,
  goal: Goal = goalOf(design),
): FewerResult {
  const inputs = createFitInputs(fitGridHz());
  const fitted = (tried: Design) => {
    const variables = variablesOf(tried);
    const model = createFitModel(tried, data, goal, variables, inputs);
    const fitter = createFitter(model);
    const valley = fitter.valley(model.start, effort, shouldStop);
    const { logValues } = fitter.settle(valley, effort, model, shouldStop);
    const merit = fitter.meritAt(logValues);
    const values: FitState['values'] = settingsOf(variables, logValues);
    return {
      design: applyChange(tried, { type: 'setPartValues', values }),
      ...{ merit, figures: model.figures() },
    };
  };
  const variables = variablesOf(design);
  const model = createFitModel(design, data, goal, variables, inputs);
  const before = { merit: createFitter(model).meritAt(model.start), figures: model.figures() };
  const omissions: Omission[] = [];
  let now: { design: Design; merit: number; figures: FitFigures } = shouldStop?.()
    ? { design, ...before }
    : fitted(design);
  while (!shouldStop?.()) {
    const trials = candidatesOf(now.design).flatMap((part) => {
      if (shouldStop?.()) return [];
      try {
        const without = applyChange(now.design, {
          type: 'editPart',
          id: part.id,
          set: { isOff: true },
        });
        const trial = fitted(without);
        return Number.isFinite(trial.merit) ? [{ part, ...trial }] : [];
      } catch (error) {
        // Without it nothing can be solved, or nothing is left to fit: it stays.
        if (error instanceof ProblemError) return [];
        throw error;
      }
    });
    const best = trials.reduce<(typeof trials)[number] | null>(
      (least, trial) => (least === null || trial.merit < least.merit ? trial : least),
      null,
    );
    if (!best || !(best.merit - now.merit < worthDb)) break;
    omissions.push({
      partId: best.part.id,
      partName: best.part.name,
      addedDb: best.merit - now.merit,
    });
    now = best;
  }
  return {
    omissions,
    design: now.design,
    values: now.design === design ? new Map() : valuesOf(now.design),
    before,
    after: { merit: now.merit, figures: now.figures },
  };
}

const valuesOf = (design: Design): FitState['values'] =>
  new Map(
    partsOf(design).map((part) => [
      part.id,
      {
        value: partValue(part),
        seriesOhms: hasLoss(part) ? part.seriesOhms : null,
      },
    ]),
  );

/** Free parts that others do not follow. */
function candidatesOf(design: Design): Part[] {
  const parts = partsOf(design);
  const leading = new Set(parts.map(({ fit }) => fit.tie?.partId));
  return parts.filter(
    ({ id, fit, isOff, isLocked }) =>
      fit.isFree && fit.tie === null && !isOff && !isLocked && !leading.has(id),
  );
}

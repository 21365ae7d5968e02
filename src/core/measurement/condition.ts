import { ProblemError, type Problem } from '@/core/problem';
import type { Samples } from './samples';
import { applyStep, type Step } from './steps/kinds';
import type { Conditioned, Setting, State } from './steps/step';

/**
 * Applies a recipe to a measured response. A step that can't be done is left out and told.
 *
 * @param raw as it was measured
 * @param recipe steps in order
 */
export function conditioned(raw: Samples, recipe: readonly Step[], setting: Setting): Conditioned {
  let state: State = {
    samples: raw,
    holdsDelay: setting.commonTiming,
    marks: [],
    validFromHz: 0,
    tails: null,
  };
  const notes = new Map<number, string>();
  const troubles = new Map<number, Problem>();
  recipe.forEach((step, i) => {
    if (!step.isOn) return;
    try {
      const { note, ...changed } = applyStep(step, state, setting);
      state = { ...state, ...changed };
      notes.set(i, note);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      troubles.set(i, error.problem);
    }
  });
  const { samples, holdsDelay, marks, validFromHz } = state;
  return { samples, holdsDelay, marks, validFromHz, notes, troubles };
}

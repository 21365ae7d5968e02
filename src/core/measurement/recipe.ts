import type { Tails } from './minimumPhase';
import { stepKinds, type Step } from './steps/kinds';

/** The recipe with a step more, after those that come before it. */
export function withStep(recipe: readonly Step[], step: Step): Step[] {
  const rank = (one: Step) => stepKinds.indexOf(one.kind);
  const at = recipe.findIndex((other) => rank(other) > rank(step));
  return recipe.toSpliced(at < 0 ? recipe.length : at, 0, step);
}

/** Slopes that the recipe's tails state, if there are any in use. */
export function tailsOf(recipe: readonly Step[]): Tails | null {
  const tails = recipe.find((step) => step.kind === 'tails' && step.isOn);
  if (tails?.kind !== 'tails') return null;
  const { belowDbPerOctave, aboveDbPerOctave } = tails;
  return { belowDbPerOctave, aboveDbPerOctave };
}

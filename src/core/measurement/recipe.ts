import type { Tails } from './minimumPhase';

/**
 * What is done to a measured response before a design uses it. The numbers that were measured never change: a recipe is a
 * list of steps on top of them, each of which can be switched off.
 */
interface StepBase {
  readonly isOn: boolean;
}

/** Adds decibels: the sensitivity of microphone and amplifier, or the drive that a recording had. */
export interface LevelStep extends StepBase {
  readonly kind: 'level';
  readonly addedDb: number;
}

/** Keeps the sound up to a time after the arrival; needs even frequencies. */
export interface GateStep extends StepBase {
  readonly kind: 'gate';
  readonly lengthMs: number;
}

/** Puts a near field in the place of the low end. */
export interface SpliceStep extends StepBase {
  readonly kind: 'splice';
  /** Measurements, by their id: the cone's near field, and the port's if there is one. */
  readonly nearId: string;
  readonly radiusMm: number;
  readonly portId: string | null;
  readonly portRadiusMm: number | null;
  readonly atHz: number;
  /** Width of the baffle for its step; null for none. */
  readonly stepWidthMm: number | null;
}

/** A stretch that is an artefact of the room or the rig, bridged by a straight line. */
export interface BridgeStep extends StepBase {
  readonly kind: 'bridge';
  readonly fromHz: number;
  readonly toHz: number;
  readonly reason: string;
}

/** Straight lines in the place of what lies beyond two frequencies, mostly noise. */
export interface TailsStep extends StepBase {
  readonly kind: 'tails';
  readonly belowHz: number;
  readonly belowDbPerOctave: number;
  readonly aboveHz: number;
  readonly aboveDbPerOctave: number;
}

/** Minimum phase in the place of the measured one, with or without the measured delay. */
export interface PhaseStep extends StepBase {
  readonly kind: 'phase';
  readonly keepsDelay: boolean;
}

/** Moves the response later, or earlier when negative. */
export interface DelayStep extends StepBase {
  readonly kind: 'delay';
  readonly addedMs: number;
}

export type Step =
  LevelStep | GateStep | SpliceStep | BridgeStep | TailsStep | PhaseStep | DelayStep;
export type StepKind = Step['kind'];

/** Order in which steps make sense; a new one goes to its place. */
export const stepOrder: readonly StepKind[] = [
  'level',
  'gate',
  'splice',
  'bridge',
  'tails',
  'phase',
  'delay',
];

/** The recipe with a step more, after those that come before it. */
export function withStep(recipe: readonly Step[], step: Step): Step[] {
  const rank = (one: Step) => stepOrder.indexOf(one.kind);
  const at = recipe.findIndex((other) => rank(other) > rank(step));
  return recipe.toSpliced(at < 0 ? recipe.length : at, 0, step);
}

/** Slopes that the recipe's tails state, if there are any in use. */
export function tailsOf(recipe: readonly Step[]): Tails | null {
  const tails = recipe.find((step) => step.kind === 'tails' && step.isOn) as TailsStep | undefined;
  return (
    (tails && {
      belowDbPerOctave: tails.belowDbPerOctave,
      aboveDbPerOctave: tails.aboveDbPerOctave,
    }) ??
    null
  );
}

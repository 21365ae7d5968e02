import { z } from 'zod';
import type { Samples } from '../samples';
import { delay } from './delay';
import { gate } from './gate';
import { interpolation } from './interpolation';
import { level } from './level';
import { phase } from './phase';
import { splice } from './splice';
import type { Beginning, Outcome, Setting, State, StepKindFacts } from './step';
import { tails } from './tails';

/**
 * What can be done to a measured response before a design uses it, in the order in which it makes
 * sense; a new kind is a file of its own and a line here. The numbers that were measured never
 * change: a recipe is a list of steps on top of them, each of which can be switched off.
 */
const kinds = { level, gate, splice, bridge: interpolation, tails, phase, delay } as const;

/** A step of a recipe, as a document holds it. */
export const stepSchema = z.discriminatedUnion('kind', [
  level.schema,
  gate.schema,
  splice.schema,
  interpolation.schema,
  tails.schema,
  phase.schema,
  delay.schema,
]);

export type Step = z.infer<typeof stepSchema>;
export type StepKind = Step['kind'];
type StepOf<K extends StepKind> = Extract<Step, { kind: K }>;

/** The kinds in their order. */
export const stepKinds = Object.keys(kinds) as StepKind[];

// A kind's own file sees to it that its functions take what its schema reads.
const factsOf = (kind: StepKind) => kinds[kind] as unknown as StepKindFacts<z.ZodType<Step>>;

export const stepName = (kind: StepKind): string => factsOf(kind).name;

/** A step as it is added: something that makes sense for these numbers, to be changed. */
export const firstStep = <K extends StepKind>(
  kind: K,
  samples: Samples,
  beginning: Beginning,
): StepOf<K> =>
  ({ kind, isOn: true, ...factsOf(kind).first(samples, beginning) }) as unknown as StepOf<K>;

/** @throws ProblemError when it can't be done */
export const applyStep = (step: Step, state: State, setting: Setting): Outcome =>
  factsOf(step.kind).apply(step, state, setting);

/** Other measurements whose numbers a step needs. */
export const neededBy = (step: Step): readonly string[] => factsOf(step.kind).needs?.(step) ?? [];

import { z } from 'zod';
import type { Problem } from '@/core/problem';
import type { Tails } from '../minimumPhase';
import type { Samples } from '../samples';

/** A stretch of a curve that was not measured. */
export interface Mark {
  readonly fromHz: number;
  readonly toHz: number;
  readonly reason: string;
  /** A straight line beyond the data, rather than across a gap. */
  readonly isTail: boolean;
}

/** A response after its recipe. */
export interface Conditioned {
  readonly samples: Samples;
  /** Whether the phase still holds the flight time that was measured. */
  readonly holdsDelay: boolean;
  readonly marks: readonly Mark[];
  /** Frequency under which a gate leaves nothing to trust; 0 without a gate. */
  readonly validFromHz: number;
  /** What each step found, by its place in the recipe. */
  readonly notes: ReadonlyMap<number, string>;
  /** Steps that could not be done, by their place: they were left out. */
  readonly troubles: ReadonlyMap<number, Problem>;
}

/** What a recipe needs beside the numbers. */
export interface Setting {
  readonly commonTiming: boolean;
  readonly microphoneDistanceMm: number;
  /** Numbers of another measurement. */
  readonly find: (id: string) => Samples | undefined;
}

/** A response on its way through the steps, and what the next ones must know of those before. */
export type State = Omit<Conditioned, 'notes' | 'troubles'> & { readonly tails: Tails | null };

/** What a step changes, and a sentence about what it found. */
export type Outcome = Partial<State> & { readonly note: string };

/** What a new step may begin with, besides the numbers. */
export interface Beginning {
  /** Other responses, of which one may be a near field. */
  readonly others: readonly { readonly id: string; readonly name: string }[];
  /** Area of the driver's cone, cm²; null while it is not known. */
  readonly sdCm2: number | null;
  /** Width of the baffle; null while it is not known. */
  readonly widthMm: number | null;
}

/** Everything about one kind of step. */
export interface StepKindFacts<S extends z.ZodType> {
  /** How a document holds it. */
  readonly schema: S;
  readonly name: string;
  /** Figures of one as it is added: something that makes sense for these numbers, to be changed. */
  first(samples: Samples, beginning: Beginning): Omit<z.infer<S>, 'kind' | 'isOn'>;
  /** @throws ProblemError when it can't be done */
  apply(step: z.infer<S>, state: State, setting: Setting): Outcome;
  /** Other measurements whose numbers it needs. */
  needs?(step: z.infer<S>): readonly string[];
}

/** A kind of step; only so does TypeScript tie `first` and `apply` to what the schema reads. */
export const stepKind = <S extends z.ZodType>(facts: StepKindFacts<S>): StepKindFacts<S> => facts;

/** What every step has: a step that is switched off stays in the list. */
export const stepBase = { isOn: z.boolean() };

/** Points per octave of grids that steps make. */
export const perOctave = 48;

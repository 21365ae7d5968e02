/**
 * A difficulty, told so that somebody can mend it: what, where, why, and how to go on.
 * The core reports problems as data; screens and the command line print them as they are.
 */
export interface Problem {
  /** Stable name for tests and for look-up, e.g. `floating_node`. */
  readonly code: string;
  /** File and line, part name or node. Empty when there is no narrower place than the whole. */
  readonly where: string;
  readonly what: string;
  readonly why: string;
  readonly mend: string;
  /**
   * What kind of difficulty it is, for whoever has to answer with more than words; absent when the
   * input is wrong.
   */
  readonly nature?: ProblemNature;
}

export type ProblemNature = 'missing' | 'too-large' | 'busy';

/** `where: what Why. Mend.` in one line, as the command line prints it. */
export function sentence({ where, what, why, mend }: Problem): string {
  const text = [what, why, mend].filter((part) => part !== '').join(' ');
  return where === '' ? text : `${where}: ${text}`;
}

/** What went wrong, as whatever was thrown says it. */
export const messageOf = (thrown: unknown): string =>
  thrown instanceof Error ? thrown.message : String(thrown);

/** Thrown where a function can't return anything useful; carries the problem unchanged. */
export class ProblemError extends Error {
  override readonly name = 'ProblemError';
  constructor(readonly problem: Problem) {
    super(sentence(problem));
  }
}

/** Shorthand for a {@link ProblemError}. */
export function problem(
  code: string,
  where: string,
  what: string,
  why: string,
  mend: string,
  nature?: ProblemNature,
): ProblemError {
  return new ProblemError({ code, where, what, why, mend, ...(nature && { nature }) });
}

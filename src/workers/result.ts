import { ProblemError, type Problem } from '@/core/problem';

/**
 * What comes back from a worker: errors lose their class on the way, so a problem travels as data.
 */
export type WorkerResult<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

export function attempt<T>(work: () => T): WorkerResult<T> {
  try {
    return { ok: true, value: work() };
  } catch (error) {
    if (error instanceof ProblemError) return { ok: false, problem: error.problem };
    throw error;
  }
}

/** The value, or its problem thrown again on this side. */
export function unwrap<T>(result: WorkerResult<T>): T {
  if (result.ok) return result.value;
  throw new ProblemError(result.problem);
}

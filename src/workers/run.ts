import type * as comlink from 'comlink';
import { unwrap, type WorkerResult } from './result';
import type { WorkerService } from './startService';

/** Work that can be ended at once; what it found so far was told. */
export interface Run<T> {
  /** Never settles once it was stopped. @throws ProblemError */
  readonly found: Promise<T>;
  readonly stop: () => void;
}

/** One question to a worker that was started for it and ends with its answer. */
export function runAlone<S, T>(
  worker: WorkerService<S>,
  question: (service: comlink.Remote<S>) => Promise<WorkerResult<T>>,
): Run<T> {
  const found = worker
    .ask(question)
    .then(unwrap)
    .finally(() => worker.end());
  return { found, stop: () => worker.end() };
}

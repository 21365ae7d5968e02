import type * as comlink from 'comlink';
import { unwrap, type WorkerResult } from './result';
import type { WorkerService } from './startService';

/** Work that can be ended at once; what it found so far was told. */
export interface Run<T> {
  /** Never settles once it was stopped. @throws ProblemError */
  readonly found: Promise<T>;
  readonly stop: () => void;
}

/** Work that begins once something is there; stopped before that, it never begins. */
export function runAfter<R, T>(ready: Promise<R>, start: (there: R) => Run<T>): Run<T> {
  let begun: Run<T> | null = null;
  let isStopped = false;
  const never = new Promise<never>(() => undefined);
  return {
    found: ready.then((there) => (isStopped ? never : (begun = start(there)).found)),
    stop() {
      isStopped = true;
      begun?.stop();
    },
  };
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

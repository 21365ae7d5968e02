import * as comlink from 'comlink';
import { problem } from '@/core/problem';

/** A worker with what it can be asked. */
export interface WorkerService<T> {
  /** Asks it; rejects when the worker itself fails, so that nothing waits for ever. */
  readonly ask: <R>(question: (service: comlink.Remote<T>) => R) => Promise<Awaited<R>>;
  /** Tells without waiting. */
  readonly tell: (message: (service: comlink.Remote<T>) => Promise<unknown>) => void;
  /** Settles, with the failure, when the worker's program can't be loaded or the worker breaks. */
  readonly failure: Promise<Error>;
  readonly end: () => void;
}

/**
 * Wraps a worker that was just started.
 *
 * @param name what it does, as a message may say it: "the file reader"
 */
export function startService<T>(worker: Worker, name: string): WorkerService<T> {
  const service = comlink.wrap<T>(worker);
  const failure = new Promise<Error>((resolve) => {
    worker.onerror = (event) => {
      event.preventDefault();
      resolve(
        problem(
          'worker_failed',
          '',
          `${name} could not be started or broke off.`,
          event.message ? `${event.message}.` : 'The server does not answer.',
          'It is tried again; if this goes on, reload the page.',
        ),
      );
    };
    worker.onmessageerror = () =>
      resolve(
        problem(
          'worker_failed',
          '',
          `${name} gave an answer that can’t be read.`,
          '',
          'Reload the page.',
        ),
      );
  });
  const broken = failure.then((error): never => {
    throw error;
  });
  // Whoever asks is told; without a question there is nobody to tell.
  broken.catch(() => undefined);
  return {
    ask: async <R>(question: (service: comlink.Remote<T>) => R): Promise<Awaited<R>> => {
      const answer = await Promise.race([question(service), broken]);
      return answer;
    },
    tell: (message) => void message(service).catch(() => undefined),
    failure,
    end: () => worker.terminate(),
  };
}

import type * as comlink from 'comlink';
import type { Samples } from '@/core/measurement/samples';
import type { WorkerService } from './startService';

/** What a worker that computes with measurements takes first. */
interface TakesNumbers {
  load(id: string, samples: Samples): void;
}

/** Two workers of a kind, with the numbers that both have been given. */
export interface Lanes<S> {
  /** For what follows the hand. */
  readonly quick: WorkerService<S>;
  /** For what may take longer. */
  readonly patient: WorkerService<S>;
  /** Hands over numbers that are not there yet. */
  readonly load: (numbers: ReadonlyMap<string, Samples>) => void;
  readonly close: () => void;
}

export function startLanes<S extends TakesNumbers>(start: () => WorkerService<S>): Lanes<S> {
  const [quick, patient] = [start(), start()];
  const given = new Set<string>();
  return {
    ...{ quick, patient },
    load(numbers) {
      for (const [id, samples] of numbers) {
        if (given.has(id)) continue;
        given.add(id);
        for (const lane of [quick, patient]) giveNumbers(lane, id, samples);
      }
    },
    close() {
      quick.end();
      patient.end();
    },
  };
}

/** Gives one worker the numbers of a measurement. */
export const giveNumbers = <S extends TakesNumbers>(
  lane: WorkerService<S>,
  id: string,
  samples: Samples,
): void => lane.tell((service) => (service as comlink.Remote<TakesNumbers>).load(id, samples));

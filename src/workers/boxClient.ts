import * as comlink from 'comlink';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BuiltBox } from '@/core/lows/builtBox';
import type { BoxFound, BoxWish } from '@/core/lows/boxJudge';
import type { BoxSearchProgress } from '@/core/lows/search';
import type { Samples } from '@/core/measurement/samples';
import type { BoxesLookedAt, BoxService } from './box.worker';
import { unwrap } from './result';
import { startService, type WorkerService } from './startService';

export type { BoxesLookedAt } from './box.worker';

const started = (): WorkerService<BoxService> =>
  startService<BoxService>(
    new Worker(new URL('./box.worker.ts', import.meta.url), { type: 'module' }),
    'The box',
  );

export interface BoxClient {
  /** Hands over numbers that are not there yet. */
  load(numbers: ReadonlyMap<string, Samples>): void;
  /** @throws ProblemError */
  look(design: Design, boxes: readonly Box[]): Promise<BoxesLookedAt>;
  /** @throws ProblemError */
  built(design: Design, box: Box, portMm: number, impedance: Samples): Promise<BuiltBox>;
  close(): void;
}

/** Starts two workers: one for what follows the hand, one for what may take longer. */
export function createBoxClient(): BoxClient {
  const [quick, patient] = [started(), started()];
  const given = new Set<string>();
  return {
    load(numbers) {
      for (const [id, samples] of numbers) {
        if (given.has(id)) continue;
        given.add(id);
        for (const lane of [quick, patient]) lane.tell((service) => service.load(id, samples));
      }
    },
    look: async (...args) => unwrap(await quick.ask((service) => service.look(...args))),
    built: async (...args) => unwrap(await patient.ask((service) => service.built(...args))),
    close() {
      quick.end();
      patient.end();
    },
  };
}

/** A search under way; what it found so far was told. */
export interface BoxRun {
  /** @throws ProblemError */
  readonly found: Promise<readonly BoxFound[]>;
  /** Ends it at once; `found` never settles then. */
  readonly stop: () => void;
}

export function startBoxSearch(
  design: Design,
  like: Box,
  wish: BoxWish,
  numbers: ReadonlyMap<string, Samples>,
  tell: (progress: BoxSearchProgress) => void,
): BoxRun {
  const worker = started();
  for (const [id, samples] of numbers) worker.tell((service) => service.load(id, samples));
  const found = worker
    .ask((service) => service.search(design, like, wish, comlink.proxy(tell)))
    .then(unwrap)
    .finally(() => worker.end());
  return { found, stop: () => worker.end() };
}

import * as comlink from 'comlink';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BuiltBox } from '@/core/lows/builtBox';
import type { BoxFound, BoxWish } from '@/core/lows/boxJudge';
import type { BoxSearchProgress } from '@/core/lows/search';
import type { Samples } from '@/core/measurement/samples';
import type { BoxesLookedAt, BoxService } from './box.worker';
import { giveNumbers, startLanes } from './lanes';
import { unwrap } from './result';
import { runAlone, type Run } from './run';
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

export function createBoxClient(): BoxClient {
  const { quick, patient, load, close } = startLanes(started);
  return {
    ...{ load, close },
    look: async (...args) => unwrap(await quick.ask((service) => service.look(...args))),
    built: async (...args) => unwrap(await patient.ask((service) => service.built(...args))),
  };
}

/** Searches boxes; what was found so far is told. */
export function startBoxSearch(
  design: Design,
  like: Box,
  wish: BoxWish,
  numbers: ReadonlyMap<string, Samples>,
  tell: (progress: BoxSearchProgress) => void,
): Run<readonly BoxFound[]> {
  const worker = started();
  for (const [id, samples] of numbers) giveNumbers(worker, id, samples);
  return runAlone(worker, (service) => service.search(design, like, wish, comlink.proxy(tell)));
}

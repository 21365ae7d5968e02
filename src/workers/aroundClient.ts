import * as comlink from 'comlink';
import type { Directivity } from '@/core/around/directivity';
import type { AroundFinding } from '@/core/around/findings';
import { jointSearch, type JointFound, type JointProgress } from '@/core/around/jointSearch';
import { type JointTask } from '@/core/around/jointScore';
import { type JointWish } from '@/core/around/jointLayout';
import type { AroundView, AroundWish } from '@/core/around/orbits';
import type { Design } from '@/core/document/schema';
import type { TradePlace } from '@/core/fitting/tradeOff';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import type { Band } from '@/core/prediction/figures';
import type { Prediction } from '@/core/prediction/prediction';
import type { AroundService } from './around.worker';
import { startLanes } from './lanes';
import { unwrap } from './result';
import { runAlone, type Run } from './run';
import { startService, type WorkerService } from './startService';

const started = (): WorkerService<AroundService> =>
  startService<AroundService>(
    new Worker(new URL('./around.worker.ts', import.meta.url), { type: 'module' }),
    'The look around',
  );

export interface AroundClient {
  /** Hands over numbers that are not there yet. */
  load(numbers: ReadonlyMap<string, Samples>): void;
  /** Null where it is not known of some driver what it does off its axis. @throws ProblemError */
  view(design: Design, wish: AroundWish): Promise<AroundView | null>;
  /** What directivity does and why; null when a newer study came before its end. */
  study(
    design: Design,
    prediction: Prediction,
    view: AroundView,
    band: Band,
    tell: (found: readonly AroundFinding[]) => void,
  ): Promise<readonly AroundFinding[] | null>;
  /** Both orbits with their phases, and as a SOFA file (AES69); null where they are not known. */
  directivity(design: Design, stepDeg: 5 | 10, distanceMm: number): Promise<Directivity | null>;
  sofa(design: Design, stepDeg: 5 | 10, distanceMm: number): Promise<Uint8Array | null>;
  close(): void;
}

export function createAroundClient(): AroundClient {
  const { quick, patient, load, close } = startLanes(started);
  return {
    ...{ load, close },
    view: async (design, wish) => unwrap(await quick.ask((service) => service.view(design, wish))),
    study: (design, prediction, view, band, tell) =>
      patient.ask((service) => service.study(design, prediction, view, band, comlink.proxy(tell))),
    directivity: (...args) => patient.ask((service) => service.directivity(...args)),
    sofa: (...args) => patient.ask((service) => service.sofa(...args)),
  };
}

/** Networks between a flat axis and a flat window, each told as it is found. */
export const startTradeOff = (
  design: Design,
  data: MeasurementData,
  count: number,
  tell: (places: readonly TradePlace[]) => void,
): Run<readonly TradePlace[] | null> =>
  runAlone(started(), (service) => service.tradeOff(design, data, count, comlink.proxy(tell)));

const workerCount = () => Math.max(1, Math.min(4, navigator.hardwareConcurrency));

/**
 * Searches a layout together with its network, with several workers. Stopping it finishes the best
 * so far.
 */
export function startJointSearch(
  design: Design,
  data: MeasurementData,
  wish: JointWish,
  tell: (progress: JointProgress) => void,
): Run<JointFound | null> {
  const workers = Array.from({ length: workerCount() }, started);
  let isStopped = false;
  const scoreAll = async (tasks: readonly JointTask[]) => {
    const scores = tasks.map((): Awaited<ReturnType<AroundService['score']>> | null => null);
    let next = 0;
    await Promise.all(
      workers.map(async ({ ask }) => {
        while (next < tasks.length) {
          const k = next++;
          scores[k] = await ask((service) => service.score(tasks[k]));
        }
      }),
    );
    return scores.map((score) => score && unwrap(score));
  };
  const run = async () => {
    try {
      await Promise.all(
        workers.map(({ ask }) => ask((service) => service.beginScoring(design, data, wish))),
      );
      return await jointSearch(design, wish, scoreAll, tell, () => isStopped);
    } finally {
      for (const { end } of workers) end();
    }
  };
  return { found: run(), stop: () => (isStopped = true) };
}

import * as comlink from 'comlink';
import type { Design } from '@/core/document/schema';
import type { LayoutStudy } from '@/core/layout/study';
import type { PlaceProgress, PlacesFound, PlaceWish } from '@/core/layout/placeSearch';
import type { BaffleView, ViewRequest } from '@/core/layout/view';
import type { Prediction } from '@/core/prediction/prediction';
import type { BaffleService } from './baffle.worker';
import { unwrap } from './result';
import { runAlone, type Run } from './run';
import { startService, type WorkerService } from './startService';

const started = (): WorkerService<BaffleService> =>
  startService<BaffleService>(
    new Worker(new URL('./baffle.worker.ts', import.meta.url), { type: 'module' }),
    'The drawing of the baffle',
  );

export interface BaffleClient {
  /** Null while the driver is on no baffle. @throws ProblemError */
  view(design: Design, request: ViewRequest): Promise<BaffleView | null>;
  /** What is found about a layout; it takes a moment. @throws ProblemError */
  study(design: Design, prediction: Prediction | null): Promise<LayoutStudy>;
  close(): void;
}

/** Starts two workers: one for curves that follow the hand, one for what may take longer. */
export function createBaffleClient(): BaffleClient {
  const [quick, patient] = [started(), started()];
  return {
    view: async (design, request) =>
      unwrap(await quick.ask((service) => service.view(design, request))),
    study: async (design, prediction) =>
      unwrap(await patient.ask((service) => service.study(design, prediction))),
    close() {
      quick.end();
      patient.end();
    },
  };
}

/** Searches places; how far it is, is told. */
export const startPlaceSearch = (
  design: Design,
  wish: PlaceWish,
  tell: (progress: PlaceProgress) => void,
): Run<PlacesFound> =>
  runAlone(started(), (service) => service.search(design, wish, comlink.proxy(tell)));

import * as comlink from 'comlink';
import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';
import type { PredictorService } from './predictor.worker';

export interface PredictorClient {
  load(id: string, samples: Samples): void;
  /** Asks for a prediction. While one is being made, only the newest request waits; older ones are dropped. */
  request(design: Design, bypassedPartId: string | null): void;
  close(): void;
}

/** Starts the prediction worker. Call in the browser only. */
export function createPredictorClient(
  onPrediction: (prediction: Prediction, computeMs: number) => void,
  onFailure: (message: string) => void,
): PredictorClient {
  const worker = new Worker(new URL('./predictor.worker.ts', import.meta.url), { type: 'module' });
  const service = comlink.wrap<PredictorService>(worker);
  let isBusy = false;
  let waiting: [Design, string | null] | null = null;

  const run = async (design: Design, bypassedPartId: string | null): Promise<void> => {
    isBusy = true;
    try {
      const { prediction, computeMs } = await service.predict(design, bypassedPartId);
      onPrediction(prediction, computeMs);
    } catch (error) {
      onFailure(error instanceof Error ? error.message : String(error));
    }
    isBusy = false;
    const next = waiting;
    waiting = null;
    if (next) void run(...next);
  };
  return {
    load: (id, samples) => void service.load(id, samples),
    request(design, bypassedPartId) {
      if (isBusy) waiting = [design, bypassedPartId];
      else void run(design, bypassedPartId);
    },
    close: () => worker.terminate(),
  };
}

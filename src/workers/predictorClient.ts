import * as comlink from 'comlink';
import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';
import { newestOnly } from './newestOnly';
import type { PredictorService } from './predictor.worker';

interface Request {
  readonly design: Design;
  readonly bypassedPartId: string | null;
}

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
  let frequencyHz: Float64Array = new Float64Array(0);
  const ask = newestOnly(async ({ design, bypassedPartId }: Request) => {
    try {
      const { prediction, computeMs } = await service.predict(design, bypassedPartId);
      // The grid hardly ever changes: charts that know it need not work it out again.
      if (!isSameGrid(frequencyHz, prediction.frequencyHz)) frequencyHz = prediction.frequencyHz;
      onPrediction({ ...prediction, frequencyHz }, computeMs);
    } catch (error) {
      onFailure(error instanceof Error ? error.message : String(error));
    }
  });
  return {
    load: (id, samples) => void service.load(id, samples),
    request: (design, bypassedPartId) => ask({ design, bypassedPartId }),
    close: () => worker.terminate(),
  };
}

const isSameGrid = (a: Float64Array, b: Float64Array) =>
  a.length === b.length && a.every((hz, i) => hz === b[i]);

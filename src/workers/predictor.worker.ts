import * as comlink from 'comlink';
import { createPredictor } from '@/core/design/predict';
import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';

const predict = createPredictor();
const data = new Map<string, Samples>();

const service = {
  load(id: string, samples: Samples): void {
    data.set(id, samples);
  },
  /**
   * Predicts a design; the curves are handed over, not copied. The document comes from this page's own store, which was
   * checked when it was loaded; checking it again would take a third of the time of a prediction.
   */
  predict(
    design: Design,
    bypassedPartId: string | null,
  ): { prediction: Prediction; computeMs: number } {
    const start = performance.now();
    const prediction = predict(design, data, { bypassedPartId });
    // The grid is shared by all predictions of this worker and must stay here.
    const own = { ...prediction, frequencyHz: prediction.frequencyHz.slice() };
    return comlink.transfer(
      { prediction: own, computeMs: performance.now() - start },
      buffersOf(own),
    );
  },
};

function buffersOf({ frequencyHz, ways, sum, impedance }: Prediction): ArrayBuffer[] {
  const arrays = [
    frequencyHz,
    ...ways.flatMap((way) => [
      way.levelDb,
      way.phaseDeg,
      way.volts,
      way.voltsPhaseDeg,
      way.sumIfReversedDb,
    ]),
    ...(sum ? [sum.levelDb, sum.phaseDeg] : []),
    ...(impedance ? [impedance.ohms, impedance.phaseDeg] : []),
  ];
  return arrays.map((array) => array.buffer as ArrayBuffer);
}

export type PredictorService = typeof service;
comlink.expose(service);

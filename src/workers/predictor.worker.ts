import * as comlink from 'comlink';
import { meaningOf, type Meaning } from '@/core/brief/consequences';
import { createPredictor } from '@/core/design/predict';
import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';
import { leversOf, type Lever } from '@/core/promises/levers';
import { standingsOf, type Standing } from '@/core/promises/standing';

const predict = createPredictor();
const data = new Map<string, Samples>();

/** A design's curves and verdicts. */
export interface Outcome {
  readonly prediction: Prediction;
  readonly standings: readonly Standing[];
}

/** What is worked out when there is time for it. */
export interface Study {
  readonly meaning: Meaning;
  readonly levers: ReadonlyMap<string, readonly Lever[]>;
}

const service = {
  load(id: string, samples: Samples): void {
    data.set(id, samples);
  },
  /**
   * Predicts a design and judges its promises; the curves are handed over, not copied. The document comes from this
   * page's own store, which was checked when it was loaded; checking it again would take a third of the time of a
   * prediction.
   */
  predict(design: Design, bypassedPartId: string | null): Outcome & { computeMs: number } {
    const start = performance.now();
    const prediction = predict(design, data, { bypassedPartId });
    const standings = standingsOf(design, prediction);
    // The grid is shared by all predictions of this worker and must stay here.
    const own = { ...prediction, frequencyHz: prediction.frequencyHz.slice() };
    return comlink.transfer(
      { prediction: own, standings, computeMs: performance.now() - start },
      buffersOf(own),
    );
  },
  study(design: Design): Study {
    return {
      meaning: meaningOf(design, predict(design, data)),
      levers: leversOf(design, data, predict),
    };
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

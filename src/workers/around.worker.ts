import * as comlink from 'comlink';
import { directivityOf } from '@/core/around/directivity';
import { createAroundStudy, type AroundFinding } from '@/core/around/findings';
import { createAroundViews, type AroundView, type AroundWish } from '@/core/around/orbits';
import { createJointScorer, type JointTask } from '@/core/around/jointScore';
import { type JointWish } from '@/core/around/jointLayout';
import type { Design } from '@/core/document/schema';
import { tradeOff, type TradePlace } from '@/core/fitting/tradeOff';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { crossovers } from '@/core/prediction/crossovers';
import { type Band } from '@/core/prediction/figures';
import type { Prediction } from '@/core/prediction/prediction';
import { attempt } from './result';
import { sofaFile } from './sofaFile';

const viewOf = createAroundViews();
const studyOf = createAroundStudy();
const data = new Map<string, Samples>();
let studies = 0;
let score: ReturnType<typeof createJointScorer> | null = null;

const nextTask = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

const service = {
  load(id: string, samples: Samples): void {
    data.set(id, samples);
  },
  view: (design: Design, wish: AroundWish) => attempt(() => viewOf(design, data, wish)),
  /** @returns null when another study came before the end */
  async study(
    design: Design,
    prediction: Prediction,
    view: AroundView,
    band: Band,
    tell: (found: readonly AroundFinding[]) => void,
  ): Promise<readonly AroundFinding[] | null> {
    const mine = ++studies;
    const seeking = studyOf(design, data, view, crossovers(prediction), band);
    for (;;) {
      await nextTask();
      if (mine !== studies) return null;
      const { done, value } = seeking.next();
      if (done) return value;
      tell(value);
    }
  },
  /** Runs to its end; ended by ending the worker. */
  tradeOff: (
    design: Design,
    numbers: MeasurementData,
    count: number,
    tell: (places: readonly TradePlace[]) => void,
  ) =>
    attempt(() => {
      const seeking = tradeOff(design, numbers, { seed: 1, count });
      for (;;) {
        const { done, value } = seeking.next();
        if (done) return value;
        tell(value);
      }
    }),
  /** Makes ready to judge layouts. */
  beginScoring(design: Design, numbers: MeasurementData, wish: JointWish): void {
    score = createJointScorer(design, numbers, wish);
  },
  score: (task: JointTask) => attempt(() => score?.(task) ?? null),
  /** Both orbits with their phases; null where they are not known. */
  directivity: (design: Design, stepDeg: 5 | 10, distanceMm: number) =>
    directivityOf(design, data, stepDeg, distanceMm),
  /** The same as SOFA (AES69). */
  async sofa(design: Design, stepDeg: 5 | 10, distanceMm: number): Promise<Uint8Array | null> {
    const found = directivityOf(design, data, stepDeg, distanceMm);
    return found && sofaFile(design.name, found);
  },
};

export type AroundService = typeof service;
comlink.expose(service);

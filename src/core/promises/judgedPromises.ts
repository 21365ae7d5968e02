import type { PromiseKind } from '@/core/document/briefSchema';
import type { Prediction } from '@/core/prediction/prediction';
import type { Design } from '@/core/document/schema';
import { judge, type Verdict } from './judge';
import type { DesignPromise } from './promise';
import { conditionsOf, promisesOf } from './promisesOf';

/** A promise and its verdict. */
export interface JudgedPromise {
  readonly promise: DesignPromise;
  readonly verdict: Verdict;
}

/** All promises of a design, judged by its prediction. */
export function judgedPromisesOf(design: Design, prediction: Prediction | null): JudgedPromise[] {
  const promises = promisesOf(design);
  const verdicts = judge(prediction, promises);
  return promises.map((promise, i) => ({ promise, verdict: verdicts[i] }));
}

/** What a network is looked at for, whether it was promised or not. */
const alwaysTold: readonly PromiseKind[] = [
  'on-axis',
  'window',
  'directivity',
  'lowest-impedance',
  'phase-tracking',
  'sensitivity',
];

/**
 * All promises that can be judged, and the usual figures of a network that nobody promised; these
 * have no limits.
 */
export function figuresOfNetwork(design: Design, prediction: Prediction): JudgedPromise[] {
  const promises = promisesOf(design);
  const conditions = conditionsOf(design);
  const others = alwaysTold
    .filter((kind) => promises.every((promise) => promise.kind !== kind))
    .map((kind): DesignPromise => ({
      ...{ id: kind, kind, atLeast: null, atMost: null, band: null, angle: null, weight: 1 },
      source: { answers: [], arithmetic: '', isAdjusted: false },
      conditions,
    }));
  const all = [...promises, ...others];
  const verdicts = judge(prediction, all);
  return all
    .map((promise, i) => ({ promise, verdict: verdicts[i] }))
    .filter(({ verdict }) => verdict.value !== null);
}

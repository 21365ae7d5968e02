import type { Prediction } from '@/core/design/prediction';
import type { Design } from '@/core/design/schema';
import { judge, type Verdict } from './judge';
import type { DesignPromise } from './promise';
import { promisesOf } from './promisesOf';

/** A promise and how it stands. */
export interface Standing {
  readonly promise: DesignPromise;
  readonly verdict: Verdict;
}

/** All promises of a design, judged by its prediction. */
export function standingsOf(design: Design, prediction: Prediction | null): Standing[] {
  const promises = promisesOf(design);
  const verdicts = judge(prediction, promises);
  return promises.map((promise, i) => ({ promise, verdict: verdicts[i] }));
}

import type { Figures } from '@/core/log/log';
import type { Prediction } from '@/core/prediction/prediction';
import { thumbnailOf } from '@/core/insight/thumbnail';
import type { JudgedPromise } from './judgedPromises';

/** What the log keeps of a state's curves and verdicts. */
export const figuresOf = (prediction: Prediction, judged: readonly JudgedPromise[]): Figures => ({
  promises: judged.slice(0, 80).map(({ promise, verdict }) => ({
    id: promise.id,
    kind: promise.kind,
    value: verdict.value,
    isKept: verdict.isKept,
  })),
  thumbnail: thumbnailOf(prediction),
});

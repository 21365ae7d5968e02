import type { Figures } from '@/core/document/log';
import type { Prediction } from '@/core/prediction/prediction';
import { thumbnailOf } from '@/core/insight/thumbnail';
import type { Standing } from './standing';

/** What the log keeps of a state's curves and verdicts. */
export const figuresOf = (prediction: Prediction, standings: readonly Standing[]): Figures => ({
  promises: standings.slice(0, 80).map(({ promise, verdict }) => ({
    id: promise.id,
    kind: promise.kind,
    value: verdict.value,
    isKept: verdict.isKept,
  })),
  thumbnail: thumbnailOf(prediction),
});

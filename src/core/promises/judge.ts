import type { PromiseKind } from '@/core/document/briefSchema';
import type { Prediction } from '@/core/prediction/prediction';
import { kinds } from './kinds/kinds';
import type { DesignPromise } from './promise';

/** The verdict on a promise. */
export interface Verdict {
  readonly promiseId: string;
  readonly kind: PromiseKind;
  readonly value: number | null;
  /** What is missing while there is no value: "needs drivers". */
  readonly needs: string | null;
  /** Distance to the nearer limit in the promise's unit, positive while it is kept. */
  readonly margin: number | null;
  readonly isKept: boolean | null;
  /** Where the value was found. */
  readonly atHz: number | null;
  /** What the value rests on besides measurements. */
  readonly basis?: string;
}

/**
 * Distance of a value to the nearer limit, in the promise's unit, positive while it is kept;
 * Infinity without a limit.
 */
export const marginOf = (
  { atMost, atLeast }: Pick<DesignPromise, 'atMost' | 'atLeast'>,
  value: number,
): number =>
  Math.min(
    atMost === null ? Infinity : atMost - value,
    atLeast === null ? Infinity : value - atLeast,
  );

/** Judges each promise by the curves of a prediction. Pure: the same curves, the same verdicts. */
export function judge(
  prediction: Prediction | null,
  promises: readonly DesignPromise[],
): Verdict[] {
  return promises.map((promise) => {
    const found = kinds[promise.kind].measure(prediction, promise);
    const base = { promiseId: promise.id, kind: promise.kind };
    if ('needs' in found)
      return { ...base, value: null, needs: found.needs, margin: null, isKept: null, atHz: null };
    const { value, atHz = null, basis } = found;
    const margin = marginOf(promise, value);
    return {
      ...base,
      value,
      needs: null,
      margin: Number.isFinite(margin) ? margin : null,
      // A limit that is met to rounding is met.
      isKept: margin >= -1e-9,
      atHz,
      ...(basis !== undefined && { basis }),
    };
  });
}

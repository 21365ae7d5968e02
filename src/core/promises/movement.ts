import type { PromiseKind } from '@/core/document/briefSchema';
import { marginOf } from './judge';
import type { JudgedPromise } from './judgedPromises';

/** How a promise moved between two states. */
interface Movement {
  readonly promiseId: string;
  readonly kind: PromiseKind;
  readonly before: number | null;
  readonly after: number | null;
  /** Judged by the later state's limits; null while one of the values is missing. */
  readonly direction: 'better' | 'worse' | 'same' | null;
  readonly isKept: boolean | null;
}

/** How the promises of a later state are against an earlier one, in the later one's order. */
export function movements(
  before: readonly JudgedPromise[],
  after: readonly JudgedPromise[],
): Movement[] {
  const earlier = new Map(before.map(({ promise, verdict }) => [promise.id, verdict]));
  return after.map(({ promise, verdict }) => {
    const was = earlier.get(promise.id)?.value ?? null;
    return {
      promiseId: promise.id,
      kind: promise.kind,
      before: was,
      after: verdict.value,
      direction: directionOf(was, { promise, verdict }),
      isKept: verdict.isKept,
    };
  });
}

function directionOf(
  was: number | null,
  { promise, verdict }: JudgedPromise,
): Movement['direction'] {
  if (was === null || verdict.value === null || verdict.margin === null) return null;
  const gain = verdict.margin - marginOf(promise, was);
  if (Math.abs(gain) < 1e-6) return 'same';
  return gain > 0 ? 'better' : 'worse';
}

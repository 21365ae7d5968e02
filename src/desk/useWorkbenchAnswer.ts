import { useEffect, useState } from 'react';
import type { Workbench } from './desk';
import { messageOf } from '@/core/problem';
import { useDesk, useDeskState } from './DeskContext';

/**
 * A question to the background worker. A new function is a new question: keep it with
 * `useCallback`.
 */
export type Question<T> = (workbench: Workbench) => Promise<T>;

/** What the background worker found. */
export interface Answer<T> {
  /** The last answer; it stays while the next one is worked out. */
  readonly value: T | null;
  /** Whether it belongs to the present question. */
  readonly isCurrent: boolean;
  /** Why the present question has no answer. */
  readonly trouble: string | null;
}

const usualRestMs = 200;

/**
 * Asks the background worker once a question has stood for a while; an answer that comes after the
 * next question is dropped.
 *
 * @param question null asks nothing
 */
export function useWorkbenchAnswer<T>(
  question: Question<T> | null,
  restMs = usualRestMs,
): Answer<T> {
  const desk = useDesk();
  // Measurements that arrive later change the answer too.
  const loaded = useDeskState((state) => state.loaded);
  const [last, setLast] = useState<{
    readonly question: Question<T>;
    readonly value: T | null;
    readonly trouble: string | null;
  } | null>(null);
  useEffect(() => {
    if (!question) return;
    let isWanted = true;
    const timer = setTimeout(() => {
      question(desk.workbench())
        .then((value) => isWanted && setLast({ question, value, trouble: null }))
        .catch((error: unknown) => {
          const trouble = messageOf(error);
          if (isWanted) setLast((before) => ({ value: null, ...before, question, trouble }));
        });
    }, restMs);
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [desk, question, restMs, loaded]);
  const isCurrent = last !== null && last.question === question;
  return {
    value: last?.value ?? null,
    isCurrent: isCurrent && last.trouble === null,
    trouble: isCurrent ? last.trouble : null,
  };
}

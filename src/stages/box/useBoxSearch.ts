'use client';
import type { Box } from '@/core/document/boxSchema';
import type { BoxFound, BoxWish } from '@/core/lows/boxJudge';
import type { BoxSearchProgress } from '@/core/lows/search';
import { useDesk } from '@/desk/DeskContext';
import { useRun } from '@/desk/useRun';
import { startBoxSearch } from '@/workers/boxClient';
import { runAfter } from '@/workers/run';

/** Searches boxes for the open design. */
export function useBoxSearch() {
  const desk = useDesk();
  const { progress, found, trouble, begin, end } = useRun<BoxSearchProgress, readonly BoxFound[]>();
  return {
    ...{ progress, found, trouble },
    search: (like: Box, wish: BoxWish) =>
      begin(
        (tell) =>
          runAfter(desk.designSamples(), (numbers) =>
            startBoxSearch(desk.store.getState().design, like, wish, numbers, tell),
          ),
        { told: 'beginning', share: 0, best: null },
      ),
    /** What was the best so far stays. */
    stop: () => end(progress?.best ? [progress.best] : null),
  };
}

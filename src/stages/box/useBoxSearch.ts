'use client';
import { useEffect, useRef, useState } from 'react';
import type { Box } from '@/core/document/boxSchema';
import type { BoxFound, BoxWish } from '@/core/lows/boxJudge';
import type { BoxSearchProgress } from '@/core/lows/search';
import { useDesk } from '@/desk/DeskContext';
import { startBoxSearch, type BoxRun } from '@/workers/boxClient';

/** Searches boxes for the open design. */
export function useBoxSearch() {
  const desk = useDesk();
  const [progress, setProgress] = useState<BoxSearchProgress | null>(null);
  const [found, setFound] = useState<readonly BoxFound[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const run = useRef<BoxRun | null>(null);
  useEffect(() => () => run.current?.stop(), []);
  return {
    ...{ progress, found, trouble },
    search: (like: Box, wish: BoxWish) => {
      run.current?.stop();
      setTrouble(null);
      setFound(null);
      // What a stopped search still tells is not heard.
      const isWanted = () => run.current === started;
      const started: BoxRun = startBoxSearch(
        desk.store.getState().design,
        like,
        wish,
        desk.allSamples(),
        (told) => isWanted() && setProgress(told),
      );
      run.current = started;
      setProgress({ told: 'beginning', share: 0, best: null });
      started.found
        .then((boxes) => isWanted() && setFound(boxes))
        .catch((error: unknown) => {
          if (isWanted()) setTrouble(error instanceof Error ? error.message : String(error));
        })
        .finally(() => isWanted() && setProgress(null));
    },
    /** What was the best so far stays. */
    stop: () => {
      run.current?.stop();
      run.current = null;
      setFound(progress?.best ? [progress.best] : null);
      setProgress(null);
    },
  };
}

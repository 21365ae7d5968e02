'use client';
import { useEffect, useRef, useState } from 'react';
import { messageOf } from '@/core/problem';
import type { Run } from '@/workers/run';

/** A search in workers: the newest is heard, and none goes on once its screen is left. */
export function useRun<Progress, Found>() {
  const [progress, setProgress] = useState<Progress | null>(null);
  const [found, setFound] = useState<Found | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const run = useRef<Run<Found> | null>(null);
  useEffect(
    () => () => {
      run.current?.stop();
      run.current = null;
    },
    [],
  );
  return {
    ...{ progress, found, trouble },
    /** Begins one; what an older one still tells is not heard. */
    begin: (
      start: (tell: (told: Progress) => void) => Run<Found>,
      first: Progress | null = null,
    ) => {
      run.current?.stop();
      setTrouble(null);
      setFound(null);
      const isWanted = () => run.current === own;
      const own: Run<Found> = start((told) => isWanted() && setProgress(told));
      run.current = own;
      setProgress(first);
      own.found
        .then((result) => isWanted() && setFound(result))
        .catch((error: unknown) => {
          if (isWanted()) setTrouble(messageOf(error));
        })
        .finally(() => isWanted() && setProgress(null));
    },
    /** Asks it to end by itself: what it answers then is heard. */
    finish: () => run.current?.stop(),
    /** Ends it; what there was so far may stay. */
    end: (best: Found | null = null) => {
      run.current?.stop();
      run.current = null;
      setFound(best);
      setProgress(null);
    },
  };
}

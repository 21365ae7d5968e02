'use client';
import { useEffect, useRef, useState } from 'react';
import type { PartLimits } from '@/core/fitting/limits';
import type { Buyable } from '@/core/fitting/stock';
import type { FitState } from '@/core/fitting/fit';
import { ProblemError } from '@/core/problem';
import { useDesk } from '@/desk/DeskContext';
import { runKey } from '@/desk/history';
import { runFit, runRounding, type FitOutcome, type FitWish } from '@/workers/fitClient';

/** What is going on, and what came of it. */
export interface FitWork {
  readonly what: 'fit' | 'round';
  readonly outcome: FitOutcome;
}

/** Runs fits on the open design: the best so far lies on the desk at once, and all of it is one step to undo. */
export function useFit() {
  const desk = useDesk();
  const [progress, setProgress] = useState<number | null>(null);
  const [work, setWork] = useState<FitWork | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  // Who leaves the fit keeps the best so far; nothing moves values unseen.
  useEffect(() => () => abort.current?.abort(), []);

  const run = async (
    what: FitWork['what'],
    label: string,
    go: (signal: AbortSignal, show: (state: FitState) => void) => Promise<FitOutcome>,
  ) => {
    const { signal } = (abort.current = new AbortController());
    const key = runKey(crypto.randomUUID());
    setTrouble(null);
    setWork(null);
    setProgress(0);
    try {
      const outcome = await go(signal, ({ values }) => {
        if (!signal.aborted) desk.change({ type: 'setPartValues', values }, label, key);
      });
      setWork({ what, outcome });
    } catch (error) {
      setTrouble(error instanceof ProblemError ? error.message : String(error));
    } finally {
      setProgress(null);
    }
  };

  return {
    progress,
    work,
    trouble,
    stop: () => abort.current?.abort(),
    fit: (wish: FitWish) =>
      run('fit', 'fit the free values', (signal, onBetter) =>
        runFit(desk.store.getState().design, desk.allSamples(), wish, signal, {
          onBetter,
          onProgress: (share) => setProgress(Math.round(100 * share)),
        }),
      ),
    round: (series: Buyable, limits: PartLimits) =>
      run('round', 'round to values one can buy', (signal, onBetter) =>
        runRounding(
          desk.store.getState().design,
          desk.allSamples(),
          { series, limits },
          signal,
          onBetter,
        ),
      ),
  };
}

'use client';
import { useEffect, useRef, useState } from 'react';
import type { PartLimits } from '@/core/fitting/limits';
import type { Buyable } from '@/core/fitting/stock';
import type { FewerResult } from '@/core/fitting/fewer';
import { withTurned, type FitState } from '@/core/fitting/fit';
import { ProblemError } from '@/core/problem';
import type { JudgedPromise } from '@/core/promises/judgedPromises';
import { useDesk } from '@/desk/DeskContext';
import { runKey } from '@/desk/history';
import {
  runFit,
  runOmission,
  runRounding,
  type FitOutcome,
  type FitWish,
} from '@/workers/fitClient';

/** What is going on, and what came of it. */
export interface FitWork {
  readonly what: 'fit' | 'round';
  readonly outcome: FitOutcome;
  /** Before and after, judged as everywhere else. */
  readonly before: readonly JudgedPromise[];
  readonly after: readonly JudgedPromise[];
}

/**
 * Runs fits on the open design: the best so far lies on the desk at once, and all of it is one step
 * to undo.
 */
export function useFit() {
  const desk = useDesk();
  const [progress, setProgress] = useState<number | null>(null);
  const [work, setWork] = useState<FitWork | null>(null);
  const [omitted, setOmitted] = useState<FewerResult | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  // Who leaves the fit keeps the best so far; nothing moves values unseen.
  useEffect(() => () => abort.current?.abort(), []);

  /** Runs one piece of work at a time; what it leaves on the desk is one step under its key. */
  const run = async (go: (signal: AbortSignal, key: string) => Promise<void>) => {
    const { signal } = (abort.current = new AbortController());
    setTrouble(null);
    setWork(null);
    setOmitted(null);
    setProgress(0);
    try {
      await go(signal, runKey(crypto.randomUUID()));
    } catch (error) {
      setTrouble(error instanceof ProblemError ? error.message : String(error));
    } finally {
      setProgress(null);
    }
  };

  const runValues = (
    what: FitWork['what'],
    label: string,
    go: (signal: AbortSignal, show: (state: FitState) => void) => Promise<FitOutcome>,
  ) =>
    run(async (signal, key) => {
      const start = desk.store.getState().design;
      const outcome = await go(signal, ({ values, turned }) => {
        if (signal.aborted) return;
        for (const { id, polarity } of withTurned(start, turned).ways)
          if (desk.store.getState().design.ways.find((way) => way.id === id)?.polarity !== polarity)
            desk.change({ type: 'editWay', id, set: { polarity } }, label, key);
        desk.change({ type: 'setPartValues', values }, label, key);
      });
      const { figures } = desk.workbench();
      const [before, after] = await Promise.all([
        figures(start),
        figures(desk.store.getState().design),
      ]);
      setWork({ what, outcome, before, after });
    });

  return {
    progress,
    work,
    omitted,
    trouble,
    stop: () => abort.current?.abort(),
    fit: (wish: FitWish) =>
      runValues('fit', 'fit the free values', async (signal, onBetter) =>
        runFit(desk.store.getState().design, await desk.designSamples(), wish, signal, {
          onBetter,
          onProgress: (share) => setProgress(Math.round(100 * share)),
        }),
      ),
    round: (series: Buyable, limits: PartLimits) =>
      runValues('round', 'round to values one can buy', async (signal, onBetter) =>
        runRounding(
          desk.store.getState().design,
          await desk.designSamples(),
          { series, limits },
          signal,
          onBetter,
        ),
      ),
    /** Turns off the parts that are worth less than some decibels; the rest is fitted around it. */
    omit: (worthDb: number, limits: PartLimits) =>
      run(async (signal, key) => {
        const { design } = desk.store.getState();
        const found = await runOmission(
          design,
          await desk.designSamples(),
          { worthDb, limits },
          signal,
        );
        if (found && found.omissions.length > 0) {
          const label = `exclude ${found.omissions.map(({ partName }) => partName).join(', ')}`;
          for (const { partId: id } of found.omissions)
            desk.change({ type: 'editPart', id, set: { isOff: true } }, label, key);
          desk.change({ type: 'setPartValues', values: found.values }, label, key);
        }
        setOmitted(found);
      }),
  };
}

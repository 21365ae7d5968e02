'use client';
import { useEffect } from 'react';
import { jointLayout, type JointWish } from '@/core/around/jointLayout';
import { type JointFound, type JointProgress } from '@/core/around/jointSearch';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import { useDesk } from '@/desk/DeskContext';
import { useRun } from '@/desk/useRun';
import { startJointSearch } from '@/workers/aroundClient';
import { runAfter } from '@/workers/run';

/** What a search was asked, and what it came to. */
interface Answer {
  readonly wish: JointWish;
  readonly result: JointFound | null;
}

/** Searches a layout together with its network; shows what was found, takes it over. */
export function useJointSearch() {
  const desk = useDesk();
  const { progress, found, trouble, begin, finish } = useRun<JointProgress, Answer>();
  // Who leaves the search sees the design again.
  useEffect(() => () => desk.preview(null), [desk]);
  const changesOf = (result: JointFound, wish: JointWish): Change[] => [
    jointLayout(desk.store.getState().design, wish.panelId, result.variables, result.point),
    { type: 'setPartValues', values: result.best.values },
  ];
  return {
    progress,
    trouble,
    result: found?.result ?? null,
    /** Whether a search came to its end without anything to show. */
    isEmpty: found !== null && found.result === null,
    search(wish: JointWish) {
      const { design } = desk.store.getState();
      desk.preview(null);
      begin((tell) => {
        const { found: coming, stop } = runAfter(desk.designSamples(), (numbers) =>
          startJointSearch(design, numbers, wish, tell),
        );
        return { found: coming.then((result) => ({ wish, result })), stop };
      });
    },
    /** Ends the search; the best so far is finished and shown. */
    stop: finish,
    show: (isShown: boolean) => {
      const { design } = desk.store.getState();
      desk.preview(
        isShown && found?.result
          ? changesOf(found.result, found.wish).reduce(applyChange, design)
          : null,
      );
    },
    takeOver: () => {
      if (!found?.result) return;
      desk.preview(null);
      desk.change(changesOf(found.result, found.wish), 'a layout with its network');
    },
  };
}

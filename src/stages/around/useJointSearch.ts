'use client';
import { useEffect, useRef, useState } from 'react';
import {
  jointLayout,
  type JointFound,
  type JointProgress,
  type JointWish,
} from '@/core/around/jointSearch';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import type { Design } from '@/core/document/schema';
import { useDesk } from '@/desk/DeskContext';
import { startJointSearch, type AroundRun } from '@/workers/aroundClient';

/** Searches a layout together with its network; shows what was found, takes it over. */
export function useJointSearch() {
  const desk = useDesk();
  const [progress, setProgress] = useState<JointProgress | null>(null);
  const [found, setFound] = useState<{
    readonly of: Design;
    readonly wish: JointWish;
    readonly result: JointFound | null;
  } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const run = useRef<AroundRun<JointFound | null> | null>(null);
  // Who leaves the search sees the design again, and nothing goes on unseen.
  useEffect(
    () => () => {
      run.current?.stop();
      run.current = null;
      desk.preview(null);
    },
    [desk],
  );
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
      setTrouble(null);
      setFound(null);
      desk.preview(null);
      const isWanted = () => run.current === own;
      const own = startJointSearch(
        design,
        desk.allSamples(),
        wish,
        (told) => isWanted() && setProgress(told),
      );
      run.current = own;
      own.found
        .then((result) => isWanted() && setFound({ of: design, wish, result }))
        .catch((error: unknown) => {
          if (isWanted()) setTrouble(error instanceof Error ? error.message : String(error));
        })
        .finally(() => isWanted() && setProgress(null));
    },
    /** Ends the search; the best so far is finished and shown. */
    stop: () => run.current?.stop(),
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

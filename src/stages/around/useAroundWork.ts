'use client';
import { useEffect, useMemo, useState } from 'react';
import { messageOf } from '@/core/problem';
import type { AroundFinding } from '@/core/around/findings';
import type { AroundView, AroundWish } from '@/core/around/orbits';
import type { Design } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { createAroundClient, type AroundClient } from '@/workers/aroundClient';
import { useWorkerClient } from '@/desk/useWorkerClient';
import { newestOnly } from '@/workers/newestOnly';

const restMs = 400;

/** Workers for the look around, as long as the screen is open; null before they are there. */
export const useAroundClient = (): AroundClient | null => useWorkerClient(createAroundClient);

interface Shown {
  readonly design: Design | null;
  readonly view: AroundView | null;
  readonly trouble: string | null;
}

/** What is heard around the speaker; it follows the design, the newest first. */
export function useAroundView(client: AroundClient | null, wish: AroundWish): Shown {
  const desk = useDesk();
  const design = useDeskState((state) => shownOf(state).design);
  const loaded = useDeskState((state) => state.loaded);
  const [shown, setShown] = useState<Shown>({ design: null, view: null, trouble: null });
  const ask = useMemo(
    () =>
      client &&
      newestOnly(async (asked: { readonly design: Design; readonly wish: AroundWish }) => {
        try {
          const view = await client.view(asked.design, asked.wish);
          setShown({ design: asked.design, view, trouble: null });
        } catch (error) {
          const trouble = messageOf(error);
          setShown(({ view }) => ({ design: asked.design, view, trouble }));
        }
      }),
    [client],
  );
  useEffect(() => {
    // Without its numbers nothing is known of a design.
    const isHere = design.measurements.every(({ id }) => loaded.has(id));
    if (!client || !ask || !isHere) return;
    client.load(desk.allSamples());
    ask({ design, wish });
  }, [desk, client, ask, design, loaded, wish]);
  return shown;
}

export interface AroundStudyState {
  readonly findings: readonly AroundFinding[] | null;
  /** Whether more may come. */
  readonly isBusy: boolean;
  readonly trouble: string | null;
}

/** What directivity does and why, once the hand rests. */
export function useAroundStudy(client: AroundClient | null, shown: Shown): AroundStudyState {
  const prediction = useDeskState((state) =>
    state.predictedDesign === state.design ? state.prediction : null,
  );
  const present = useDeskState((state) => state.design);
  const [state, setState] = useState<AroundStudyState & { readonly of: Design | null }>({
    ...{ findings: null, isBusy: false, trouble: null, of: null },
  });
  const { design, view } = shown;
  useEffect(() => {
    if (!client || !view || !prediction || design !== present) return;
    let isWanted = true;
    const timer = setTimeout(() => {
      setState((before) => ({ ...before, isBusy: true }));
      client
        .study(present, prediction, view, present.target, (findings) => {
          if (isWanted) setState({ findings, isBusy: true, trouble: null, of: present });
        })
        .then((findings) => {
          if (isWanted && findings)
            setState({ findings, isBusy: false, trouble: null, of: present });
        })
        .catch((error: unknown) => {
          const trouble = messageOf(error);
          if (isWanted) setState({ findings: null, isBusy: false, trouble, of: present });
        });
    }, restMs);
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [client, view, prediction, design, present]);
  return { ...state, isBusy: state.isBusy || state.of !== present };
}

'use client';
import { useEffect, useMemo, useState } from 'react';
import { messageOf } from '@/core/problem';
import type { Design } from '@/core/document/schema';
import type { LayoutStudy } from '@/core/layout/study';
import type { BaffleView, ViewRequest } from '@/core/layout/view';
import { useDeskState } from '@/desk/DeskContext';
import { createBaffleClient, type BaffleClient } from '@/workers/baffleClient';
import { useWorkerClient } from '@/desk/useWorkerClient';
import { newestOnly } from '@/workers/newestOnly';

const restMs = 250;

/** A worker for the drawing, as long as the screen is open; null before they are there. */
export const useBaffleClient = (): BaffleClient | null => useWorkerClient(createBaffleClient);

interface Asked {
  readonly design: Design;
  readonly request: ViewRequest;
}

interface Shown {
  readonly view: BaffleView | null;
  readonly trouble: string | null;
}

const nothing: Shown = { view: null, trouble: null };

/** Curves of a driver on a baffle; they follow the design, the newest first. */
export function useBaffleView(
  client: BaffleClient | null,
  design: Design | null,
  request: ViewRequest | null,
): Shown {
  const [shown, setShown] = useState<Shown>(nothing);
  const ask = useMemo(
    () =>
      client &&
      newestOnly(async ({ design: of, request: what }: Asked) => {
        try {
          setShown({ view: await client.view(of, what), trouble: null });
        } catch (error) {
          const trouble = messageOf(error);
          setShown(({ view }) => ({ view, trouble }));
        }
      }),
    [client],
  );
  useEffect(() => {
    if (ask && design && request) ask({ design, request });
  }, [ask, design, request]);
  return design && request ? shown : nothing;
}

/** What is found about the layout, once the hand rests. */
export function useLayoutStudy(client: BaffleClient | null): {
  readonly study: LayoutStudy | null;
  readonly isCurrent: boolean;
  readonly trouble: string | null;
} {
  const design = useDeskState((state) => state.design);
  const prediction = useDeskState((state) =>
    state.predictedDesign === state.design ? state.prediction : null,
  );
  const [found, setFound] = useState<{
    readonly design: Design;
    readonly study: LayoutStudy | null;
    readonly trouble: string | null;
  } | null>(null);
  useEffect(() => {
    if (!client) return;
    let isWanted = true;
    const timer = setTimeout(() => {
      client
        .study(design, prediction)
        .then((study) => isWanted && setFound({ design, study, trouble: null }))
        .catch((error: unknown) => {
          const trouble = messageOf(error);
          if (isWanted) setFound({ design, study: null, trouble });
        });
    }, restMs);
    return () => {
      isWanted = false;
      clearTimeout(timer);
    };
  }, [client, design, prediction]);
  return {
    study: found?.study ?? null,
    isCurrent: found?.design === design,
    trouble: found?.trouble ?? null,
  };
}

'use client';
import { useEffect, useMemo, useState } from 'react';
import { messageOf } from '@/core/problem';
import type { Box } from '@/core/document/boxSchema';
import { numberIds, type Design } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { createBoxClient, type BoxClient, type BoxesLookedAt } from '@/workers/boxClient';
import { useWorkerClient } from '@/desk/useWorkerClient';
import { newestOnly } from '@/workers/newestOnly';

/** Workers for boxes, as long as the screen is open; null before they are there. */
export const useBoxClient = (): BoxClient | null => useWorkerClient(createBoxClient);

/** A family of boxes that is shown in the place of the candidates. */
export interface Family {
  readonly names: readonly string[];
  readonly boxes: readonly Box[];
}

interface Shown {
  readonly looked: BoxesLookedAt | null;
  /** What it belongs to. */
  readonly of: Design | null;
  readonly trouble: string | null;
}

/**
 * Curves and figures of boxes; they follow the design, the newest first.
 *
 * @param boxes the one that is drawn first
 */
export function useBoxesLookedAt(
  client: BoxClient | null,
  design: Design,
  boxes: readonly Box[],
): Shown {
  const desk = useDesk();
  const loaded = useDeskState((state) => state.loaded);
  const [shown, setShown] = useState<Shown>({ looked: null, of: null, trouble: null });
  const ask = useMemo(
    () =>
      client &&
      newestOnly(async (asked: { readonly design: Design; readonly boxes: readonly Box[] }) => {
        try {
          const looked = await client.look(asked.design, asked.boxes);
          setShown({ looked, of: asked.design, trouble: null });
        } catch (error) {
          const trouble = messageOf(error);
          setShown(({ looked }) => ({ looked, of: asked.design, trouble }));
        }
      }),
    [client],
  );
  useEffect(() => {
    // Without its numbers a driver would look as if it had none.
    const isHere = design.measurements.flatMap(numberIds).every((id) => loaded.has(id));
    if (!client || !ask || boxes.length === 0 || !isHere) return;
    client.load(desk.allSamples());
    ask({ design, boxes });
  }, [desk, client, ask, design, boxes, loaded]);
  return shown;
}

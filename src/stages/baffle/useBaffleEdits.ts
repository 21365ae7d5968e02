'use client';
import { useMemo } from 'react';
import type { Mounting, Panel } from '@/core/document/baffleSchema';
import type { Driver } from '@/core/document/schema';
import { useDesk } from '@/desk/DeskContext';

/** What the drawing and its pane do to the design; all of it can be undone. */
export interface BaffleEdits {
  moveDriver(driver: Driver, to: Partial<Driver['position']>, mergeKey?: string): void;
  mount(driver: Driver, set: Partial<Mounting>, mergeKey?: string): void;
  setPanel(panel: Panel, label: string, mergeKey?: string): void;
}

export function useBaffleEdits(): BaffleEdits {
  const desk = useDesk();
  return useMemo(
    () => ({
      moveDriver({ id, name, position }, to, mergeKey) {
        desk.change(
          { type: 'editDriver', id, set: { position: { ...position, ...to } } },
          `move ${name}`,
          mergeKey ?? `place ${id}`,
        );
      },
      mount({ id, name, mounting }, set, mergeKey) {
        desk.change(
          { type: 'editDriver', id, set: { mounting: { ...mounting, ...set } } },
          `mounting of ${name}`,
          mergeKey,
        );
      },
      setPanel(panel, label, mergeKey) {
        desk.change({ type: 'setPanel', panel }, label, mergeKey);
      },
    }),
    [desk],
  );
}

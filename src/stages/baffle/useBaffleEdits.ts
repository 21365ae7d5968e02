'use client';
import { useMemo } from 'react';
import type { Mounting, Panel } from '@/core/document/baffleSchema';
import type { Driver } from '@/core/document/schema';
import { useDesk } from '@/desk/DeskContext';

/** What the drawing and its pane do to the design; all of it can be undone. */
export interface BaffleEdits {
  moveDriver(driver: Driver, to: Partial<Driver['position']>, mergeKey?: string): void;
  /** By some millimetres from where it is now, which may be further than what is drawn yet. */
  nudgeDriver(driver: Driver, by: Partial<Driver['position']>): void;
  mount(driver: Driver, set: Partial<Mounting>, mergeKey?: string): void;
  setPanel(panel: Panel, label: string, mergeKey?: string): void;
}

export function useBaffleEdits(): BaffleEdits {
  const desk = useDesk();
  return useMemo(() => {
    const now = (driver: Driver) =>
      desk.store.getState().design.drivers.find(({ id }) => id === driver.id) ?? driver;
    const edits: BaffleEdits = {
      nudgeDriver(driver, { xMm = 0, yMm = 0, zMm = 0 }) {
        const { position } = now(driver);
        const moved = (mm: number, by: number) => Number((mm + by).toFixed(2));
        edits.moveDriver(driver, {
          xMm: moved(position.xMm, xMm),
          yMm: moved(position.yMm, yMm),
          zMm: moved(position.zMm, zMm),
        });
      },
      moveDriver(driver, to, mergeKey) {
        const { id, name, position } = now(driver);
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
    };
    return edits;
  }, [desk]);
}

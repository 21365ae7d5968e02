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
  aim(driver: Driver, set: Partial<Driver['aim']>, mergeKey?: string): void;
  /** Changes a front from what it is now, which may be further than what is drawn yet. */
  reshape(panel: Panel, edit: Reshape, label: string, mergeKey?: string): void;
  addPanel(panel: Panel, label: string): void;
}

/** A front as it will be, from what it is. */
export type Reshape = (now: Panel) => Panel;

/** The edits of one front, for the parts of its pane. */
export type ReshapeFront = (edit: Reshape, label: string, mergeKey?: string) => void;

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
      mount(driver, set, mergeKey) {
        const { id, name, mounting } = now(driver);
        desk.change(
          { type: 'editDriver', id, set: { mounting: { ...mounting, ...set } } },
          `mounting of ${name}`,
          mergeKey,
        );
      },
      aim(driver, set, mergeKey) {
        const { id, name, aim } = now(driver);
        desk.change(
          { type: 'editDriver', id, set: { aim: { ...aim, ...set } } },
          `where ${name} points`,
          mergeKey,
        );
      },
      reshape({ id }, edit, label, mergeKey) {
        const panel = desk.store.getState().design.panels.find((one) => one.id === id);
        const next = panel && edit(panel);
        if (next && next !== panel) desk.change({ type: 'setPanel', panel: next }, label, mergeKey);
      },
      addPanel(panel, label) {
        desk.change({ type: 'setPanel', panel }, label);
      },
    };
    return edits;
  }, [desk]);
}

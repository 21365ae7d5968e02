'use client';
import { useMemo } from 'react';
import type { Box, BoxPort, BoxShell } from '@/core/document/boxSchema';
import { useDesk } from '@/desk/DeskContext';

/** New values, or how they follow from those that are there now, which may be ahead of what is drawn. */
type Edit<T> = Partial<T> | ((now: T) => Partial<T>);

/** What the drawing and its pane do to a box; all of it can be undone. */
export interface BoxEdits {
  /** A box as it is by now, which may be ahead of what is drawn. */
  now(box: Box): Box;
  set(box: Box, edit: Edit<Box>, label: string, mergeKey?: string): void;
  shell(box: Box, edit: Edit<BoxShell>, label: string, mergeKey?: string): void;
  port(box: Box, edit: Edit<BoxPort>, label: string, mergeKey?: string): void;
  remove(box: Box): void;
}

const edited = <T>(now: T, edit: Edit<T>): T => ({
  ...now,
  ...(typeof edit === 'function' ? edit(now) : edit),
});

export function useBoxEdits(): BoxEdits {
  const desk = useDesk();
  return useMemo(() => {
    const now: BoxEdits['now'] = (box) =>
      desk.store.getState().design.boxes.find(({ id }) => id === box.id) ?? box;
    const set: BoxEdits['set'] = (box, edit, label, mergeKey) =>
      desk.change({ type: 'setBox', box: edited(now(box), edit) }, label, mergeKey);
    return {
      now,
      set,
      shell: (box, edit, label, mergeKey) =>
        set(box, (now) => ({ shell: edited(now.shell, edit) }), label, mergeKey),
      port: (box, edit, label, mergeKey) =>
        set(box, (now) => ({ port: edited(now.port, edit) }), label, mergeKey),
      remove: ({ id, name }) => desk.change({ type: 'removeBox', id }, `remove ${name}`),
    };
  }, [desk]);
}

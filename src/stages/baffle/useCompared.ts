'use client';
import { useMemo, useState } from 'react';
import type { Design } from '@/core/document/schema';
import { layoutOf, type Layout } from '@/core/layout/layouts';
import { useDesk, useDeskState } from '@/desk/DeskContext';

/** A layout to compare with. */
export interface Compared {
  /** Null while there is none. */
  readonly design: Design | null;
  readonly name: string;
  /** It was kept here; else it is the pinned state. */
  readonly isOwn: boolean;
  readonly keep: () => void;
  readonly forget: () => void;
  /** Puts it in the place of the present layout, and that in its place. */
  readonly swap: () => void;
}

/** Layout B: one that was kept while trying another, else that of the pinned state. */
export function useCompared(): Compared {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const pinned = useDeskState((state) => state.pinned);
  const [kept, setKept] = useState<Layout | null>(null);
  const other = useMemo(() => (kept ? kept.onto(design) : null), [kept, design]);
  return useMemo(
    () => ({
      design: other ?? pinned?.design ?? null,
      name: kept ? 'B' : pinned ? `r${pinned.revision}` : '',
      isOwn: kept !== null,
      keep: () => setKept(layoutOf(desk.store.getState().design)),
      forget: () => setKept(null),
      swap: () => {
        const now = desk.store.getState().design;
        if (!kept) return;
        desk.change({ type: 'replaceDesign', design: kept.onto(now) }, 'exchange the layouts');
        setKept(layoutOf(now));
      },
    }),
    [desk, kept, other, pinned],
  );
}

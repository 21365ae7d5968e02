'use client';
import { useEffect, useMemo, useRef } from 'react';
import type { Action } from '@/desk/actions';

/** The key that starts what a side pane is for. */
export const startKey = 'Ctrl+Enter';

/** The action that starts a fit or a search while its pane is open. */
export function useStartAction(id: string, name: string, run: () => void): Action[] {
  const latest = useRef(run);
  useEffect(() => {
    latest.current = run;
  });
  return useMemo(
    () => [{ id, name, group: 'Network', keys: [startKey], run: () => latest.current() }],
    [id, name],
  );
}

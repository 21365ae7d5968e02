'use client';
import { useMemo } from 'react';
import { useDesk } from '@/desk/DeskContext';
import { createEdits, type NetworkEdits } from './networkEdits';

/** The edits of the network on this desk. */
export function useNetworkEdits(): NetworkEdits {
  const desk = useDesk();
  return useMemo(() => createEdits(desk), [desk]);
}

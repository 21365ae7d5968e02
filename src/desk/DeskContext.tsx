'use client';
import {
  createContext,
  useContext,
  useEffect,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import type { StoredProject } from '@/core/log/project';
import { createDesk, type Desk } from './desk';
import type { DeskState } from './deskState';

const DeskContext = createContext<Desk | null>(null);

/** Puts a project on the desk for everything inside. */
export function DeskProvider({
  project,
  children,
}: {
  readonly project: StoredProject;
  readonly children: ReactNode;
}) {
  const [desk] = useState(() => createDesk(project));
  useEffect(() => desk.open(), [desk]);
  return <DeskContext value={desk}>{children}</DeskContext>;
}

export function useDesk(): Desk {
  const desk = useContext(DeskContext);
  if (!desk) throw new Error('useDesk: there is no desk around this component');
  return desk;
}

/** A part of the desk's state; the component renders again when it changes. */
export function useDeskState<T>(pick: (state: DeskState) => T): T {
  const { store, subscribe } = useDesk();
  return useSyncExternalStore(
    subscribe,
    () => pick(store.getState()),
    () => pick(store.getInitialState()),
  );
}

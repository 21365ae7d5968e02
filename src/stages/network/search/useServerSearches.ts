'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { messageOf } from '@/core/problem';
import type { ServerSearch } from '@/core/exploration/serverSearch';
import type { SearchLimits } from '@/core/fitting/limits';
import * as api from '@/desk/api';
import { useDesk } from '@/desk/DeskContext';

/** Between two questions how far running searches are. */
const askEveryMs = 1000;

/** The searches that the server carries on for the open project. */
export function useServerSearches() {
  const desk = useDesk();
  const { projectId } = desk;
  const [searches, setSearches] = useState<readonly ServerSearch[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const isRunning = searches.some(({ state }) => state === 'running');
  const latest = useRef<readonly ServerSearch[]>([]);
  const ask = useCallback(
    () =>
      api.listSearches(projectId, latest.current).then(
        (found) => {
          latest.current = found;
          setSearches(found);
          setTrouble(null);
        },
        (error: unknown) => setTrouble(messageOf(error)),
      ),
    [projectId],
  );
  useEffect(() => {
    void ask();
  }, [ask]);
  useEffect(() => {
    if (!isRunning) return;
    const timer = setInterval(() => void ask(), askEveryMs);
    return () => clearInterval(timer);
  }, [ask, isRunning]);
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
      await ask();
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return {
    searches,
    trouble,
    begin: (limits: SearchLimits) =>
      attempt(() => api.beginSearch(projectId, desk.store.getState().design, limits)),
    goOn: (id: string) => attempt(() => api.continueSearch(projectId, id)),
    stop: (id: string) => attempt(() => api.stopSearch(projectId, id)),
  };
}

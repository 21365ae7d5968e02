'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Annotation, VersionSummary } from '@/core/design/log';
import type { Design } from '@/core/design/schema';
import { annotateVersion, fetchState, listVersions } from '@/desk/api';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import type { Outcome } from '@/workers/predictorClient';

export interface LogState {
  /** Null until the log has come. */
  readonly versions: readonly VersionSummary[] | null;
  readonly trouble: string | null;
  readonly annotate: (number: number, annotation: Annotation) => Promise<void>;
  readonly reload: () => Promise<void>;
}

/** The versions of the open project; read again after each save. */
export function useLog(): LogState {
  const desk = useDesk();
  const [versions, setVersions] = useState<readonly VersionSummary[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const isSaved = useDeskState((state) => state.save.kind === 'saved');

  const reload = useCallback(async () => {
    try {
      setVersions(await listVersions(desk.projectId));
      setTrouble(null);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  }, [desk]);
  useEffect(() => {
    if (!isSaved) return;
    const timer = setTimeout(() => void reload());
    return () => clearTimeout(timer);
  }, [isSaved, reload]);

  const annotate = useCallback(
    async (number: number, annotation: Annotation) => {
      try {
        const changed = await annotateVersion(desk.projectId, number, annotation);
        // Answers may overtake each other: only what was asked for is taken from this one.
        const asked = Object.keys(annotation) as (keyof Annotation)[];
        const set = Object.fromEntries(asked.map((key) => [key, changed[key]]));
        setVersions(
          (known) =>
            known?.map((one) => (one.number === number ? { ...one, ...set } : one)) ?? null,
        );
        setTrouble(null);
      } catch (error) {
        setTrouble(error instanceof Error ? error.message : String(error));
      }
    },
    [desk],
  );
  return { versions, trouble, annotate, reload };
}

/** A saved or present document with its curves and verdicts. */
export interface Shown extends Outcome {
  readonly design: Design;
}

/** Fetches and predicts a saved state; each only once while the page is open. */
export function useStates(): (revision: number) => Promise<Shown> {
  const desk = useDesk();
  const known = useRef(new Map<number, Promise<Shown>>());
  return useCallback(
    (revision: number) => {
      const found = known.current.get(revision);
      if (found) return found;
      const coming = fetchState(desk.projectId, revision).then(async ({ document }) => ({
        design: document,
        ...(await desk.predictBeside(document)),
      }));
      known.current.set(revision, coming);
      coming.catch(() => known.current.delete(revision));
      return coming;
    },
    [desk],
  );
}

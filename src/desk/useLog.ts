'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { messageOf } from '@/core/problem';
import type { Annotation, VersionSummary } from '@/core/log/log';
import type { Design } from '@/core/document/schema';
import { judgedAs } from '@/core/document/networkOnly';
import { asWritten } from '@/desk/saving/annotations';
import { fetchState, listVersions } from '@/desk/api';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import type { Outcome } from '@/workers/predictorClient';

export interface LogState {
  /** Null until the log has come. */
  readonly versions: readonly VersionSummary[] | null;
  readonly trouble: string | null;
  /** Kept at once, and sent as soon as the server answers. */
  readonly annotate: (version: VersionSummary, annotation: Annotation) => void;
  readonly reload: () => Promise<void>;
}

/** The versions of the open project; read again after each save. */
export function useLog(): LogState {
  const desk = useDesk();
  const [versions, setVersions] = useState<readonly VersionSummary[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const isSaved = useDeskState(({ save }) => save.kind === 'saved' || save.kind === 'partly');
  const annotations = useDeskState((state) => state.annotations);
  const annotatedElsewhere = useDeskState((state) => state.annotatedElsewhere);

  const reload = useCallback(async () => {
    try {
      setVersions(await listVersions(desk.projectId));
      setTrouble(null);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  }, [desk]);
  useEffect(() => {
    if (!isSaved) return;
    const timer = setTimeout(() => void reload());
    return () => clearTimeout(timer);
  }, [isSaved, annotatedElsewhere, reload]);
  // A log that could not be read is asked for again until it comes.
  useEffect(() => {
    if (trouble === null) return;
    const timer = setTimeout(() => void reload(), 2000);
    return () => clearTimeout(timer);
  }, [trouble, reload]);

  const written = useMemo(
    () => versions?.map((version) => asWritten(version, annotations)) ?? null,
    [versions, annotations],
  );
  const annotate = useCallback(
    (version: VersionSummary, annotation: Annotation) => desk.annotate(version, annotation),
    [desk],
  );
  return { versions: written, trouble, annotate, reload };
}

/** A saved or present document with its curves and verdicts. */
export interface Shown extends Outcome {
  readonly design: Design;
}

/**
 * Fetches and predicts a saved state, judged by the promises of today: an older version shall not
 * look better because less was asked of it. Each only once while brief, target and promises stay.
 */
export function useStates(): (revision: number) => Promise<Shown> {
  const desk = useDesk();
  const known = useRef(new Map<number, Promise<Shown>>());
  const brief = useDeskState((state) => state.design.brief);
  const target = useDeskState((state) => state.design.target);
  const promises = useDeskState((state) => state.design.promises);
  const judges = useMemo(() => ({ brief, target, promises }), [brief, target, promises]);
  const knownFor = useRef(judges);
  return useCallback(
    (revision: number) => {
      if (knownFor.current !== judges) known.current.clear();
      knownFor.current = judges;
      const found = known.current.get(revision);
      if (found) return found;
      const coming = fetchState(desk.projectId, revision).then(async ({ document }) => ({
        design: document,
        ...(await desk.predictBeside(judgedAs(document, judges))),
      }));
      known.current.set(revision, coming);
      coming.catch(() => known.current.delete(revision));
      return coming;
    },
    [desk, judges],
  );
}

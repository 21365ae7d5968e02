import type { SaveNote } from '@/core/design/log';
import type { Design } from '@/core/design/schema';
import { ProblemError, type Problem } from '@/core/problem';
import type { StoredProject } from '@/core/design/project';
import { ServerAway, type SaveResult } from './api';
import type { Outbox } from './outbox';

export type SaveState =
  | { readonly kind: 'saved' }
  | { readonly kind: 'saving' }
  /** Kept in the browser; tried again by itself. */
  | { readonly kind: 'away'; readonly reason: string }
  /** Somebody else saved first; nothing is sent until the user decides. */
  | { readonly kind: 'conflict'; readonly theirs: StoredProject }
  /** The server will not take it as it is. */
  | { readonly kind: 'refused'; readonly problem: Problem };

export interface AutosaveSetup {
  readonly projectId: string;
  readonly revision: number;
  readonly outbox: Outbox;
  /** Sends measurements that the server lacks. */
  readonly sendMeasurements: (design: Design) => Promise<void>;
  readonly save: (
    projectId: string,
    baseRevision: number,
    document: Design,
    note: SaveNote,
  ) => Promise<SaveResult>;
  /** What the log keeps beside a document. */
  readonly noteFor: (document: Design) => SaveNote;
  readonly onState: (state: SaveState) => void;
  /** Called after each save that arrived. */
  readonly onSaved: (revision: number, document: Design) => void;
  /** Wait after the last change, and between attempts while the server is away. */
  readonly pauseMs?: number;
  readonly retryMs?: number;
}

export interface Autosave {
  changed(design: Design): void;
  /** Sends what waits, now. */
  flush(): Promise<void>;
  /** Revision that the next save is based on. */
  readonly revision: () => number;
  /** Goes on from another revision: after the user resolved a conflict, or after a change that came from another tab. */
  rebase(revision: number): void;
  conflict(theirs: StoredProject): void;
  /** Gives up what waits and goes on from another revision. */
  discard(revision: number): Promise<void>;
  readonly isClean: () => boolean;
  stop(): void;
}

/** Documents are plain JSON written by one program: the same text is the same document, key order aside. */
export function isSameDesign(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [keysA, keysB] = [Object.keys(a), Object.keys(b)];
  return (
    keysA.length === keysB.length &&
    keysA.every((key) =>
      isSameDesign((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]),
    )
  );
}

/** Keeps each change in the outbox at once and brings it to the server soon; one request at a time. */
export function createAutosave(setup: AutosaveSetup): Autosave {
  const { projectId, outbox, onState, pauseMs = 400, retryMs = 1500 } = setup;
  let revision = setup.revision;
  let pending: Design | null = null;
  let sending: Promise<void> | null = null;
  let isBlocked = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const schedule = (ms: number) => {
    clearTimeout(timer);
    timer = setTimeout(() => void send(), ms);
  };

  /** Sends what waits; while something is on its way, that is waited for instead. */
  function send(): Promise<void> {
    clearTimeout(timer);
    if (sending) return sending;
    if (isBlocked || pending === null) return Promise.resolve();
    sending = deliver(pending).finally(() => {
      sending = null;
    });
    return sending;
  }

  async function deliver(document: Design): Promise<void> {
    onState({ kind: 'saving' });
    try {
      await setup.sendMeasurements(document);
      const result = await setup.save(projectId, revision, document, setup.noteFor(document));
      if ('conflict' in result && !isSameDesign(result.conflict.document, document))
        block(result.conflict);
      // The same document at a newer revision: our own save, whose answer was lost on the way.
      else
        await arrived('conflict' in result ? result.conflict.revision : result.revision, document);
    } catch (error) {
      failed(error);
    }
  }

  async function arrived(newRevision: number, document: Design): Promise<void> {
    revision = newRevision;
    setup.onSaved(revision, document);
    if (pending !== document) {
      if (pending) await outbox.keep(projectId, { baseRevision: revision, document: pending });
      schedule(0);
      return;
    }
    pending = null;
    await outbox.drop(projectId);
    // A change may have come while the outbox was emptied; it has put itself back there.
    if ((pending as Design | null) === null) onState({ kind: 'saved' });
  }

  function failed(error: unknown): void {
    if (error instanceof ProblemError) {
      onState({ kind: 'refused', problem: error.problem });
      return;
    }
    onState({ kind: 'away', reason: error instanceof ServerAway ? error.message : String(error) });
    schedule(retryMs);
  }

  function block(theirs: StoredProject): void {
    isBlocked = true;
    onState({ kind: 'conflict', theirs });
  }

  return {
    changed(design) {
      pending = design;
      void outbox.keep(projectId, { baseRevision: revision, document: design });
      if (isBlocked) return;
      onState({ kind: 'saving' });
      schedule(pauseMs);
    },
    async flush() {
      await send();
      // What was changed while the first was on its way.
      await send();
    },
    revision: () => revision,
    rebase(newRevision) {
      revision = newRevision;
      isBlocked = false;
    },
    conflict: block,
    async discard(newRevision) {
      clearTimeout(timer);
      revision = newRevision;
      isBlocked = false;
      pending = null;
      await outbox.drop(projectId);
      onState({ kind: 'saved' });
    },
    isClean: () => pending === null,
    stop: () => clearTimeout(timer),
  };
}

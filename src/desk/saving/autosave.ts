import type { SaveNote, WorkDone } from '@/core/log/log';
import { nextVisit, type SaveTicket, type StoredProject } from '@/core/log/project';
import type { Design } from '@/core/document/schema';
import { ProblemError, type Problem } from '@/core/problem';
import { ServerAway, type SaveResult } from '@/desk/api';
import type { Outbox } from './outbox';

export type SaveState =
  | { readonly kind: 'saved' }
  | { readonly kind: 'saving' }
  /** Kept in the browser; tried again by itself. */
  | { readonly kind: 'away'; readonly reason: string }
  /** Somebody else saved first; nothing is sent until the user decides. */
  | { readonly kind: 'conflict'; readonly theirs: StoredProject }
  /** The server will not take it as it is. */
  | { readonly kind: 'refused'; readonly problem: Problem }
  /** All is saved but for measurements that the server does not take. */
  | { readonly kind: 'partly'; readonly refused: readonly RefusedMeasurement[] };

export interface RefusedMeasurement {
  readonly id: string;
  /** As the user knows it, with its file. */
  readonly name: string;
  readonly fileName: string;
  readonly problem: Problem;
}

/** What of a document can be sent, and what the server refuses. */
export interface Sendable {
  readonly document: Design;
  readonly refused: readonly RefusedMeasurement[];
}

export interface AutosaveSetup {
  readonly projectId: string;
  readonly revision: number;
  readonly outbox: Pick<Outbox, 'keep' | 'drop'>;
  /** Sends measurements that the server lacks; what it refuses is left out of the document. */
  readonly prepare: (design: Design) => Promise<Sendable>;
  readonly save: (
    projectId: string,
    baseRevision: number,
    ticket: SaveTicket,
    document: Design,
    note: SaveNote,
  ) => Promise<SaveResult>;
  /** What was done since the last save that arrived. */
  readonly workDone: () => WorkDone;
  /** What the log keeps beside a document that is sent now. */
  readonly noteFor: (document: Design) => SaveNote;
  readonly onState: (state: SaveState) => void;
  /**
   * Called after each save that arrived, with the document on the desk and what the server has of
   * it.
   */
  readonly onSaved: (revision: number, document: Design, stored: Design) => void;
  /** Wait after the last change, and between attempts while the server is away. */
  readonly pauseMs?: number;
  readonly retryMs?: number;
  readonly newChain?: () => string;
}

export interface Autosave {
  changed(design: Design): void;
  /** Sends what waits, now. */
  flush(): Promise<void>;
  /** Revision that the next save is based on. */
  readonly revision: () => number;
  /**
   * Goes on from another revision: after the user resolved a conflict, after a change that came
   * from another tab, or with the ticket of what an earlier visit sent last.
   */
  rebase(revision: number, ticket?: SaveTicket | null): void;
  conflict(theirs: StoredProject): void;
  /** Gives up what waits and goes on from another revision. */
  discard(revision: number): Promise<void>;
  readonly isClean: () => boolean;
  /**
   * Sends what waits once and then nothing more. From now on the outbox belongs to the next visit,
   * which may begin before the last answer is here.
   */
  leave(): Promise<void>;
}

/**
 * Keeps each change in the outbox at once and brings it to the server soon; one request at a time.
 *
 * All saves since the last answer carry the tickets of one chain, so that the server knows a save
 * whose answer was lost for what it is: only what another client wrote is a conflict.
 */
export function createAutosave(setup: AutosaveSetup): Autosave {
  const { projectId, outbox, onState, pauseMs = 400, retryMs = 1500 } = setup;
  const { newChain = () => crypto.randomUUID() } = setup;
  let revision = setup.revision;
  /** Of the save that was sent last in this chain; its number is 0 before the first. */
  let ticket: SaveTicket = { chain: newChain(), number: 0 };
  /** The document that carries that ticket: sent again, it is the same save. */
  let ticketed: Design | null = null;
  let pending: Design | null = null;
  let sending: Promise<void> | null = null;
  let isBlocked = false;
  let isLeft = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const schedule = (ms: number) => {
    clearTimeout(timer);
    timer = setTimeout(() => void send(), ms);
  };

  const keep = async (document: Design) => {
    const done = setup.workDone();
    if (!isLeft) await outbox.keep(projectId, { baseRevision: revision, ticket, document, done });
  };

  const beginChain = (newRevision: number, last: SaveTicket | null = null) => {
    revision = newRevision;
    ticket = last ?? { chain: newChain(), number: 0 };
    ticketed = null;
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
    // Now: what is done while the measurements are sent belongs to the next save.
    const note = setup.noteFor(document);
    try {
      const { document: sendable, refused } = await setup.prepare(document);
      if (ticketed !== document) {
        ticket = { ...ticket, number: ticket.number + 1 };
        ticketed = document;
        // The ticket must outlive this page before the server may have seen it.
        await keepQuietly(pending ?? document);
      }
      const result = await setup.save(projectId, revision, ticket, sendable, note);
      if ('conflict' in result) block(result.conflict);
      else await arrived(result.revision, document, sendable, refused);
    } catch (error) {
      failed(error);
    }
  }

  async function arrived(
    newRevision: number,
    document: Design,
    sent: Design,
    refused: readonly RefusedMeasurement[],
  ): Promise<void> {
    // The next visit goes on with the chain that the outbox holds.
    if (isLeft) revision = newRevision;
    else beginChain(newRevision);
    setup.onSaved(revision, document, sent);
    if (pending !== document) {
      if (pending) await keep(pending);
      if (!isLeft) schedule(0);
      return;
    }
    pending = null;
    if (isLeft) {
      await outbox.drop(projectId, ticket).catch(() => undefined);
      return;
    }
    if (refused.length > 0) {
      // What the server does not have stays here, with the document that names it.
      await keepQuietly(document);
      onState({ kind: 'partly', refused });
      return;
    }
    await dropQuietly();
    // A change may have come while the outbox was emptied; it has put itself back there.
    if ((pending as Design | null) === null) onState({ kind: 'saved' });
  }

  // The server has it: an outbox that fails now is no reason to say otherwise. What it still holds
  // is recognised later.
  const dropQuietly = () => outbox.drop(projectId).catch(() => undefined);
  const keepQuietly = (document: Design) => keep(document).catch(() => undefined);

  function failed(error: unknown): void {
    if (isLeft) return;
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
      void keepQuietly(design);
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
    rebase(newRevision, last = null) {
      beginChain(newRevision, last && nextVisit(last));
      isBlocked = false;
    },
    conflict: block,
    async discard(newRevision) {
      clearTimeout(timer);
      beginChain(newRevision);
      isBlocked = false;
      pending = null;
      await dropQuietly();
      onState({ kind: 'saved' });
    },
    isClean: () => pending === null,
    async leave() {
      isLeft = true;
      clearTimeout(timer);
      // What is on its way first, then what waits.
      if (sending) await sending;
      await send();
    },
  };
}

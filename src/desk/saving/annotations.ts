import type { Annotation, Impression, VersionSummary } from '@/core/log/log';
import { nextVisit, type SaveTicket } from '@/core/log/project';
import { isSameDesign } from '@/core/document/sameDesign';
import { messageOf, ProblemError, type Problem } from '@/core/problem';

/** What was written about a version and is not on the server yet. */
export interface PendingAnnotation {
  /** State of name, note and impressions that it was made from. */
  readonly baseRevision: number;
  /**
   * Carried by every attempt to send it, so that the server knows one whose answer was lost, or
   * that comes late.
   */
  readonly ticket: SaveTicket;
  /** What is changed, and what that was before. */
  readonly set: Annotation;
  readonly was: Annotation;
}

export type AnnotationTrouble =
  | { readonly kind: 'away'; readonly reason: string }
  | { readonly kind: 'refused'; readonly problem: Problem }
  /** Somebody else wrote in the same place; nothing is sent until the user decides. */
  | { readonly kind: 'conflict'; readonly theirs: VersionSummary };

/** By number of the version. */
export interface AnnotationState {
  readonly pending: ReadonlyMap<number, PendingAnnotation>;
  readonly troubles: ReadonlyMap<number, AnnotationTrouble>;
  /** The newest answers of the server. */
  readonly latest: ReadonlyMap<number, VersionSummary>;
}

export const noAnnotations: AnnotationState = {
  pending: new Map(),
  troubles: new Map(),
  latest: new Map(),
};

/** What an annotation becomes beside what somebody else has written meanwhile. */
interface Merged {
  readonly pending: PendingAnnotation;
  /** Whether name or note were changed on both sides. */
  readonly clashes: boolean;
}

/**
 * Puts an annotation on top of a newer state. Fields that only one side has changed are no
 * conflict, and of impressions both sides' additions and removals are kept.
 */
export function merged(mine: PendingAnnotation, theirs: VersionSummary, chain: string): Merged {
  const { set, was } = mine;
  const isClash = (field: 'name' | 'note') =>
    set[field] !== undefined && theirs[field] !== was[field] && theirs[field] !== set[field];
  return {
    clashes: isClash('name') || isClash('note'),
    pending: {
      baseRevision: theirs.annotationRevision,
      ticket: { chain, number: 1 },
      set: {
        ...set,
        ...(set.impressions && {
          impressions: mergedImpressions(
            set.impressions,
            was.impressions ?? [],
            theirs.impressions,
          ),
        }),
      },
      was: fieldsOf(theirs, set),
    },
  };
}

const fieldsOf = (version: VersionSummary, like: Annotation): Annotation => ({
  ...(like.name !== undefined && { name: version.name }),
  ...(like.note !== undefined && { note: version.note }),
  ...(like.impressions !== undefined && { impressions: [...version.impressions] }),
});

function mergedImpressions(
  mine: readonly Impression[],
  was: readonly Impression[],
  theirs: readonly Impression[],
): Impression[] {
  const isIn = (list: readonly Impression[], one: Impression) =>
    list.some((other) => isSameDesign(other, one));
  const removed = was.filter((one) => !isIn(mine, one));
  const added = mine.filter((one) => !isIn(was, one));
  return [
    ...theirs.filter((one) => !isIn(removed, one)),
    ...added.filter((one) => !isIn(theirs, one)),
  ];
}

/** Both notes, one under the other. */
export const bothNotes = (mine: string, theirs: string): string => `${theirs}\n\n---\n\n${mine}`;

interface AnnotationSetup {
  readonly send: (
    number: number,
    baseRevision: number,
    ticket: SaveTicket,
    annotation: Annotation,
  ) => Promise<VersionSummary | { readonly conflict: VersionSummary }>;
  /** The outbox; a null takes out. */
  readonly keep: (number: number, pending: PendingAnnotation | null) => Promise<void>;
  readonly onState: (state: AnnotationState) => void;
  readonly onSaved: (version: VersionSummary) => void;
  readonly retryMs?: number;
  readonly newChain?: () => string;
}

export interface Annotations {
  /** Changes name, note or impressions of a version as it is shown. */
  annotate(version: VersionSummary, set: Annotation): void;
  /** Takes up what an earlier visit could not send. */
  takeUp(kept: ReadonlyMap<number, PendingAnnotation>): void;
  resolve(number: number, how: 'mine' | 'theirs' | 'both'): void;
  flush(): Promise<void>;
  /** Sends what waits once and then nothing more; the outbox belongs to the next visit. */
  leave(): void;
}

/** A version as the user wrote it, whether the server has that already or not. */
export function asWritten(version: VersionSummary, state: AnnotationState): VersionSummary {
  const latest = state.latest.get(version.number);
  const known = latest && latest.annotationRevision > version.annotationRevision ? latest : version;
  const { name, note, impressions, annotationRevision } = known;
  return {
    ...version,
    ...{ name, note, impressions, annotationRevision },
    ...written(state.pending.get(version.number)?.set),
  };
}

/** What of an annotation is set. */
const written = ({ name, note, impressions }: Annotation = {}): Partial<VersionSummary> => ({
  ...(name !== undefined && { name }),
  ...(note !== undefined && { note }),
  ...(impressions !== undefined && { impressions }),
});

/**
 * Keeps what is written about versions in the outbox at once, and brings it to the server; one
 * request at a time.
 */
export function createAnnotations(setup: AnnotationSetup): Annotations {
  const { keep, onState, retryMs = 1500, newChain = () => crypto.randomUUID() } = setup;
  const pending = new Map<number, PendingAnnotation>();
  const troubles = new Map<number, AnnotationTrouble>();
  const latest = new Map<number, VersionSummary>();
  let sending: Promise<void> | null = null;
  let isLeft = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const tell = () => {
    if (isLeft) return;
    onState({
      pending: new Map(pending),
      troubles: new Map(troubles),
      latest: new Map(latest),
    });
  };

  function put(number: number, next: PendingAnnotation | null): void {
    if (next) pending.set(number, next);
    else pending.delete(number);
    // An outbox that fails is no reason to lose what the server may still take.
    if (!isLeft) void keep(number, next).catch(() => undefined);
  }

  const isBlocked = (number: number) =>
    ['conflict', 'refused'].includes(troubles.get(number)?.kind ?? '');

  function send(): Promise<void> {
    clearTimeout(timer);
    sending ??= sendAll().finally(() => {
      sending = null;
    });
    return sending;
  }

  async function sendAll(): Promise<void> {
    for (;;) {
      const next = [...pending].find(([number]) => !isBlocked(number));
      if (!next) return;
      if (!(await sendOne(...next))) {
        if (!isLeft) timer = setTimeout(() => void send(), retryMs);
        return;
      }
    }
  }

  /** @returns false when the server is away */
  async function sendOne(number: number, sent: PendingAnnotation): Promise<boolean> {
    try {
      const result = await setup.send(number, sent.baseRevision, sent.ticket, sent.set);
      if ('conflict' in result) {
        meet(number, result.conflict);
        return true;
      }
      latest.set(number, result);
      troubles.delete(number);
      const now = pending.get(number);
      if (now === sent) put(number, null);
      // Written on meanwhile: that goes on from here.
      else if (now)
        put(number, {
          ...now,
          baseRevision: result.annotationRevision,
          // The next visit goes on with the chain that the outbox holds.
          ticket: isLeft ? now.ticket : { chain: newChain(), number: 1 },
          was: fieldsOf(result, now.set),
        });
      setup.onSaved(result);
      tell();
      return true;
    } catch (error) {
      const isRefused = error instanceof ProblemError;
      troubles.set(
        number,
        isRefused
          ? { kind: 'refused', problem: error.problem }
          : { kind: 'away', reason: messageOf(error) },
      );
      tell();
      return isRefused;
    }
  }

  function meet(number: number, theirs: VersionSummary): void {
    const mine = pending.get(number);
    if (!mine) return;
    if (isLeft) {
      // The next visit has it from the outbox, and may be what is in the way: it meets what is
      // somebody else's.
      pending.delete(number);
      return;
    }
    latest.set(number, theirs);
    const { pending: next, clashes } = merged(mine, theirs, newChain());
    if (clashes) troubles.set(number, { kind: 'conflict', theirs });
    else put(number, next);
    tell();
  }

  return {
    annotate(version, set) {
      const { number } = version;
      const before = pending.get(number);
      put(number, {
        baseRevision: before?.baseRevision ?? version.annotationRevision,
        ticket: before
          ? { ...before.ticket, number: before.ticket.number + 1 }
          : { chain: newChain(), number: 1 },
        set: { ...before?.set, ...set },
        was: { ...fieldsOf(version, set), ...before?.was },
      });
      if (troubles.get(number)?.kind === 'refused') troubles.delete(number);
      tell();
      void send();
    },
    takeUp(kept) {
      for (const [number, one] of kept)
        if (!pending.has(number)) put(number, { ...one, ticket: nextVisit(one.ticket) });
      tell();
      void send();
    },
    resolve(number, how) {
      const trouble = troubles.get(number);
      const mine = pending.get(number);
      if (trouble?.kind !== 'conflict' || !mine) return;
      const { theirs } = trouble;
      const { pending: next } = merged(mine, theirs, newChain());
      troubles.delete(number);
      if (how === 'mine') put(number, next);
      else {
        const set: Annotation = {
          ...(next.set.impressions && { impressions: next.set.impressions }),
          ...(how === 'both' &&
            mine.set.note !== undefined && { note: bothNotes(mine.set.note, theirs.note) }),
        };
        put(number, Object.keys(set).length === 0 ? null : { ...next, set });
      }
      tell();
      void send();
    },
    flush: send,
    leave() {
      isLeft = true;
      clearTimeout(timer);
      void send();
    },
  };
}

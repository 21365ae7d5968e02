import { del, entries, get, set } from 'idb-keyval';
import type { WorkDone } from '@/core/log/log';
import type { SaveTicket } from '@/core/log/project';
import type { Design } from '@/core/document/schema';
import type { PendingAnnotation } from './annotations';
import type { Samples } from '@/core/measurement/samples';

/** A document that the server does not have yet. */
export interface PendingSave {
  readonly baseRevision: number;
  /**
   * Of the save that was sent last and that may have arrived; kept by older versions of this
   * program it is absent.
   */
  readonly ticket?: SaveTicket;
  readonly document: Design;
  /** What was done to it, for the log; kept by older versions of this program it is absent. */
  readonly done?: WorkDone;
}

/** What waits in the browser until the server has it. Survives reloads and crashes. */
export interface Outbox {
  keep(projectId: string, pending: PendingSave): Promise<void>;
  /** With a ticket only what carries it. */
  drop(projectId: string, ticket?: SaveTicket): Promise<void>;
  /** Of this tab, else of a tab that is gone; taken over by this tab. */
  find(projectId: string): Promise<PendingSave | null>;
  /** What was written about a version; null takes it out. */
  keepAnnotation(
    projectId: string,
    version: number,
    annotation: PendingAnnotation | null,
  ): Promise<void>;
  /** By version; of this tab, and of tabs that are gone, taken over by this tab. */
  findAnnotations(projectId: string): Promise<ReadonlyMap<number, PendingAnnotation>>;
  keepMeasurement(id: string, samples: Samples): Promise<void>;
  dropMeasurement(id: string): Promise<void>;
  findMeasurement(id: string): Promise<Samples | null>;
}

const tabLock = (tab: string) => `fair-tab-${tab}`;

/**
 * A name for this tab that survives its reloads. It is held by a lock for as long as the tab lives,
 * so that others see which pending changes still have an owner; a duplicated tab finds the lock
 * taken and gets a name of its own.
 */
async function claimTab(): Promise<string> {
  const remembered = sessionStorage.getItem('fair-tab');
  for (const tab of remembered ? [remembered, crypto.randomUUID()] : [crypto.randomUUID()]) {
    const isMine = await new Promise<boolean>((resolve) => {
      void navigator.locks.request(tabLock(tab), { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        // Held until the page goes away.
        return lock ? new Promise<void>(() => undefined) : undefined;
      });
    });
    if (!isMine) continue;
    sessionStorage.setItem('fair-tab', tab);
    return tab;
  }
  throw new Error('outbox: a fresh tab name was taken');
}

/** Locks of the tabs that are open. */
async function livingTabs(): Promise<ReadonlySet<string | undefined>> {
  const { held = [] } = await navigator.locks.query();
  return new Set(held.map((lock) => lock.name));
}

/**
 * Claimed once for a page: a project that is left and opened again in it finds what it has kept.
 */
let claimed: Promise<string> | null = null;

/** The outbox of this browser, in IndexedDB. */
export function createOutbox(): Outbox {
  const tab = (claimed ??= claimTab());
  const pendingKey = async (projectId: string) => `pending ${projectId} ${await tab}`;
  return {
    keep: async (projectId, pending) => set(await pendingKey(projectId), pending),
    async drop(projectId, ticket) {
      const key = await pendingKey(projectId);
      if (ticket) {
        const kept = await get<PendingSave>(key);
        if (kept?.ticket?.chain !== ticket.chain || kept.ticket.number !== ticket.number) return;
      }
      await del(key);
    },
    async find(projectId) {
      const own = await get<PendingSave>(await pendingKey(projectId));
      if (own) return own;
      const alive = await livingTabs();
      for (const [key, pending] of await entries<string, PendingSave>()) {
        const [kind, project, owner] = key.split(' ');
        if (kind !== 'pending' || project !== projectId || alive.has(tabLock(owner))) continue;
        await set(await pendingKey(projectId), pending);
        await del(key);
        return pending;
      }
      return null;
    },
    async keepAnnotation(projectId, version, annotation) {
      const key = `note ${projectId} ${await tab} ${version}`;
      await (annotation ? set(key, annotation) : del(key));
    },
    async findAnnotations(projectId) {
      const found = new Map<number, PendingAnnotation>();
      const alive = await livingTabs();
      for (const [key, annotation] of await entries<string, PendingAnnotation>()) {
        const [kind, project, owner, version] = key.split(' ');
        const isOwn = owner === (await tab);
        if (kind !== 'note' || project !== projectId || (!isOwn && alive.has(tabLock(owner))))
          continue;
        if (!isOwn) {
          await set(`note ${projectId} ${await tab} ${version}`, annotation);
          await del(key);
        }
        found.set(Number(version), annotation);
      }
      return found;
    },
    keepMeasurement: (id, samples) => set(`measurement ${id}`, samples),
    dropMeasurement: (id) => del(`measurement ${id}`),
    findMeasurement: async (id) => (await get<Samples>(`measurement ${id}`)) ?? null,
  };
}

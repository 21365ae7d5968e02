import { del, entries, get, set } from 'idb-keyval';
import type { Design } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';

/** A document that the server does not have yet. */
export interface PendingSave {
  readonly baseRevision: number;
  readonly document: Design;
}

/** What waits in the browser until the server has it. Survives reloads and crashes. */
export interface Outbox {
  keep(projectId: string, pending: PendingSave): Promise<void>;
  drop(projectId: string): Promise<void>;
  /** Of this tab, else of a tab that is gone; taken over by this tab. */
  find(projectId: string): Promise<PendingSave | null>;
  keepMeasurement(id: string, samples: Samples): Promise<void>;
  dropMeasurement(id: string): Promise<void>;
  findMeasurement(id: string): Promise<Samples | null>;
}

const tabLock = (tab: string) => `fair-tab-${tab}`;

/**
 * A name for this tab that survives its reloads. It is held by a lock for as long as the tab lives, so that others see
 * which pending changes still have an owner; a duplicated tab finds the lock taken and gets a name of its own.
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

/** The outbox of this browser, in IndexedDB. */
export function createOutbox(): Outbox {
  const tab = claimTab();
  const pendingKey = async (projectId: string) => `pending ${projectId} ${await tab}`;
  return {
    keep: async (projectId, pending) => set(await pendingKey(projectId), pending),
    drop: async (projectId) => del(await pendingKey(projectId)),
    async find(projectId) {
      const own = await get<PendingSave>(await pendingKey(projectId));
      if (own) return own;
      const { held = [] } = await navigator.locks.query();
      const alive = new Set(held.map((lock) => lock.name));
      for (const [key, pending] of await entries<string, PendingSave>()) {
        const [kind, project, owner] = key.split(' ');
        if (kind !== 'pending' || project !== projectId || alive.has(tabLock(owner))) continue;
        await set(await pendingKey(projectId), pending);
        await del(key);
        return pending;
      }
      return null;
    },
    keepMeasurement: (id, samples) => set(`measurement ${id}`, samples),
    dropMeasurement: (id) => del(`measurement ${id}`),
    findMeasurement: async (id) => (await get<Samples>(`measurement ${id}`)) ?? null,
  };
}

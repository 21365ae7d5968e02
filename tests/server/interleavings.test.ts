/**
 * Two tabs with the real autosave and annotations against the real repositories: edits, lost
 * requests, lost answers, a server that is away, a database whose processes are ended in the middle
 * of a save, tabs that are closed in the middle and opened again, in random order. Nothing that was
 * acknowledged is lost, and nobody is told of a stranger who does not exist.
 */
import { isDeepStrictEqual } from 'node:util';
import { isSameDesign } from '@/core/document/sameDesign';
import type { VersionSummary } from '@/core/log/log';
import type { SaveTicket, StoredProject } from '@/core/log/project';
import { emptyDesign, type Design } from '@/core/document/schema';
import {
  createAnnotations,
  noAnnotations,
  asWritten,
  type AnnotationState,
  type PendingAnnotation,
} from '@/desk/saving/annotations';
import { ServerAway } from '@/desk/api';
import { createAutosave, type SaveState } from '@/desk/saving/autosave';
import type { PendingSave } from '@/desk/saving/outbox';
import { isDatabaseAway } from '@/server/database';
import { annotateVersion, findState, listVersions } from '@/server/log';
import { createProject, findProject, saveProject } from '@/server/projects';
import { seededRandom } from '../fixtures';
import { databaseWithAxe } from './axe';

const cutDatabase = databaseWithAxe();

/** Requests that the server works on, or did, whether anybody still waits for them or not. */
const atServer = new Set<Promise<unknown>>();
afterEach(async () => {
  await Promise.allSettled(atServer);
  atServer.clear();
});

type Fault = 'none' | 'request lost' | 'answer lost' | 'database cut';

/** What the test itself wants to know of the server, whatever was cut. */
async function steadily<T>(ask: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await ask();
    } catch (error) {
      if (tries === 50) throw error;
      await pause(20);
    }
  }
}

/** What lies between a tab and the server. */
function connection(random: () => number) {
  let isAway = false;
  const fault = (): Fault => {
    if (isAway) return 'request lost';
    const draw = random();
    if (draw < 0.2) return 'request lost';
    if (draw < 0.4) return 'answer lost';
    return draw < 0.5 ? 'database cut' : 'none';
  };
  return {
    setAway: (away: boolean) => (isAway = away),
    async through<T>(request: () => Promise<T>): Promise<T> {
      const what = fault();
      if (what === 'request lost') throw new ServerAway('away');
      const asked = request().catch((error: unknown) => {
        // What the page hears of a database that does not answer (503) is that the server is away.
        throw isDatabaseAway(error) ? new ServerAway('no database') : error;
      });
      atServer.add(asked);
      const cut = what === 'database cut' ? pause(12 * random()).then(cutDatabase) : null;
      const [result] = await Promise.all([asked, cut]);
      if (what === 'answer lost') throw new ServerAway('cut off');
      return result;
    },
  };
}

/**
 * A tab that may be closed at any moment, or its project left, and opened again from its outbox.
 */
function tab(projectId: string, link: ReturnType<typeof connection>) {
  /** What IndexedDB holds for it. */
  const kept: { save: PendingSave | null; notes: Map<number, PendingAnnotation> } = {
    save: null,
    notes: new Map(),
  };
  const acknowledged: { revision: number; document: Design }[] = [];
  let state: SaveState = { kind: 'saved' };
  let written: AnnotationState = noAnnotations;
  let design: Design;
  /**
   * Visits to the project, and loads of the page; a project that is left goes on sending while the
   * page lives.
   */
  let visits = 0;
  let pages = 0;

  /** As the desk does it: what is kept first, then what the server has. */
  async function visit() {
    const pending = kept.save;
    return open(await steadily(() => findProject(projectId)), pending);
  }

  function open(project: StoredProject, pending: PendingSave | null) {
    const [turn, page] = [++visits, pages];
    const isShown = () => turn === visits;
    const isAlive = () => page === pages;
    const nothing = () => new Promise<never>(() => undefined);
    const autosave = createAutosave({
      projectId,
      revision: project.revision,
      outbox: {
        keep: (_id, pending) => Promise.resolve(void (isAlive() && (kept.save = pending))),
        drop: (_id, ticket) => {
          const isMeant = !ticket || isDeepStrictEqual(kept.save?.ticket, ticket);
          if (isAlive() && isMeant) kept.save = null;
          return Promise.resolve();
        },
      },
      prepare: (document) => Promise.resolve({ document, refused: [] }),
      workDone: () => ({ label: '', begins: null }),
      noteFor: () => ({ label: '', figures: null, begins: null }),
      save: async (id, base, ticket: SaveTicket, document, note) => {
        if (!isAlive()) return nothing();
        const result = await link.through(() => saveProject(id, base, document, note, ticket));
        return isAlive() ? result : nothing();
      },
      onState: (next) => (state = isShown() ? next : state),
      onSaved: (revision, document) => acknowledged.push({ revision, document }),
      pauseMs: 1,
      retryMs: 2,
    });
    const annotations = createAnnotations({
      send: async (number, base, ticket, set) => {
        if (!isAlive()) return nothing();
        const result = await link.through(() =>
          annotateVersion(projectId, number, set, base, ticket),
        );
        return isAlive() ? result : nothing();
      },
      keep: (number, pending) => {
        if (isAlive()) {
          if (pending) kept.notes.set(number, pending);
          else kept.notes.delete(number);
        }
        return Promise.resolve();
      },
      onState: (next) => (written = isShown() ? next : written),
      onSaved: () => undefined,
      retryMs: 2,
    });
    design = project.document;
    const ticket = pending?.ticket ?? null;
    const isOwn = ticket !== null && ticket.chain === project.lastSave?.chain;
    if (pending && !isSameDesign(pending.document, project.document)) {
      design = pending.document;
      if (pending.baseRevision === project.revision || isOwn)
        autosave.rebase(project.revision, ticket);
      else autosave.conflict(project);
      autosave.changed(design);
    } else if (pending) {
      if (isDeepStrictEqual(kept.save?.ticket, ticket)) kept.save = null;
      if (isOwn) autosave.rebase(project.revision, ticket);
    }
    annotations.takeUp(kept.notes);
    return {
      autosave,
      annotations,
      edit(name: string) {
        design = { ...design, name };
        autosave.changed(design);
      },
      /** The page dies: nothing of it is sent or written any more. */
      close() {
        pages++;
        void autosave.leave();
        annotations.leave();
      },
      /** To the list of projects: the page lives on. */
      leave() {
        void autosave.leave();
        annotations.leave();
      },
    };
  }
  return {
    visit,
    acknowledged,
    state: () => state,
    written: () => written,
    design: () => design,
    isSettled: () => kept.save === null && kept.notes.size === 0,
  };
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function until(isTrue: () => boolean): Promise<void> {
  for (let i = 0; i < 2000 && !isTrue(); i++) await pause(5);
  expect(isTrue()).toBe(true);
}

test.each([1, 2, 3, 4, 5, 6, 7, 8])(
  'one tab, seed %i: no conflict with itself, whatever is lost',
  async (seed) => {
    const random = seededRandom(seed);
    const { id } = await steadily(() => createProject(emptyDesign('start')));
    const link = connection(random);
    const mine = tab(id, link);
    let page = await mine.visit();
    const version = async (): Promise<VersionSummary> =>
      (await steadily(() => listVersions(id))).at(-1)!;
    let impressions = 0;
    for (let step = 0; step < 40; step++) {
      const draw = random();
      if (draw < 0.5) page.edit(`step ${step}`);
      else if (draw < 0.65) {
        const shown = asWritten(await version(), mine.written());
        page.annotations.annotate(shown, {
          note: `note ${step}`,
          impressions: [
            ...shown.impressions,
            {
              heard: `tone ${++impressions}`,
              where: '',
              programme: '',
              levelDb: null,
              company: '',
            },
          ],
        });
      } else if (draw < 0.75) link.setAway(random() < 0.5);
      else if (draw < 0.87) {
        if (random() < 0.5) page.close();
        else page.leave();
        page = await mine.visit();
      } else await pause(1 + 6 * random());
      expect(mine.state().kind).not.toBe('conflict');
      expect([...mine.written().troubles.values()].map(({ kind }) => kind)).not.toContain(
        'conflict',
      );
    }
    link.setAway(false);
    await until(() => mine.isSettled());
    page.close();
    expect(mine.state().kind).not.toBe('conflict');
    const end = await steadily(() => findProject(id));
    expect(end.document.name).toBe(mine.design().name);
    for (const { revision, document } of mine.acknowledged)
      expect((await steadily(() => findState(id, revision))).document).toEqual(document);
    const heard = (await version()).impressions.map((one) => one.heard);
    expect(heard).toEqual(Array.from({ length: impressions }, (_, i) => `tone ${i + 1}`));
  },
);

test.each([11, 12, 13, 14])(
  'two tabs, seed %i: what was acknowledged stays in the log',
  async (seed) => {
    const random = seededRandom(seed);
    const { id } = await steadily(() => createProject(emptyDesign('start')));
    const links = [connection(random), connection(random)];
    const tabs = links.map((link) => tab(id, link));
    const pages = await Promise.all(tabs.map((one) => one.visit()));
    let heard = 0;
    for (let step = 0; step < 40; step++) {
      const k = random() < 0.5 ? 0 : 1;
      const draw = random();
      if (tabs[k].state().kind === 'conflict') {
        // Somebody else did save: the newest state is not one of this tab's.
        const { theirs } = tabs[k].state() as { theirs: StoredProject };
        expect(
          tabs[1 - k].acknowledged.some(({ revision }) => revision === theirs.revision) ||
            theirs.document.name.startsWith(`tab ${1 - k}`),
        ).toBe(true);
        await pages[k].autosave.discard(theirs.revision);
        pages[k].close();
        pages[k] = await tabs[k].visit();
      } else if (draw < 0.5) pages[k].edit(`tab ${k} step ${step}`);
      else if (draw < 0.7) {
        const shown = asWritten(
          (await steadily(() => listVersions(id))).at(-1)!,
          tabs[k].written(),
        );
        heard++;
        pages[k].annotations.annotate(shown, {
          impressions: [
            ...shown.impressions,
            { heard: `tone ${heard}`, where: `${k}`, programme: '', levelDb: null, company: '' },
          ],
        });
      } else await pause(1 + 5 * random());
    }
    await until(() => tabs.every((one) => one.isSettled() || one.state().kind === 'conflict'));
    await until(() => tabs.every((one) => one.written().pending.size === 0));
    pages.forEach((page) => page.close());
    for (const { acknowledged } of tabs)
      for (const { revision, document } of acknowledged)
        expect((await steadily(() => findState(id, revision))).document).toEqual(document);
    // Impressions of both are there: none overwrote the other's.
    const kept = (await steadily(() => listVersions(id)))
      .at(-1)!
      .impressions.map((one) => one.heard);
    expect(kept.toSorted()).toEqual(
      Array.from({ length: heard }, (_, i) => `tone ${i + 1}`).toSorted(),
    );
  },
);

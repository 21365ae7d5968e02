import { readSession } from '../../tests/fixtures';
import { meaningOf } from '@/core/brief/consequences';
import type { SaveNote } from '@/core/log/log';
import { createPredictor } from '@/core/prediction/predict';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import type { Design } from '@/core/document/schema';
import type { Samples } from '@/core/measurement/samples';
import type { StoredProject } from '@/core/log/project';
import { shownOf } from './deskState';
import { createDesk } from './desk';
import type { DeskWorld } from './world';
import type { PendingSave } from '@/desk/saving/outbox';

const { design, data } = readSession();
const project: StoredProject = {
  id: 'p',
  revision: 4,
  document: design,
  pinnedRevision: null,
  lastSave: null,
};
const predict = createPredictor();
const settle = (ms = 20) => new Promise((resolve) => setTimeout(resolve, ms));

/** A browser and a server as plain objects. */
function bench(server: StoredProject = project, pending: PendingSave | null = null) {
  const log = {
    server,
    pending,
    requested: [] as { name: string; bypassed: string | null }[],
    loaded: new Set<string>(),
    saves: [] as { base: number; document: Design; note: SaveNote }[],
    pins: [] as (number | null)[],
    lateFigures: [] as number[],
    /** Verdicts that are not told yet; null where they are told at once. */
    heldBack: null as (() => void)[] | null,
    stored: [] as string[],
    created: [] as string[],
    messages: [] as unknown[],
  };
  const world: DeskWorld = {
    api: {
      fetchProject: () => Promise.resolve(log.server),
      fetchMeasurement: (id) => Promise.resolve(data.get(id)!),
      storeMeasurement: (id) => Promise.resolve(void log.stored.push(id)),
      createProject: (document) =>
        Promise.resolve({
          id: log.created[log.created.push(document.name) - 1],
          revision: 1,
          document,
          pinnedRevision: null,
          lastSave: null,
        }),
      fetchState: (_id, revision) =>
        Promise.resolve({ revision, document: { ...design, name: `state ${revision}` } }),
      pinState: (_id, revision) => Promise.resolve(void log.pins.push(revision)),
      annotateVersion: () => Promise.reject(new Error('no log here')),
      setLateFigures: (_id, revision) => Promise.resolve(void log.lateFigures.push(revision)),
      saveProject: (_id, base, ticket, document, note) => {
        if (base !== log.server.revision) return Promise.resolve({ conflict: log.server });
        log.saves.push({ base, document, note });
        log.server = { ...log.server, revision: base + 1, document, lastSave: ticket };
        return Promise.resolve({ revision: base + 1 });
      },
    },
    createOutbox: () => ({
      keep: (_id, kept) => Promise.resolve(void (log.pending = kept)),
      drop: () => Promise.resolve(void (log.pending = null)),
      find: () => Promise.resolve(log.pending),
      keepAnnotation: () => Promise.resolve(),
      findAnnotations: () => Promise.resolve(new Map()),
      keepMeasurement: () => Promise.resolve(),
      dropMeasurement: () => Promise.resolve(),
      findMeasurement: () => Promise.resolve(null),
    }),
    createPredictor: ({ onCurves, onVerdicts }) => ({
      load: (id) => void log.loaded.add(id),
      request: (asked, bypassed) => {
        log.requested.push({ name: asked.name, bypassed });
        const prediction = predict(asked, data);
        onCurves({ design: asked, prediction, computeMs: 1 });
        const tell = () =>
          onVerdicts({
            design: asked,
            judged: judgedPromisesOf(asked, prediction),
            offAxis: prediction.offAxis,
          });
        if (log.heldBack) log.heldBack.push(tell);
        else tell();
      },
      figures: () => Promise.resolve([]),
      deck: () => Promise.resolve(null),
      predictBeside: (asked) => {
        const prediction = predict(asked, data);
        return Promise.resolve({ prediction, judged: judgedPromisesOf(asked, prediction) });
      },
      study: (asked) =>
        Promise.resolve({
          meaning: meaningOf(asked, null),
          levers: new Map<string, never[]>(),
          alternatives: [],
        }),
      insight: () => Promise.resolve(null),
      trapLoads: () => Promise.resolve(new Map<string, number>()),
      proposeTrap: () => Promise.resolve(null),
      actingAt: () => Promise.resolve([]),
      examine: () => Promise.resolve(null),
      fitDriver: () => Promise.reject(new Error('not in this test')),
      depthOffset: () => Promise.reject(new Error('not in this test')),
      depthBetween: () => Promise.resolve(null),
      spread: () => Promise.reject(new Error('not in this test')),
      close: () => undefined,
    }),
    createChannel: () => ({
      onmessage: null,
      postMessage: (message: unknown) => void log.messages.push(message),
      close: () => undefined,
    }),
    warmFileReader: () => undefined,
  };
  return { log, world };
}

async function opened(server?: StoredProject, pending?: PendingSave) {
  const { log, world } = bench(server, pending);
  const desk = createDesk(project, world);
  const close = desk.open();
  await settle();
  return { desk, close, log, state: desk.store.getState };
}

test('opening loads every measurement into the predictor and predicts', async () => {
  const { state, close, log } = await opened();
  expect(state().loaded.size).toBe(6);
  expect(log.loaded.size).toBe(6);
  expect(log.requested.at(-1)).toEqual({ name: 'The Reading Room', bypassed: null });
  close();
});

test('a change is predicted at once, undone, redone, and saved once', async () => {
  const { desk, state, close, log } = await opened();
  desk.change({ type: 'renameDesign', name: 'b' }, 'rename');
  desk.change({ type: 'renameDesign', name: 'c' }, 'rename again');
  expect(log.requested.at(-1)?.name).toBe('c');
  desk.undo();
  expect(state().design.name).toBe('b');
  expect(state().history.redo).toHaveLength(1);
  desk.redo();
  expect(state().design.name).toBe('c');
  desk.redo();
  await settle(500);
  expect(log.saves.map(({ base, document }) => [base, document.name])).toEqual([[4, 'c']]);
  expect(state().save).toEqual({ kind: 'saved' });
  expect(log.pending).toBeNull();
  expect(log.messages).toMatchObject([{ revision: 5, document: { name: 'c' } }]);
  close();
});

test('nudges merge into one step', async () => {
  const { desk, state, close } = await opened();
  for (const value of [3.6e-3, 3.9e-3, 4.3e-3])
    desk.change({ type: 'setPartValue', id: 'l1', value }, 'set L1', 'value l1');
  desk.undo();
  expect(state().design).toBe(design);
  close();
});

test('bypassing predicts without the part and changes nothing', async () => {
  const { desk, state, close, log } = await opened();
  desk.bypass('c1');
  desk.bypass('c1');
  expect(log.requested.at(-1)?.bypassed).toBe('c1');
  desk.bypass(null);
  expect(log.requested.at(-1)?.bypassed).toBeNull();
  expect(state().design).toBe(design);
  close();
});

test('a measurement is sent before the document that names it', async () => {
  const { desk, close, log } = await opened();
  const samples: Samples = {
    frequencyHz: Float64Array.of(1, 2),
    magnitude: Float64Array.of(3, 4),
    phaseDeg: null,
  };
  const id = 'e'.repeat(32);
  desk.addMeasurements([{ ...design.measurements[0], id, name: 'new' }], new Map([[id, samples]]));
  await settle(500);
  expect(log.stored).toEqual(['e'.repeat(32)]);
  expect(log.saves.at(-1)?.document.measurements).toHaveLength(7);
  close();
});

test('what an earlier visit could not save is taken up again', async () => {
  const { state, close, log } = await opened(project, {
    baseRevision: 4,
    document: { ...design, name: 'kept' },
  });
  expect(state().design.name).toBe('kept');
  await settle(500);
  expect(log.saves.at(-1)?.document.name).toBe('kept');
  close();
});

test('what the server has already may be on its way once more: its chain goes on', async () => {
  const chain = crypto.randomUUID();
  const server = { ...project, lastSave: { chain, number: 1 } };
  const kept = { baseRevision: 3, ticket: { chain, number: 2 }, document: design };
  const { desk, close, log } = await opened(server, kept);
  expect(log.pending).toBeNull();
  desk.change({ type: 'renameDesign', name: 'next' }, 'rename');
  await settle(500);
  expect(log.saves).toMatchObject([{ base: 4, document: { name: 'next' } }]);
  expect(log.server.lastSave!.chain).toBe(chain);
  expect(log.server.lastSave!.number).toBeGreaterThan(1000);
  close();
});

test('nothing is sent before it is known what an earlier visit left', async () => {
  const { log, world } = bench(project, { baseRevision: 4, document: { ...design, name: 'kept' } });
  let answer = () => undefined as void;
  const { fetchProject } = world.api;
  Object.assign(world.api, {
    fetchProject: async (id: string) => {
      await new Promise<void>((go) => (answer = go));
      return fetchProject(id);
    },
  });
  const desk = createDesk(project, world);
  const close = desk.open();
  desk.change({ type: 'renameDesign', name: 'early' }, 'rename');
  await settle(500);
  expect(log.saves).toEqual([]);
  answer();
  await settle(500);
  expect(log.saves.map(({ document }) => document.name)).toEqual(['early', 'kept']);
  close();
});

test('what was kept and can’t be read is told', async () => {
  const { state, close } = await opened(project, {
    baseRevision: 4,
    document: { ...design, version: 1e6 } as unknown as Design,
  });
  expect(state().save).toMatchObject({ kind: 'refused' });
  close();
});

test('what was done before a visit ended is told to the log by the next one', async () => {
  const first = await opened();
  first.desk.goTo({ ...design, name: 'older' }, 'back to v2');
  await settle();
  const { pending } = first.log;
  expect(pending?.done).toEqual({ label: 'back to v2', begins: 'go-back' });
  first.close();
  const next = await opened(project, pending!);
  expect(next.state().history.undo.at(-1)?.label).toBe('back to v2');
  await settle(500);
  expect(next.log.saves).toHaveLength(1);
  expect(next.log.saves[0]).toMatchObject({
    document: { name: 'older' },
    note: { label: 'back to v2', begins: 'go-back' },
  });
  next.close();
});

test('a version that is begun while a save is on its way begins with the next', async () => {
  const { log, world } = bench();
  const save = world.api.saveProject;
  let arrive = () => undefined as void;
  let isHeld = true;
  const isSent = new Promise<void>((resolve) => {
    const saveProject = async (...args: Parameters<typeof save>) => {
      resolve();
      if (isHeld) await new Promise<void>((go) => (arrive = go));
      return save(...args);
    };
    Object.assign(world.api, { saveProject });
  });
  const desk = createDesk(project, world);
  const close = desk.open();
  await settle();
  desk.change({ type: 'renameDesign', name: 'newer' }, 'rename');
  await isSent;
  desk.goTo({ ...design, name: 'older' }, 'go back');
  isHeld = false;
  arrive();
  await settle(500);
  expect(log.saves.map(({ document, note }) => [document.name, note.begins])).toEqual([
    ['newer', null],
    ['older', 'go-back'],
  ]);
  close();
});

test('a page from the browser’s memory catches up with the server', async () => {
  const { desk, state, close, log } = await opened({
    ...project,
    revision: 9,
    document: { ...design, name: 'newer' },
  });
  expect(state().design.name).toBe('newer');
  desk.change({ type: 'renameDesign', name: 'newest' }, 'rename');
  await settle(500);
  expect(log.saves.at(-1)).toMatchObject({ base: 9, document: { name: 'newest' } });
  close();
});

test('a save that comes before the verdicts gets its figures afterwards, unless another one came', async () => {
  const { desk, close, log } = await opened();
  log.heldBack = [];
  desk.change({ type: 'setPartValue', id: 'l1', value: 4e-3 }, 'set L1');
  await settle(500);
  expect(log.saves.at(-1)!.note.figures).toBeNull();
  expect(log.lateFigures).toEqual([]);
  for (const tell of log.heldBack.splice(0)) tell();
  expect(log.lateFigures).toEqual([project.revision + 1]);
  desk.change({ type: 'setPartValue', id: 'l1', value: 5e-3 }, 'set L1');
  await settle(500);
  const [first] = log.heldBack.splice(0);
  desk.change({ type: 'setPartValue', id: 'l1', value: 6e-3 }, 'set L1');
  await settle(500);
  first();
  expect(log.lateFigures).toEqual([project.revision + 1]);
  for (const tell of log.heldBack.splice(0)) tell();
  expect(log.lateFigures).toEqual([project.revision + 1, project.revision + 3]);
  close();
});

test('a save tells the log what was done and how the promises stood', async () => {
  const { desk, close, log } = await opened();
  desk.change({ type: 'setPartValue', id: 'l1', value: 4e-3 }, 'set L1');
  await settle(500);
  const { note } = log.saves.at(-1)!;
  expect(note).toMatchObject({ label: 'set L1', begins: null });
  expect(note.figures!.thumbnail).toHaveLength(64);
  expect(note.figures!.promises.find(({ id }) => id === 'lowest-impedance')!.value).toBeGreaterThan(
    3,
  );
  desk.goTo({ ...design, name: 'older' }, 'go back');
  await settle(500);
  expect(log.saves.at(-1)).toMatchObject({
    document: { name: 'older' },
    note: { begins: 'go-back' },
  });
  desk.undo();
  await settle(500);
  expect(log.saves.at(-1)).toMatchObject({
    document: { name: design.name },
    note: { begins: null },
  });
  close();
});

test('a pinned state is shown while held, and a change ends that', async () => {
  const { desk, state, close, log } = await opened({ ...project, pinnedRevision: 2 });
  desk.flip(true);
  expect(state().isFlipped).toBe(false);
  await desk.pin(3);
  expect(log.pins).toEqual([3]);
  expect(state().pinned).toMatchObject({ revision: 3, design: { name: 'state 3' } });
  desk.flip(true);
  expect(state().isFlipped).toBe(true);
  desk.change({ type: 'renameDesign', name: 'b' }, 'rename');
  expect(state().isFlipped).toBe(false);
  await desk.pin(null);
  expect(state().pinned).toBeNull();
  close();
});

test('of pins that follow each other quickly the last one counts', async () => {
  const session = bench();
  let free: () => void = () => undefined;
  const fetchState: DeskWorld['api']['fetchState'] = (_id, revision) =>
    new Promise((resolve) => {
      free = () => resolve({ revision, document: design });
    });
  Object.assign(session.world.api, { fetchState });
  const desk = createDesk(project, session.world);
  const close = desk.open();
  const [first, second] = [desk.pin(5), desk.pin(null)];
  await settle();
  free();
  await Promise.all([first, second]);
  expect(session.log.pins).toEqual([5, null]);
  expect(desk.store.getState().pinned).toBeNull();
  close();
});

test('numbers that can’t be had are told, and asked for again until they are here', async () => {
  const session = bench();
  const { fetchMeasurement } = session.world.api;
  const [missing] = data.keys();
  let isAway = true;
  const sometimes: typeof fetchMeasurement = (id) =>
    isAway && id === missing ? Promise.reject(new Error('no connection')) : fetchMeasurement(id);
  Object.assign(session.world.api, { fetchMeasurement: sometimes });
  const desk = createDesk(project, session.world);
  const close = desk.open();
  await settle();
  expect(desk.store.getState().loadTrouble).toMatch(/: no connection$/);
  expect(desk.store.getState().loaded.has(missing)).toBe(false);
  isAway = false;
  await settle(2100);
  expect(desk.store.getState().loadTrouble).toBeNull();
  expect(desk.store.getState().loaded.size).toBe(6);
  expect(session.log.loaded.has(missing)).toBe(true);
  close();
});

test('a design that is only looked at is shown, saved nowhere, and gone with the next change', async () => {
  const { desk, state, close, log } = await opened();
  const other = { ...design, name: 'other', ways: design.ways.slice(0, 1) };
  desk.preview(other);
  await settle();
  expect(shownOf(state()).design.name).toBe('other');
  expect(shownOf(state()).prediction!.ways).toHaveLength(1);
  expect(state().design).toBe(design);
  desk.preview(null);
  expect(shownOf(state()).design).toBe(design);
  // An answer that comes after one has looked away is dropped.
  desk.preview(other);
  desk.preview(null);
  await settle();
  expect(shownOf(state()).design).toBe(design);
  desk.preview(other);
  await settle();
  desk.change({ type: 'renameDesign', name: 'mine' }, 'rename');
  expect(shownOf(state()).design.name).toBe('mine');
  await settle(500);
  expect(log.saves.map(({ document }) => document.name)).toEqual(['mine']);
  close();
});

test('a driver from the library comes with its measurements as one step', async () => {
  const { desk, state, close } = await opened();
  const [woofer] = design.drivers;
  desk.change(
    { type: 'bringDrivers', drivers: [{ ...woofer, id: 'again' }], measurements: [] },
    'bring',
  );
  expect(state().design.drivers.at(-1)?.id).toBe('again');
  expect(state().design.measurements).toEqual(design.measurements);
  desk.undo();
  expect(state().design).toBe(design);
  close();
});

test('what takes longer is studied when the hand rests', async () => {
  const { state, close } = await opened();
  await settle(300);
  expect(state().study!.meaning.enclosures.length).toBeGreaterThan(3);
  close();
});

describe('a conflict', () => {
  async function inConflict() {
    const session = await opened(
      { ...project, revision: 7, document: { ...design, name: 'theirs' } },
      { baseRevision: 2, document: { ...design, name: 'mine' } },
    );
    expect(session.state().save).toMatchObject({ kind: 'conflict', theirs: { revision: 7 } });
    expect(session.state().design.name).toBe('mine');
    expect(session.log.saves).toEqual([]);
    return session;
  }

  test('mine: saved over theirs', async () => {
    const { desk, close, log } = await inConflict();
    await desk.resolveConflict('mine');
    await settle(50);
    expect(log.saves).toMatchObject([{ base: 7, document: { name: 'mine' } }]);
    close();
  });

  test('theirs: shown, and undo still leads back to mine', async () => {
    const { desk, state, close, log } = await inConflict();
    await desk.resolveConflict('theirs');
    expect(state().design.name).toBe('theirs');
    expect(log.pending).toBeNull();
    desk.undo();
    expect(state().design.name).toBe('mine');
    close();
  });

  test('both: mine becomes a project of its own', async () => {
    const { desk, state, close, log } = await inConflict();
    await desk.resolveConflict('both');
    expect(log.created).toEqual(['mine (from this tab)']);
    expect(state().design.name).toBe('theirs');
    close();
  });
});

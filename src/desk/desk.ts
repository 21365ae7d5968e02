import { createStore, type StoreApi } from 'zustand/vanilla';
import { applyChange, type Change } from '@/core/design/changes';
import { readDesign } from '@/core/design/readDesign';
import type { Prediction } from '@/core/design/prediction';
import type { Design, Measurement } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';
import { createPredictorClient, type PredictorClient } from '@/workers/predictorClient';
import { warmFileReader } from '@/workers/filesClient';
import type { StoredProject } from '@/core/design/project';
import * as api from './api';
import { createAutosave, isSameDesign, type Autosave, type SaveState } from './autosave';
import { curvesFirst } from './curvesFirst';
import { emptyHistory, redone, undone, withStep, type History } from './history';
import { createOutbox, type Outbox } from './outbox';

/** What is chosen on the network drawing. */
export type Selection =
  | { readonly kind: 'part'; readonly id: string }
  | { readonly kind: 'gap'; readonly wayId: string; readonly index: number }
  | { readonly kind: 'way'; readonly id: string };

export interface DeskState {
  readonly design: Design;
  readonly history: History;
  readonly save: SaveState;
  readonly prediction: Prediction | null;
  /** Time the worker took for the last prediction. */
  readonly computeMs: number | null;
  readonly predictionFailure: string | null;
  /** Measurements whose numbers are here. */
  readonly loaded: ReadonlySet<string>;
  /** Session state: never saved, never undone. */
  readonly selection: Selection | null;
  readonly bypassedPartId: string | null;
  readonly isShelfFolded: boolean;
}

/** The open design in the browser: the only place that changes it. */
export interface Desk {
  readonly projectId: string;
  readonly store: StoreApi<DeskState>;
  /** Tells views that the state changed, curves first. */
  readonly subscribe: (listener: () => void) => () => void;
  change(change: Change, label: string, mergeKey?: string): void;
  undo(): void;
  redo(): void;
  select(selection: Selection | null): void;
  bypass(partId: string | null): void;
  foldShelf(isFolded: boolean): void;
  addMeasurement(measurement: Measurement, samples: Samples): void;
  samples(id: string): Samples | undefined;
  allSamples(): ReadonlyMap<string, Samples>;
  resolveConflict(how: 'mine' | 'theirs' | 'both'): Promise<void>;
  /** Starts workers, loads what is needed, picks up what an earlier visit could not save. Returns the way to close. */
  open(): () => void;
}

/** What a desk needs from outside; tests put plain objects in its place. */
export interface DeskWorld {
  readonly api: Pick<
    typeof api,
    'fetchProject' | 'fetchMeasurement' | 'storeMeasurement' | 'saveProject' | 'createProject'
  >;
  readonly createOutbox: () => Outbox;
  readonly createPredictor: typeof createPredictorClient;
  /** Messages to other tabs on the same project. */
  readonly createChannel: (
    name: string,
  ) => Pick<BroadcastChannel, 'postMessage' | 'close' | 'onmessage'>;
  readonly warmFileReader: () => void;
}

const browserWorld: DeskWorld = {
  api,
  createOutbox,
  createPredictor: createPredictorClient,
  createChannel: (name) => new BroadcastChannel(name),
  warmFileReader,
};

/** A message between tabs on the same project. */
interface SavedElsewhere {
  readonly revision: number;
  readonly document: Design;
}

export function createDesk(project: StoredProject, world: DeskWorld = browserWorld): Desk {
  const { id: projectId } = project;
  const store = createStore<DeskState>(() => ({
    design: project.document,
    history: emptyHistory,
    save: { kind: 'saved' },
    prediction: null,
    computeMs: null,
    predictionFailure: null,
    loaded: new Set(),
    selection: null,
    bypassedPartId: null,
    isShelfFolded: false,
  }));
  const samples = new Map<string, Samples>();
  /** Measurements that the server may not have. */
  const unsent = new Set<string>();
  let outbox: Outbox | null = null;
  let autosave: Autosave | null = null;
  let predictor: PredictorClient | null = null;
  let channel: ReturnType<DeskWorld['createChannel']> | null = null;

  const { getState, setState } = store;

  function repredict(): void {
    const { design, bypassedPartId } = getState();
    predictor?.request(design, bypassedPartId);
  }

  /** Puts a document on the desk: the one way in which it ever changes. */
  function show(design: Design, history: History): void {
    setState({ design, history });
    void loadMeasurements(design);
    repredict();
  }

  function edit(design: Design, label: string, mergeKey: string | null): void {
    const { design: before, history } = getState();
    show(design, withStep(history, { before, after: design, label, mergeKey, atMs: Date.now() }));
  }

  function takeSamples(id: string, numbers: Samples): void {
    samples.set(id, numbers);
    predictor?.load(id, numbers);
    setState(({ loaded }) => ({ loaded: new Set(loaded).add(id) }));
  }

  async function loadMeasurements(design: Design): Promise<void> {
    const absent = design.measurements.filter(({ id }) => !samples.has(id));
    await Promise.all(
      absent.map(async ({ id }) => {
        const kept = await outbox?.findMeasurement(id);
        if (kept) unsent.add(id);
        const numbers = kept ?? (await world.api.fetchMeasurement(id).catch(() => null));
        if (numbers) takeSamples(id, numbers);
      }),
    );
    if (absent.length > 0) repredict();
  }

  async function sendMeasurements(design: Design): Promise<void> {
    for (const { id } of design.measurements) {
      const numbers = samples.get(id);
      if (!unsent.has(id) || !numbers) continue;
      await world.api.storeMeasurement(id, numbers);
      unsent.delete(id);
      await outbox?.dropMeasurement(id);
    }
  }

  function savedElsewhere({ revision, document }: SavedElsewhere): void {
    if (!autosave?.isClean()) return;
    autosave.rebase(revision);
    edit(document, 'change from another tab', null);
  }

  function startAutosave(box: Outbox, revision: number): Autosave {
    return createAutosave({
      projectId,
      revision,
      outbox: box,
      sendMeasurements,
      save: world.api.saveProject,
      onState: (save) => setState({ save }),
      onSaved: (newRevision, document) =>
        channel?.postMessage({ revision: newRevision, document } satisfies SavedElsewhere),
    });
  }

  /**
   * The page may come from the browser's memory, and an earlier visit may have left changes that it could not save:
   * those are taken up again, or shown as a conflict.
   */
  async function catchUp(box: Outbox, saver: Autosave): Promise<void> {
    const newest = await world.api.fetchProject(projectId).catch(() => project);
    const kept = await box.find(projectId);
    // It may have been kept by an older version of this program.
    const pending = kept && { ...kept, document: readDesign(kept.document, 'kept in this browser') };
    if (pending && !isSameDesign(pending.document, newest.document)) {
      edit(pending.document, 'changes kept from before', null);
      if (pending.baseRevision === newest.revision) saver.rebase(newest.revision);
      else saver.conflict(newest);
      saver.changed(pending.document);
      return;
    }
    if (pending) await box.drop(projectId);
    if (newest.revision === project.revision || !saver.isClean()) return;
    saver.rebase(newest.revision);
    show(newest.document, getState().history);
  }

  async function resolveConflict(how: 'mine' | 'theirs' | 'both'): Promise<void> {
    const { save, design } = getState();
    if (save.kind !== 'conflict' || !autosave || !outbox) return;
    const { theirs } = save;
    if (how === 'both')
      await world.api.createProject({
        ...design,
        name: `${design.name.slice(0, 65)} (from this tab)`,
      });
    if (how === 'mine') {
      autosave.rebase(theirs.revision);
      autosave.changed(design);
      await autosave.flush();
      return;
    }
    // Their version becomes a step, so that undo still leads back to this tab's.
    await autosave.discard(theirs.revision);
    edit(theirs.document, 'the other version', null);
  }

  return {
    projectId,
    store,
    subscribe: curvesFirst(store),
    change(change, label, mergeKey) {
      const { design } = getState();
      const next = applyChange(design, change);
      if (next === design) return;
      edit(next, label, mergeKey ?? null);
      autosave?.changed(next);
    },
    undo() {
      const result = undone(getState().history);
      if (!result) return;
      show(result.design, result.history);
      autosave?.changed(result.design);
    },
    redo() {
      const result = redone(getState().history);
      if (!result) return;
      show(result.design, result.history);
      autosave?.changed(result.design);
    },
    select: (selection) => setState({ selection }),
    bypass(bypassedPartId) {
      if (getState().bypassedPartId === bypassedPartId) return;
      setState({ bypassedPartId });
      repredict();
    },
    foldShelf: (isShelfFolded) => setState({ isShelfFolded }),
    addMeasurement(measurement, numbers) {
      unsent.add(measurement.id);
      void outbox?.keepMeasurement(measurement.id, numbers);
      takeSamples(measurement.id, numbers);
      this.change(
        { type: 'addMeasurements', measurements: [measurement] },
        `import ${measurement.name}`,
      );
    },
    samples: (id) => samples.get(id),
    allSamples: () => samples,
    resolveConflict,
    open() {
      world.warmFileReader();
      const box = world.createOutbox();
      outbox = box;
      predictor = world.createPredictor(
        (prediction, computeMs) => setState({ prediction, computeMs, predictionFailure: null }),
        (predictionFailure) => setState({ predictionFailure }),
      );
      for (const [id, numbers] of samples) predictor.load(id, numbers);
      channel = world.createChannel(`fair-project-${projectId}`);
      channel.onmessage = (event: MessageEvent<SavedElsewhere>) => savedElsewhere(event.data);
      const saver = startAutosave(box, project.revision);
      autosave = saver;
      void catchUp(box, saver);
      void loadMeasurements(project.document);
      repredict();
      return () => {
        void saver.flush();
        saver.stop();
        predictor?.close();
        channel?.close();
      };
    },
  };
}

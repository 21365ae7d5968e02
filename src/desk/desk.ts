import { messageOf } from '@/core/problem';
import type { PartId } from '@/core/fields';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { applyChange } from '@/core/editing/applyChange';
import type { Change } from '@/core/editing/change';
import type { Annotation, VersionSummary } from '@/core/log/log';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import { numberIds, type Design, type Measurement } from '@/core/document/schema';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { type Outcome, type PredictorClient, type Verdicts } from '@/workers/predictorClient';
import type { StoredProject } from '@/core/log/project';
import { noAnnotations } from '@/desk/saving/annotations';
import type { DeskState, Selection } from './deskState';
import { curvesFirst, type Told } from '@/desk/curves/curvesFirst';
import { emptyHistory, redone, undone, withStep, type History } from './history';
import { createSaving } from '@/desk/saving/saving';
import { browserWorld, type DeskWorld } from './world';

/** The longer computations, in the worker beside the page. */
export type Workbench = Pick<
  PredictorClient,
  | 'figures'
  | 'deck'
  | 'insight'
  | 'actingAt'
  | 'trapLoads'
  | 'proposeTrap'
  | 'examine'
  | 'fitDriver'
  | 'depthOffset'
  | 'depthBetween'
  | 'spread'
>;

/** The open design in the browser: the only place that changes it. Views are told curves first. */
export interface Desk extends Told {
  readonly projectId: string;
  readonly store: StoreApi<DeskState>;
  /** Several changes are one step: what lies between them is neither shown nor judged. */
  change(change: Change | readonly Change[], label: string, mergeKey?: string): void;
  undo(): void;
  redo(): void;
  select(selection: Selection | null): void;
  bypass(partId: PartId | null): void;
  foldShelf(stage: string, isFolded: boolean): void;
  /** Makes a saved state the one to compare with; null takes the pin away. */
  pin(revision: number | null): Promise<void>;
  /** Shows the pinned state everywhere while held. */
  flip(isFlipped: boolean): void;
  /** Shows a document without putting it on the desk; null shows the desk again. */
  preview(design: Design | null): void;
  /**
   * Puts another document in the place of this one, as one step; what was there stays in the log.
   */
  goTo(design: Design, label: string): void;
  /** Curves and verdicts of a document beside the one on the desk. */
  predictBeside(design: Design): Promise<Outcome>;
  /** The longer computations, in the worker; they reject while the desk is not open. */
  workbench(): Workbench;
  /** Sends what waits, so that the log has everything. */
  flush(): Promise<void>;
  /** Revision of the newest state that the server has. */
  revision(): number;
  /**
   * Takes new measurements, as one step: what the document says of them, and all numbers that
   * belong to them.
   */
  addMeasurements(
    measurements: readonly Measurement[],
    numbers: MeasurementData,
    step?: { readonly label?: string; readonly mergeKey?: string },
  ): void;
  /** Takes numbers that a document may name, without naming them. */
  keepNumbers(numbers: MeasurementData): void;
  samples(id: string): Samples | undefined;
  allSamples(): ReadonlyMap<string, Samples>;
  /** The same once those of the design are here, as far as they can be had. */
  designSamples(): Promise<ReadonlyMap<string, Samples>>;
  /** Gets numbers that are not here yet, as far as they can be had. */
  loadSamples(measurements: readonly Measurement[]): Promise<unknown>;
  resolveConflict(how: 'mine' | 'theirs' | 'both'): Promise<void>;
  /** Names a version, or writes its note and impressions: kept here until the server has it. */
  annotate(version: VersionSummary, set: Annotation): void;
  /** Decides about a name or note that was changed elsewhere too. */
  resolveAnnotation(number: number, how: 'mine' | 'theirs' | 'both'): void;
  /**
   * Starts workers, loads what is needed, picks up what an earlier visit could not save. Returns
   * the way to close.
   */
  open(): () => void;
}

/** Pause of editing after which the longer studies begin. */
const restMs = 200;
/** Between attempts to get measurements that did not come. */
const retryMs = 2000;

export function createDesk(project: StoredProject, world: DeskWorld = browserWorld): Desk {
  const { id: projectId } = project;
  const store = createStore<DeskState>(() => ({
    design: project.document,
    history: emptyHistory,
    save: { kind: 'saved' },
    prediction: null,
    judged: judgedPromisesOf(project.document, null),
    predictedDesign: null,
    study: null,
    computeMs: null,
    predictionFailure: null,
    loaded: new Set(),
    selection: null,
    bypassedPartId: null,
    shelfFolds: {},
    pinned: null,
    isFlipped: false,
    preview: null,
    annotations: noAnnotations,
    annotatedElsewhere: 0,
    loadTrouble: null,
  }));
  const samples = new Map<string, Samples>();
  let predictor: PredictorClient | null = null;

  const { getState, setState } = store;
  let previewed: Design | null = null;
  let studyTimer: ReturnType<typeof setTimeout> | undefined;
  let loadTimer: ReturnType<typeof setTimeout> | undefined;

  function repredict(): void {
    const { design, bypassedPartId } = getState();
    predictor?.request(design, bypassedPartId);
  }

  /** Puts a document on the desk: the one way in which it ever changes. */
  function show(design: Design, history: History): void {
    previewed = null;
    setState({ design, history, isFlipped: false, preview: null });
    // Without its numbers a design would look at fault: it is predicted once they are here, or
    // can't be had.
    if (isHere(design)) repredict();
    else void loadMeasurements(design);
  }

  function edit(design: Design, label: string, mergeKey: string | null): void {
    const { design: before, history } = getState();
    show(design, withStep(history, { before, after: design, label, mergeKey, atMs: Date.now() }));
  }

  function takeVerdicts({ design, judged, offAxis }: Verdicts): void {
    setState(({ prediction }) => ({
      ...{ judged, predictedDesign: design },
      // What the curves brought along is not given to the charts again.
      prediction:
        prediction && prediction.offAxis.due !== null ? { ...prediction, offAxis } : prediction,
    }));
    clearTimeout(studyTimer);
    studyTimer = setTimeout(() => void studyAtRest(design), restMs);
  }

  /** What takes longer waits until the hand rests, and is dropped when it moved on meanwhile. */
  async function studyAtRest(design: Design): Promise<void> {
    world.warmFileReader();
    const study = await predictor?.study(design).catch(() => null);
    if (study && getState().design === design) setState({ study });
  }

  async function predictBeside(design: Design): Promise<Outcome> {
    await loadSamples(design.measurements);
    if (!predictor) throw new Error('predictBeside: the desk is not open');
    return predictor.predictBeside(design);
  }

  /** Pins wished for, one after the other at the server; only the newest is shown. */
  let pinning: Promise<unknown> = Promise.resolve();
  let newestPin = 0;

  async function showPin(revision: number | null, turn: number): Promise<void> {
    if (revision === null) {
      if (turn === newestPin) setState({ pinned: null, isFlipped: false });
      return;
    }
    const { document } = await world.api.fetchState(projectId, revision);
    const outcome = await predictBeside(document);
    if (turn === newestPin) setState({ pinned: { revision, design: document, ...outcome } });
  }

  function pin(revision: number | null): Promise<void> {
    const turn = ++newestPin;
    const stored = pinning
      .catch(() => undefined)
      .then(() => world.api.pinState(projectId, revision));
    pinning = stored;
    return stored.then(() => showPin(revision, turn));
  }

  function takeSamples(numbers: ReadonlyMap<string, Samples>): void {
    for (const [id, one] of numbers) {
      samples.set(id, one);
      predictor?.load(id, one);
    }
    setState(({ loaded }) => ({ loaded: new Set([...loaded, ...numbers.keys()]) }));
  }

  /** Gets the numbers of measurements that are not here yet. @returns whether any came */
  async function loadSamples(measurements: readonly Measurement[]): Promise<boolean> {
    const found = new Map<string, Samples>();
    const troubles: string[] = [];
    await Promise.all(
      measurements.flatMap((measurement) =>
        numberIds(measurement)
          .filter((id) => !samples.has(id))
          .map(async (id) => {
            try {
              const kept = await saving.findMeasurement(id);
              // What waits in this browser is sent on from here: it may not wait for the others.
              if (kept) takeSamples(new Map([[id, kept]]));
              found.set(id, kept ?? (await world.api.fetchMeasurement(id)));
            } catch (error) {
              const why = messageOf(error);
              troubles.push(`${measurement.name}: ${why}`);
            }
          }),
      ),
    );
    if (found.size > 0) takeSamples(found);
    setState({ loadTrouble: troubles.length === 0 ? null : troubles.slice(0, 3).join(' ') });
    return found.size > 0;
  }

  const isHere = ({ measurements }: Design) =>
    measurements.flatMap(numberIds).every((id) => samples.has(id));

  async function loadMeasurements(design: Design): Promise<void> {
    clearTimeout(loadTimer);
    await loadSamples(design.measurements);
    repredict();
    // What could not be had is asked for again, whatever the design is by then.
    if (getState().loadTrouble !== null && predictor)
      loadTimer = setTimeout(() => void loadMeasurements(getState().design), retryMs);
  }

  const saving = createSaving({
    project,
    world,
    store,
    samples,
    edit: (design, label) => edit(design, label, null),
    show: (design) => show(design, getState().history),
  });

  return {
    projectId,
    store,
    ...curvesFirst(store),
    change(change, label, mergeKey) {
      const { design } = getState();
      const next = [change].flat().reduce(applyChange, design);
      if (next === design) return;
      edit(next, label, mergeKey ?? null);
      saving.changed(next, label);
    },
    undo() {
      const { history } = getState();
      const result = undone(history);
      if (!result) return;
      show(result.design, result.history);
      saving.changed(result.design, `undo: ${history.undo.at(-1)!.label}`);
    },
    redo() {
      const { history } = getState();
      const result = redone(history);
      if (!result) return;
      show(result.design, result.history);
      saving.changed(result.design, `redo: ${history.redo.at(-1)!.label}`);
    },
    select: (selection) => setState({ selection }),
    bypass(bypassedPartId) {
      if (getState().bypassedPartId === bypassedPartId) return;
      setState({ bypassedPartId });
      repredict();
    },
    foldShelf: (stage, isFolded) =>
      setState(({ shelfFolds }) => ({ shelfFolds: { ...shelfFolds, [stage]: isFolded } })),
    pin,
    flip: (isFlipped) => setState(({ pinned }) => ({ isFlipped: isFlipped && pinned !== null })),
    preview(design) {
      previewed = design;
      if (design === null) {
        setState({ preview: null });
        return;
      }
      void predictBeside(design)
        .then((outcome) => previewed === design && setState({ preview: { design, ...outcome } }))
        .catch(() => undefined);
    },
    goTo(design, label) {
      saving.begin('go-back');
      this.change({ type: 'replaceDesign', design }, label);
    },
    predictBeside,
    workbench() {
      if (!predictor) throw new Error('workbench: the desk is not open');
      return predictor;
    },
    flush: saving.flush,
    revision: saving.revision,
    annotate: saving.annotate,
    resolveAnnotation: saving.resolveAnnotation,
    addMeasurements(measurements, numbers, { label, mergeKey } = {}) {
      this.keepNumbers(numbers);
      saving.begin('import');
      const [first, ...more] = measurements;
      this.change(
        { type: 'addMeasurements', measurements },
        label ?? `import ${first.name}${more.length > 0 ? ` and ${more.length} more` : ''}`,
        mergeKey,
      );
    },
    keepNumbers(numbers) {
      const fresh = new Map([...numbers].filter(([id]) => !samples.has(id)));
      for (const [id, one] of fresh) saving.keepMeasurement(id, one);
      if (fresh.size > 0) takeSamples(fresh);
    },
    samples: (id) => samples.get(id),
    allSamples: () => samples,
    async designSamples() {
      await loadSamples(store.getState().design.measurements);
      return samples;
    },
    loadSamples,
    resolveConflict: saving.resolveConflict,
    open() {
      predictor = world.createPredictor({
        onCurves: ({ prediction, computeMs }) =>
          setState({ prediction, computeMs, predictionFailure: null }),
        onVerdicts: takeVerdicts,
        onFailure: (predictionFailure) => setState({ predictionFailure }),
      });
      for (const [id, numbers] of samples) predictor.load(id, numbers);
      const closeSaving = saving.open();
      if (isHere(project.document)) repredict();
      else void loadMeasurements(project.document);
      // A pin whose state can't be had is no reason not to work.
      void showPin(project.pinnedRevision, newestPin).catch(() => undefined);
      return () => {
        clearTimeout(studyTimer);
        clearTimeout(loadTimer);
        closeSaving();
        predictor?.close();
        predictor = null;
      };
    },
  };
}

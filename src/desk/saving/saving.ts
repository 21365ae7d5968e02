import type { StoreApi } from 'zustand/vanilla';
import { applyChange } from '@/core/editing/applyChange';
import type { Annotation, Figures, SaveNote, VersionSummary, WorkDone } from '@/core/log/log';
import type { StoredProject } from '@/core/log/project';
import { readDesign } from '@/core/document/readDesign';
import { isSameDesign } from '@/core/document/sameDesign';
import { numberIds, type Design } from '@/core/document/schema';
import type { Samples } from '@/core/measurement/samples';
import { ProblemError, type Problem } from '@/core/problem';
import { figuresOf } from '@/core/promises/figuresOf';
import { cutText } from '@/core/text';
import { createAnnotations, type Annotations } from './annotations';
import { createAutosave, type Autosave, type RefusedMeasurement, type Sendable } from './autosave';
import type { DeskWorld } from '@/desk/world';
import type { DeskState } from '@/desk/deskState';
import type { Outbox } from './outbox';

/** Messages between tabs on the same project. */
type FromOtherTab =
  | { readonly kind: 'saved'; readonly revision: number; readonly document: Design }
  | { readonly kind: 'annotated' };

interface SavingContext {
  readonly project: StoredProject;
  readonly world: Pick<DeskWorld, 'api' | 'createOutbox' | 'createChannel'>;
  readonly store: StoreApi<DeskState>;
  /** Numbers that are here. */
  readonly samples: ReadonlyMap<string, Samples>;
  /** Puts a document on the desk as a step. */
  readonly edit: (design: Design, label: string) => void;
  /** Puts it there without one. */
  readonly show: (design: Design) => void;
}

/** A version that is asked for; each one is another, whatever its reason. */
interface Beginning {
  readonly reason: NonNullable<SaveNote['begins']>;
}

/** How the open design gets to the server, and back from where an earlier visit left it. */
interface Saving {
  /** A document is on the desk that the server does not have. */
  readonly changed: (design: Design, label: string) => void;
  /** The next save begins a version. */
  readonly begin: (reason: Beginning['reason']) => void;
  /** New numbers, which the server gets before the document that names them. */
  readonly keepMeasurement: (id: string, samples: Samples) => void;
  /** Numbers that only this browser has. */
  readonly findMeasurement: (id: string) => Promise<Samples | null>;
  readonly annotate: (version: VersionSummary, set: Annotation) => void;
  readonly resolveAnnotation: (number: number, how: 'mine' | 'theirs' | 'both') => void;
  readonly resolveConflict: (how: 'mine' | 'theirs' | 'both') => Promise<void>;
  readonly flush: () => Promise<void>;
  readonly revision: () => number;
  readonly open: () => () => void;
}

export function createSaving({
  project,
  world,
  store,
  samples,
  edit,
  show,
}: SavingContext): Saving {
  const { id: projectId } = project;
  const { getState, setState } = store;
  /** Measurements that the server may not have. */
  const unsent = new Set<string>();
  /** Why the server does not take some of them, until the page is opened anew. */
  const refusals = new Map<string, Problem>();
  let outbox: Outbox | null = null;
  let autosave: Autosave | null = null;
  let annotations: Annotations | null = null;
  let channel: ReturnType<DeskWorld['createChannel']> | null = null;
  /** Set when the next save shall begin a version; `sent` is what the save under way says of it. */
  let begins: Beginning | null = null;
  let sent: Beginning | null = null;
  /** A state on its way without figures, and the one that was saved last, until it has them. */
  let figureless: Design | null = null;
  let saved: { readonly document: Design; readonly revision: number } | null = null;
  /** What was done since the last save, each once. */
  const unsaved = new Set<string>();

  const workDone = (): WorkDone => ({
    label: cutText([...unsaved].join(', '), 120),
    begins: begins?.reason ?? null,
  });

  /** Figures of a state, once it was worked out. */
  function figuresFor(document: Design): Figures | null {
    const { predictedDesign, prediction, judged } = getState();
    return prediction !== null && predictedDesign === document
      ? figuresOf(prediction, judged)
      : null;
  }

  function noteFor(document: Design): SaveNote {
    sent = begins;
    const figures = figuresFor(document);
    figureless = figures === null ? document : null;
    return { ...workDone(), figures };
  }

  /** Sends the figures of a state that was saved before they were worked out. */
  function followUp(): void {
    const figures = saved && figuresFor(saved.document);
    if (!saved || !figures) return;
    const { revision } = saved;
    saved = null;
    // The log works them out again when the version is looked at.
    void world.api.setLateFigures(projectId, revision, figures).catch(() => undefined);
  }

  /**
   * Sends what the server lacks of the measurements; what it refuses is left out, so that all else
   * is saved.
   */
  async function prepare(design: Design): Promise<Sendable> {
    const refused: RefusedMeasurement[] = [];
    for (const measurement of design.measurements) {
      const reason = await refusalOf(numberIds(measurement));
      if (!reason) continue;
      const { id, name, origin } = measurement;
      refused.push({ id, name, fileName: origin.fileName, problem: reason });
    }
    const document = refused.reduce(
      (rest, { id }) => applyChange(rest, { type: 'removeMeasurement', id }),
      design,
    );
    return { document, refused };
  }

  async function refusalOf(ids: readonly string[]): Promise<Problem | null> {
    for (const id of ids) {
      const known = refusals.get(id);
      if (known) return known;
      const numbers = samples.get(id);
      if (!unsent.has(id) || !numbers) continue;
      try {
        await world.api.storeMeasurement(id, numbers);
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        refusals.set(id, error.problem);
        return error.problem;
      }
      unsent.delete(id);
      // The server has them: what is left in the browser does no harm.
      await outbox?.dropMeasurement(id).catch(() => undefined);
    }
    return null;
  }

  function heard(message: FromOtherTab): void {
    if (message.kind === 'annotated')
      setState(({ annotatedElsewhere }) => ({ annotatedElsewhere: annotatedElsewhere + 1 }));
    else if (autosave?.isClean()) {
      autosave.rebase(message.revision);
      edit(message.document, 'change from another tab');
    }
  }

  /** @param caughtUp what an earlier visit left is known, and so is the chain that goes on */
  function startAutosave(box: Outbox, revision: number, caughtUp: () => Promise<void>): Autosave {
    return createAutosave({
      projectId,
      revision,
      outbox: box,
      prepare: async (design) => {
        await caughtUp();
        return prepare(design);
      },
      save: world.api.saveProject,
      onState: (save) => setState({ save }),
      workDone,
      noteFor,
      onSaved: (newRevision, document, stored) => {
        // What came while the save was on its way belongs to the next one.
        if (begins === sent) begins = null;
        if (getState().design === document) unsaved.clear();
        saved = figureless === document ? { document, revision: newRevision } : null;
        followUp();
        channel?.postMessage({
          kind: 'saved',
          revision: newRevision,
          document: stored,
        } satisfies FromOtherTab);
      },
    });
  }

  function startAnnotations(box: Outbox): Annotations {
    return createAnnotations({
      send: (number, base, ticket, annotation) =>
        world.api.annotateVersion(projectId, number, base, ticket, annotation),
      keep: (number, pending) => box.keepAnnotation(projectId, number, pending),
      onState: (state) => setState({ annotations: state }),
      onSaved: () => channel?.postMessage({ kind: 'annotated' } satisfies FromOtherTab),
    });
  }

  /**
   * The page may come from the browser's memory, and an earlier visit may have left changes that it
   * could not save: those are taken up again. They are in conflict only when somebody else has
   * saved since: a newest state of the chain that the earlier visit sent is its own.
   */
  async function catchUp(box: Outbox, saver: Autosave): Promise<void> {
    // In this order: a visit that was left may bring its change to the server, and take it out of the
    // outbox, at any moment. The other way round it could be missing in both.
    const kept = await box.find(projectId).catch(() => null);
    const newest = await world.api.fetchProject(projectId).catch(() => project);
    // It may have been kept by an older version of this program.
    const pending = kept && {
      ...kept,
      document: readDesign(kept.document, 'kept in this browser'),
    };
    const ticket = pending?.ticket ?? null;
    const isOwn = ticket !== null && newest.lastSave?.chain === ticket.chain;
    if (pending && !isSameDesign(pending.document, newest.document)) {
      const { baseRevision, done } = pending;
      const known = done?.label ?? '';
      const label = known === '' ? 'changes kept from before' : known;
      edit(pending.document, label);
      unsaved.add(label);
      begins ??= done?.begins ? { reason: done.begins } : null;
      if (baseRevision === newest.revision || isOwn) saver.rebase(newest.revision, ticket);
      else saver.conflict(newest);
      saver.changed(pending.document);
      return;
    }
    if (pending) await box.drop(projectId, pending.ticket).catch(() => undefined);
    // What is kept may be on its way once more, from an earlier visit: what comes next is of its chain.
    if (isOwn) saver.rebase(newest.revision, ticket);
    if (newest.revision === project.revision || !saver.isClean()) return;
    if (!isOwn) saver.rebase(newest.revision);
    show(newest.document);
  }

  async function resolveConflict(how: 'mine' | 'theirs' | 'both'): Promise<void> {
    const { save, design } = getState();
    if (save.kind !== 'conflict' || !autosave || !outbox) return;
    const { theirs } = save;
    if (how === 'both') {
      const { document } = await prepare(design);
      await world.api.createProject({
        ...document,
        name: `${cutText(design.name, 60)} (from this tab)`,
      });
    }
    if (how === 'mine') {
      autosave.rebase(theirs.revision);
      autosave.changed(design);
      await autosave.flush();
      return;
    }
    // Their version becomes a step, so that undo still leads back to this tab's.
    await autosave.discard(theirs.revision);
    edit(theirs.document, 'the other version');
  }

  return {
    changed(design, label) {
      unsaved.add(label);
      autosave?.changed(design);
    },
    begin(reason) {
      begins = { reason };
    },
    keepMeasurement(id, numbers) {
      unsent.add(id);
      refusals.delete(id);
      // Numbers that the browser can't keep are still here, and sent.
      void outbox?.keepMeasurement(id, numbers).catch(() => undefined);
    },
    async findMeasurement(id) {
      const kept = (await outbox?.findMeasurement(id)) ?? null;
      if (kept) unsent.add(id);
      return kept;
    },
    annotate: (version, set) => annotations?.annotate(version, set),
    resolveAnnotation: (number, how) => annotations?.resolve(number, how),
    resolveConflict,
    flush: async () => {
      await autosave?.flush();
      await annotations?.flush();
    },
    revision: () => autosave?.revision() ?? project.revision,
    open() {
      const box = world.createOutbox();
      outbox = box;
      const wire = world.createChannel(`fair-project-${projectId}`);
      channel = wire;
      wire.onmessage = (event: MessageEvent<FromOtherTab>) => heard(event.data);
      const unfollow = store.subscribe(followUp);
      const saver = startAutosave(box, project.revision, () => caughtUp);
      const writer = startAnnotations(box);
      autosave = saver;
      annotations = writer;
      const catching = catchUp(box, saver).catch((error: unknown) => {
        if (!(error instanceof ProblemError)) throw error;
        setState({ save: { kind: 'refused', problem: error.problem } });
      });
      // Whatever came of it, saving goes on; a fault of the program is told as such.
      const caughtUp = new Promise<void>((go) => void catching.finally(go));
      void box.findAnnotations(projectId).then((kept) => writer.takeUp(kept));
      return () => {
        wire.onmessage = null;
        unfollow();
        writer.leave();
        void saver.leave().finally(() => wire.close());
      };
    },
  };
}

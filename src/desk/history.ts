import type { Design } from '@/core/document/schema';

/** One step that can be taken back. Documents share what did not change, so a step costs little. */
interface UndoEntry {
  readonly before: Design;
  readonly after: Design;
  /** What was done, for the undo button: "set C4". */
  readonly label: string;
  /**
   * Steps with the same key that follow each other quickly are one: nudging a value is one step to
   * undo.
   */
  readonly mergeKey: string | null;
  readonly atMs: number;
}

export interface History {
  readonly undo: readonly UndoEntry[];
  readonly redo: readonly UndoEntry[];
}

export const emptyHistory: History = { undo: [], redo: [] };

/** Key of the steps of one run, such as a fit: however long it takes, it is one step to undo. */
export const runKey = (id: string): string => `run ${id}`;
const isRun = (key: string) => key.startsWith('run ');

const longestUndo = 500;
/** Steps of one key that are further apart are steps of their own. */
export const mergeWithinMs = 1200;

/** The history after a new step; what was undone before is gone. */
export function withStep({ undo }: History, step: UndoEntry): History {
  const last = undo.at(-1);
  const joins =
    last !== undefined &&
    step.mergeKey !== null &&
    last.mergeKey === step.mergeKey &&
    (isRun(step.mergeKey) || step.atMs - last.atMs < mergeWithinMs);
  const next = joins ? [...undo.slice(0, -1), { ...step, before: last.before }] : [...undo, step];
  return { undo: next.slice(-longestUndo), redo: [] };
}

/** Takes the last step back; null when there is none. */
export function undone({ undo, redo }: History): { history: History; design: Design } | null {
  const step = undo.at(-1);
  return step
    ? { history: { undo: undo.slice(0, -1), redo: [...redo, step] }, design: step.before }
    : null;
}

/** Does the last undone step again; null when there is none. */
export function redone({ undo, redo }: History): { history: History; design: Design } | null {
  const step = redo.at(-1);
  return step
    ? {
        history: { undo: [...undo, { ...step, mergeKey: null }], redo: redo.slice(0, -1) },
        design: step.after,
      }
    : null;
}

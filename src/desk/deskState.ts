import type { PartId, WayId } from '@/core/fields';
import type { Prediction } from '@/core/prediction/prediction';
import type { Design } from '@/core/document/schema';
import type { JudgedPromise } from '@/core/promises/judgedPromises';
import type { Outcome, Study } from '@/workers/predictorClient';
import type { AnnotationState } from '@/desk/saving/annotations';
import type { SaveState } from '@/desk/saving/autosave';
import type { History } from './history';

/** What is chosen on the network drawing. */
export type Selection =
  | { readonly kind: 'part'; readonly id: PartId }
  | { readonly kind: 'gap'; readonly wayId: WayId; readonly index: number }
  | { readonly kind: 'way'; readonly id: WayId };

export interface DeskState {
  readonly design: Design;
  readonly history: History;
  readonly save: SaveState;
  /** What is written about versions, see `annotations.ts`. */
  readonly annotations: AnnotationState;
  /** Rises when another tab has written about a version. */
  readonly annotatedElsewhere: number;
  readonly prediction: Prediction | null;
  /** The promises, judged by the prediction. */
  readonly judged: readonly JudgedPromise[];
  /** The document that prediction and judged belong to. */
  readonly predictedDesign: Design | null;
  /**
   * What the brief means and what acts on broken promises; follows a moment after the hand rests.
   */
  readonly study: Study | null;
  /** Time the worker took for the last prediction. */
  readonly computeMs: number | null;
  readonly predictionFailure: string | null;
  /** Measurements whose numbers are here. */
  readonly loaded: ReadonlySet<string>;
  /** Why measurements could not be loaded; they are asked for again. */
  readonly loadTrouble: string | null;
  /** Session state: never saved, never undone. */
  readonly selection: Selection | null;
  readonly bypassedPartId: PartId | null;
  /** By stage, where it was folded or unfolded by hand. */
  readonly shelfFolds: Readonly<Record<string, boolean>>;
  /** State that the others are compared with. */
  readonly pinned: Pinned | null;
  /** Whether the pinned state is shown in the place of the present one. */
  readonly isFlipped: boolean;
  /** A document that is only looked at, in the place of the present one. */
  readonly preview: Preview | null;
}

interface Preview extends Outcome {
  readonly design: Design;
}

/** A saved state with its curves and verdicts. */
interface Pinned extends Preview {
  readonly revision: number;
}

/**
 * What is before the eye: the pinned state while it is held, what is only looked at, else the
 * present one.
 */
export const shownOf = ({
  isFlipped,
  pinned,
  preview,
  design,
  prediction,
  judged,
}: DeskState): Pick<DeskState, 'design' | 'prediction' | 'judged'> =>
  isFlipped && pinned ? pinned : (preview ?? { design, prediction, judged });

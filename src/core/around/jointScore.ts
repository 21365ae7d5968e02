import type { Design } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import type { PartSetting } from '@/core/editing/change';
import { createFitter, settingsOf, type FitEffort } from '@/core/fitting/fit';
import { goalOf, type Goal, type Limit } from '@/core/fitting/goal';
import { createFitInputs } from '@/core/fitting/inputs';
import { createFitModel, roundingDb } from '@/core/fitting/model';
import { withSomeFree } from '@/core/fitting/tradeOff';
import { variablesOf } from '@/core/fitting/variables';
import { designGridHz, logGrid } from '@/core/grid/logGrid';
import { layoutFaults } from '@/core/layout/faults';
import type { MeasurementData } from '@/core/measurement/samples';
import { meritOf } from '@/core/search/minimax';
import { type JointWish, jointVariables, jointLayout } from './jointLayout';

/** How good a layout is with its network fitted to it, ± dB. */
export interface JointScore {
  readonly axisDb: number;
  readonly windowDb: number;
  /** Directivity index off a straight line; null where it was not worked out. */
  readonly directivityDb: number | null;
  /** What is made small: axis + window + half of the directivity, and limits that are exceeded. */
  readonly merit: number;
  /** Promises that it breaks. */
  readonly brokenCount: number;
  readonly values: ReadonlyMap<string, PartSetting>;
  readonly logValues: Float64Array;
}

/** A layout to be judged: its dimensions, and the network that its own is fitted from. */
export interface JointTask {
  readonly point: Float64Array;
  readonly from: Float64Array | null;
  /** Without the sphere, on a coarser grid; or all of it. */
  readonly isQuick: boolean;
}

export type ScoreAll = (tasks: readonly JointTask[]) => Promise<readonly (JointScore | null)[]>;

const quickEffort: FitEffort = { valley: 0, greatest: 14, settledAt: 2e-3 };
const wholeEffort: FitEffort = { valley: 20, greatest: 40, settledAt: 5e-4 };

/** Penalties per decibel by which window and directivity count beside the axis. */
const shares = { window: 1, directivity: 0.5 };
/** Rate of a limit of weight 1, as the fit has it. */
const rate = 3;

/** What is made small besides: of window and directivity each decibel counts, met limits or not. */
function jointGoal(design: Design, hasDirectivity: boolean): Goal {
  const asked = goalOf(design);
  const free = { promiseId: null, withinDb: 0, band: asked.onAxis.band };
  // What is promised stays a limit; what takes the sphere waits for the whole look.
  const others = asked.limits.filter(
    ({ kind }) => hasDirectivity || (kind !== 'straight' && kind !== 'index-slope'),
  );
  const more: Limit[] = [
    { ...free, kind: 'window', weight: shares.window / rate },
    ...(hasDirectivity
      ? [
          {
            ...free,
            ...({
              kind: 'straight',
              of: 'directivity',
              weight: shares.directivity / rate,
            } as const),
          },
        ]
      : []),
  ];
  return { ...asked, limits: [...others, ...more] };
}

/** Judges layouts one after the other; what edges do is kept from one to the next. */
export function createJointScorer(given: Design, data: MeasurementData, wish: JointWish) {
  const design = withSomeFree(given);
  const variables = jointVariables(design, wish);
  const quick = createFitInputs(logGrid(60, 16_000, 10));
  // As designs are judged, so that what is told kept is kept.
  const whole = createFitInputs(designGridHz());
  /** @returns null where the layout can't be built, or nothing is known off the axis */
  return ({ point, from, isQuick }: JointTask): JointScore | null => {
    const laidOut = applyChange(design, jointLayout(design, wish.panelId, variables, point));
    const stops = layoutFaults(laidOut).filter(({ severity }) => severity === 'stops');
    const before = layoutFaults(design).filter(({ severity }) => severity === 'stops');
    if (stops.length > before.length) return null;
    const network = variablesOf(laidOut);
    const fitter = createFitter(
      createFitModel(laidOut, data, jointGoal(laidOut, !isQuick), network, isQuick ? quick : whole),
    );
    const { model } = fitter;
    const effort = isQuick ? quickEffort : wholeEffort;
    // From where it was told to, or from the network as it is and from its valley, whichever ends better.
    const starts = from ? [from] : [model.start, fitter.valley(model.start, wholeEffort)];
    const { logValues, merit } = starts
      .map((start) => fitter.settle(start, effort, model))
      .reduce((a, b) => (b.merit < a.merit || !Number.isFinite(a.merit) ? b : a));
    if (!Number.isFinite(merit)) return null;
    model.evaluate(logValues, false);
    const figures = model.figures();
    if (figures.windowDb === null) return null;
    const excesses = model.excesses();
    return {
      axisDb: figures.deviationDb,
      windowDb: figures.windowDb,
      directivityDb: isQuick ? null : figures.directivityDb,
      merit: meritOf(model),
      brokenCount: excesses.filter(
        (excess, k) => model.limits[k].limit.promiseId !== null && excess > roundingDb,
      ).length,
      values: settingsOf(network, logValues),
      logValues,
    };
  };
}

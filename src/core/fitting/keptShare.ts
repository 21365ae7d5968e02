import { partsOf, type Design } from '@/core/document/schema';
import type { MeasurementData } from '@/core/measurement/samples';
import { seeded } from '@/core/spectrum/noise';
import type { Goal } from './goal';
import type { FitInputs } from './inputs';
import { createFitModel, roundingDb, type FitModel } from './model';
import { variablesOf } from './variables';

/** Builds that are drawn; their share is then known to within 5 % or so. */
const usualDraws = 100;

/**
 * Share of builds that keep every promise which the design keeps, when each part lies somewhere
 * within the tolerance of the goal, all values equally likely. Promises that no network
 * moves are not counted.
 *
 * @param inputs of the drivers, on the grid on which builds are judged
 * @returns 0 to 1; null without a tolerance, or where nothing can be solved
 */
export function keptShare(
  design: Design,
  data: MeasurementData,
  goal: Goal,
  inputs: FitInputs,
  draws = usualDraws,
): number | null {
  if (goal.tolerance === 0 || partsOf(design).every(({ isOff }) => isOff)) return null;
  const scattering = withAllApart(design);
  const model = createFitModel(scattering, data, goal, variablesOf(scattering), inputs);
  const { uniform } = seeded(1);
  const isKeptNow = keptOf(model, model.start, goal);
  if (!isKeptNow) return null;
  const logValues = new Float64Array(model.start.length);
  let kept = 0;
  for (let draw = 0; draw < draws; draw++) {
    for (let v = 0; v < logValues.length; v++)
      logValues[v] = model.start[v] + Math.log(1 + goal.tolerance * (2 * uniform() - 1));
    const isKept = keptOf(model, logValues, goal);
    if (isKept?.every((one, k) => one || !isKeptNow[k])) kept++;
  }
  return kept / draws;
}

/** Which promises are kept: the response on axis, then the limits in their order. */
function keptOf(model: FitModel, logValues: Float64Array, goal: Goal): boolean[] | null {
  model.evaluate(logValues, false);
  const { deviationDb } = model.figures();
  if (!Number.isFinite(deviationDb)) return null;
  const excesses = model.excesses();
  return [
    goal.onAxisWithinDb === null || deviationDb <= goal.onAxisWithinDb,
    ...model.limits.map(({ limit }, k) => limit.promiseId === null || excesses[k] <= roundingDb),
  ];
}

/** The design with every part a value of its own: pieces of one kind scatter by themselves. */
function withAllApart(design: Design): Design {
  const apart = <P extends { readonly fit: Design['bridges'][number]['part']['fit'] }>(
    part: P,
  ): P => ({
    ...part,
    isLocked: false,
    fit: { isFree: true, lowest: null, highest: null, tie: null },
  });
  return {
    ...design,
    ways: design.ways.map((way) => ({ ...way, parts: way.parts.map(apart) })),
    bridges: design.bridges.map((bridge) => ({ ...bridge, part: apart(bridge.part) })),
  };
}

import { isAtItsEnd } from '@/core/filters/grammar';
import type { SearchLimits } from '@/core/fitting/limits';
import type { FoundNetwork } from './found';
/** A limit on cost or heat counts as kept when rounding to real values may still mend it. */
const slack = 1.02;

const keepsWithin = ({ mostOutlay, mostWatts }: SearchLimits, { figures }: FoundNetwork): boolean =>
  (mostOutlay === null || figures.outlay <= mostOutlay * slack) &&
  (mostWatts === null || (figures.hottestWatts ?? 0) <= mostWatts * slack);

/** How many promises a network breaks; a driver that nobody hears is one more. */
export const brokenCountOf = ({ report, figures }: FoundNetwork): number =>
  report
    ? report.promises.filter(({ isKept }) => isKept === false).length + report.mute.length
    : figures.brokenCount;

/**
 * Networks that nothing simpler or as simple beats: one goes when another with no more parts and no
 * more broken promises has less error, on axis and in all, and neither costs nor scatters more than a
 * little more.
 * Where finished ones keep all, only those; else those that break fewer promises first. Then those of
 * which nine of ten builds keep what they keep, then those of less error.
 */
export function listed(found: readonly FoundNetwork[], limits: SearchLimits): FoundNetwork[] {
  const fit = found.filter(
    (one) =>
      keepsWithin(limits, one) &&
      one.hasIdlePart === undefined &&
      !one.ways.some(({ parts }) => parts.some(isAtItsEnd)),
  );
  const beats = (a: FoundNetwork, b: FoundNetwork): boolean =>
    a.partCount <= b.partCount &&
    brokenCountOf(a) <= brokenCountOf(b) &&
    a.figures.errorDb <= b.figures.errorDb + nearlyDb &&
    a.figures.deviationDb <= b.figures.deviationDb + nearlyDb &&
    (a.partCount < b.partCount ||
      (a.figures.outlay <= b.figures.outlay * nearly && a.scatterDb <= b.scatterDb * nearly)) &&
    rank(a) < rank(b);
  const places = new Map(
    [...fit]
      .sort((a, b) => a.partCount - b.partCount || a.merit - b.merit)
      .map((one, i) => [one, i]),
  );
  const rank = (one: FoundNetwork) => places.get(one)!;
  // Where something keeps all, what does not is no proposal.
  const isAnyWhole = fit.some((one) => one.report !== null && brokenCountOf(one) === 0);
  return fit
    .filter((one) => !isAnyWhole || one.report === null || brokenCountOf(one) === 0)
    .filter((one) => !fit.some((other) => beats(other, one)))
    .sort(
      (a, b) =>
        brokenCountOf(a) - brokenCountOf(b) ||
        Number(isSure(b)) - Number(isSure(a)) ||
        a.figures.errorDb - b.figures.errorDb,
    );
}

/** Whether nine of ten builds from parts within the tolerance keep what it keeps. */
const isSure = ({ keptShare }: FoundNetwork): boolean => keptShare !== null && keptShare >= 0.9;

/** Differences that nobody would choose by. */
const nearlyDb = 0.01;
const nearly = 1.05;

/**
 * The networks that one would look at, of the stages that are over.
 *
 * @param isOver whether the search is: where values that one can have were asked for, others are no
 *   answer then
 */
export function bestSoFar(
  before: readonly (readonly FoundNetwork[])[],
  limits: SearchLimits,
  isOver = false,
): FoundNetwork[] {
  const all = before.flat();
  const ended = all.filter((one) => one.report !== null && one.hasIdlePart === undefined);
  const ofStock = ended.filter(({ isOfStock }) => isOfStock);
  if (isOver && limits.stock) return listed(ofStock, limits);
  const last = [ofStock, ended, all].find((some) => some.length > 0) ?? [];
  return listed(last, limits);
}

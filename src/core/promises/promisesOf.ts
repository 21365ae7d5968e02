import { outsideLitresOf } from '@/core/cabinet/netVolume';
import { seatOf } from '@/core/brief/answers';
import { sheetLoadsAtLoudness } from '@/core/brief/asked';
import { crossingLimitsOf } from '@/core/brief/crossing';
import type { Brief, PromiseEntry, PromiseKind, Yielding } from '@/core/document/briefSchema';
import { quadratureOf } from '@/core/document/meantPhase';
import { driveVoltsOf } from '@/core/document/programme';
import { seatsOf } from '@/core/document/seats';
import { differInPartsAlone, type DesignWithoutParts } from '@/core/document/withoutParts';
import type { Derived } from './kinds/kind';
import { kinds, kindsInOrder } from './kinds/kinds';
import type { Conditions, DesignPromise } from './promise';

/**
 * All promises of a design: those that follow from its brief, as adjusted by hand, and those made
 * by hand. Promises that were switched off are left out.
 */
export function promisesOf(design: DesignWithoutParts): readonly DesignPromise[] {
  if (last && differInPartsAlone(last.design, design)) return last.promises;
  last = { design, promises: made(design) };
  return last.promises;
}

/** A nudge of a part asks for all promises again, and they do not depend on parts. */
let last: {
  readonly design: DesignWithoutParts;
  readonly promises: readonly DesignPromise[];
} | null = null;

function made(design: DesignWithoutParts): DesignPromise[] {
  const conditions = conditionsOf(design);
  const derived = derive(design).flatMap((follows): DesignPromise[] => {
    const entry = design.promises.find(({ id }) => id === follows.kind);
    return entry?.isOff ? [] : [fromBrief(follows, entry, design, conditions)];
  });
  const known = new Set<string>(derivedKinds(design));
  const own = design.promises.filter(({ id, isOff }) => !known.has(id) && !isOff);
  return [...derived, ...own.map((entry) => byHand(entry, conditions))];
}

/** Kinds of promises that follow from the brief, switched off or not. */
export const derivedKinds = (design: DesignWithoutParts): PromiseKind[] =>
  derive(design).map(({ kind }) => kind);

function fromBrief(
  { kind, limit, answers, arithmetic, yields }: FollowingPromise,
  entry: PromiseEntry | undefined,
  design: DesignWithoutParts,
  conditions: Conditions,
): DesignPromise {
  const { side } = kinds[kind];
  const hasLimit = entry !== undefined && (entry.atLeast !== null || entry.atMost !== null);
  const usual = { atLeast: null, atMost: null, [side]: roundedLimit(kind, limit) };
  const { atLeast, atMost } = hasLimit ? entry : usual;
  return {
    id: kind,
    kind,
    atLeast,
    atMost,
    band: bandOf(kind, entry, conditions),
    angle: null,
    weight: entry?.weight ?? weightOf(design.brief, yields),
    source: { answers, arithmetic, isAdjusted: entry !== undefined },
    conditions,
  };
}

/** A limit with as many decimals as its figure is told with, rounded to the safe side. */
function roundedLimit(kind: PromiseKind, limit: number): number {
  const { side, decimals } = kinds[kind];
  const unit = 10 ** -decimals;
  const steps =
    side === 'atLeast' ? Math.ceil(limit / unit - 1e-9) : Math.floor(limit / unit + 1e-9);
  return Number((steps * unit).toFixed(decimals));
}

function byHand(entry: PromiseEntry, conditions: Conditions): DesignPromise {
  const { side, usual } = kinds[entry.kind];
  const hasLimit = entry.atLeast !== null || entry.atMost !== null;
  return {
    id: entry.id,
    kind: entry.kind,
    ...(hasLimit
      ? { atLeast: entry.atLeast, atMost: entry.atMost }
      : { atLeast: null, atMost: null, [side]: usual }),
    band: bandOf(entry.kind, entry, conditions),
    angle: entry.angle,
    weight: entry.weight ?? 3,
    source: { answers: [], arithmetic: 'Made by hand.', isAdjusted: false },
    conditions,
  };
}

function bandOf(kind: PromiseKind, entry: PromiseEntry | undefined, { target }: Conditions) {
  if (!kinds[kind].hasBand) return null;
  return { fromHz: entry?.fromHz ?? target.fromHz, toHz: entry?.toHz ?? target.toHz };
}

/** What gives way first weighs 1, what gives way last or never 5; what was not ranked weighs 3. */
function weightOf({ givesWay }: Brief, yields: Yielding | null): number {
  if (yields === null) return 5;
  const place = givesWay.indexOf(yields);
  return place < 0 ? 3 : 1 + Math.round((4 * place) / Math.max(1, givesWay.length - 1));
}

/** What the promises of a design are judged under. */
export function conditionsOf(design: DesignWithoutParts): Conditions {
  return {
    target: design.target,
    amplifier: design.amplifier,
    seat: seatOf(design, 'farthest'),
    seats: seatsOf(design),
    quadrature: quadratureOf(design),
    targets: design.ways.flatMap(({ id, target }) =>
      target ? [{ wayId: id, slopes: target }] : [],
    ),
    crossingLimits: crossingLimitsOf(design),
    drivers: design.drivers,
    driveVolts: driveVoltsOf(design),
    outsideLitres: outsideLitresOf(design.boxes),
    loudnessDb: design.brief.loudnessDb,
    sheetLoads: sheetLoadsAtLoudness(design),
  };
}

interface FollowingPromise extends Derived {
  readonly kind: PromiseKind;
}

const derive = (design: DesignWithoutParts): FollowingPromise[] =>
  kindsInOrder.flatMap((kind) => {
    const derived = kinds[kind].derive?.(design);
    return derived ? [{ kind, ...derived }] : [];
  });

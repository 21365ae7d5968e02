import { seatLevelDb, sensitivityVolts } from '@/core/brief/arithmetic';
import type { PromiseKind } from '@/core/design/briefSchema';
import {
  deviationDb,
  lowestEquivalentOhms,
  lowestOhms,
  meanLevelDb,
  phaseTrackingDeg,
  reachHz,
  sensitivityBand,
} from '@/core/design/figures';
import type { Prediction } from '@/core/design/prediction';
import { kinds } from './kinds';
import type { DesignPromise } from './promise';

/** How a promise stands. */
export interface Verdict {
  readonly promiseId: string;
  readonly kind: PromiseKind;
  readonly value: number | null;
  /** What is missing while there is no value: "needs drivers". */
  readonly needs: string | null;
  /** Distance to the nearer limit in the promise's unit, positive while it is kept. */
  readonly margin: number | null;
  readonly isKept: boolean | null;
  /** Where the value was found. */
  readonly atHz: number | null;
}

type Found = { readonly value: number; readonly atHz?: number | null } | { readonly needs: string };

/** Judges each promise by the curves of a prediction. Pure: the same curves, the same verdicts. */
export function judge(
  prediction: Prediction | null,
  promises: readonly DesignPromise[],
): Verdict[] {
  return promises.map((promise) => {
    const found = measure(prediction, promise);
    const base = { promiseId: promise.id, kind: promise.kind };
    if ('needs' in found)
      return { ...base, value: null, needs: found.needs, margin: null, isKept: null, atHz: null };
    const { value, atHz = null } = found;
    const margin = Math.min(
      promise.atMost === null ? Infinity : promise.atMost - value,
      promise.atLeast === null ? Infinity : value - promise.atLeast,
    );
    return {
      ...base,
      value,
      needs: null,
      margin: Number.isFinite(margin) ? margin : null,
      // A limit that is met to rounding is met.
      isKept: margin >= -1e-9,
      atHz,
    };
  });
}

const needsDrivers: Found = { needs: 'drivers' };
const needsNetwork: Found = { needs: 'a network with drivers' };

function measure(prediction: Prediction | null, promise: DesignPromise): Found {
  const { waitsFor } = kinds[promise.kind];
  if (waitsFor) return { needs: waitsFor };
  if (promise.kind === 'travel') {
    const { travel } = promise.conditions;
    return travel
      ? { value: travel.allowedMm / travel.neededMm, atHz: travel.atHz }
      : { needs: 'loudness, reach and the woofer’s data sheet' };
  }
  if (!prediction || prediction.ways.length === 0) return needsDrivers;
  if (promise.kind === 'lowest-impedance') return lowestOhms(prediction) ?? needsNetwork;
  if (promise.kind === 'equivalent-resistance')
    return lowestEquivalentOhms(prediction) ?? needsNetwork;
  return measureSum(prediction, promise);
}

function measureSum(prediction: Prediction, { kind, conditions, band }: DesignPromise): Found {
  const { frequencyHz, sum } = prediction;
  if (!sum) return needsDrivers;
  const { target, volts, seat } = conditions;
  const sensitivity = () => {
    const mean = meanLevelDb(frequencyHz, sum.levelDb, sensitivityBand);
    return mean === null ? null : mean - 20 * Math.log10(volts / sensitivityVolts);
  };
  const noLevel: Found = { needs: 'a response in this band' };
  switch (kind) {
    case 'on-axis':
      return deviationDb(frequencyHz, sum.levelDb, target, band ?? target) ?? noLevel;
    case 'reach-3':
    case 'reach-10': {
      const value = reachHz(frequencyHz, sum.levelDb, kind === 'reach-3' ? 3 : 10);
      return value === null ? noLevel : { value, atHz: value };
    }
    case 'sensitivity': {
      const value = sensitivity();
      return value === null ? noLevel : { value };
    }
    case 'seat-level': {
      if (!seat) return { needs: 'seats and amplifier power' };
      const db = sensitivity();
      return db === null ? noLevel : { value: seatLevelDb(db, seat) };
    }
    case 'phase-tracking':
      return phaseTrackingDeg(prediction) ?? { needs: 'two ways that hand over' };
    default:
      throw new Error(`judge: nothing measures ${kind}`);
  }
}

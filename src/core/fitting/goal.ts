import type { WayId } from '@/core/fields';
import { seatLevelDb, voltsForLevel } from '@/core/brief/arithmetic';
import type { CrossingLimits } from '@/core/brief/crossing';
import type { Target } from '@/core/document/briefSchema';
import type { Quadrature } from '@/core/document/meantPhase';
import type { Design, Driver, WayTarget } from '@/core/document/schema';
import { seatsOf } from '@/core/document/seats';
import { overSensitivityVolts, type Band } from '@/core/prediction/figures';
import type { DesignPromise } from '@/core/promises/promise';
import { promisesOf } from '@/core/promises/promisesOf';
import { noPartLimits, type PartLimits, type PriceRates } from './limits';

/** Something that a fit keeps within, each kind with what it needs. */
export type Limit = {
  /** The promise that it is; null for what is asked beside the promises. */
  readonly promiseId: string | null;
  /** 1 for a promise of middling weight. */
  readonly weight: number;
} & (
  | { readonly kind: 'load' | 'equivalent'; readonly leastOhms: number }
  | { readonly kind: 'crossover-loss'; readonly mostDb: number; readonly quadrature: Quadrature }
  /** Mean level in the middle, at the terminals (a sensitivity) or at the source. */
  | { readonly kind: 'level'; readonly leastDb: number; readonly at: 'terminals' | 'source' }
  | { readonly kind: 'cut-off'; readonly fallDb: number; readonly mostHz: number }
  /** Rated power over what is borne; null volts for the voltage of the largest rating. */
  | {
      readonly kind: 'driver-power';
      readonly least: number;
      readonly driveVolts: number | null;
      readonly drivers: readonly Driver[];
    }
  /**
   * Xmax over what is borne: at the voltage that a level takes, which is this one at a mean level
   * of 0 dB and falls with it; or at the drive.
   */
  | {
      readonly kind: 'excursion';
      readonly least: number;
      readonly voltsAtZeroDb: number | null;
      readonly driveVolts: number | null;
      readonly drivers: readonly Driver[];
    }
  /** Attenuation at the resonances over what the drivers need, dB. */
  | { readonly kind: 'resonance'; readonly leastDb: number }
  /** Octaves by which a crossover may lie above where the lower driver beams or lobes. */
  | {
      readonly kind: 'crossover-place';
      readonly mostOctaves: number;
      readonly limits: CrossingLimits;
    }
  /** Octaves that stay free above the resonance of a tweeter. */
  | { readonly kind: 'crossover-floor'; readonly leastOctaves: number }
  | {
      readonly kind: 'target-slopes';
      readonly mostDb: number;
      readonly ways: readonly { readonly wayId: WayId; readonly target: WayTarget }[];
      readonly band: Band;
    }
  /** The response on axis, which is made small besides: nothing more is asked within this. */
  | { readonly kind: 'on-axis'; readonly withinDb: number }
  | { readonly kind: 'window'; readonly withinDb: number; readonly band: Band }
  /** Off a straight line whose slope is free. */
  | {
      readonly kind: 'straight';
      readonly of: 'directivity' | 'sound-power' | 'in-room';
      readonly withinDb: number;
      readonly band: Band;
    }
  /** Slope of the directivity index, dB per octave. */
  | {
      readonly kind: 'index-slope';
      readonly least: number | null;
      readonly most: number | null;
      readonly band: Band;
    }
  /** At seats, or in a direction, each against the target. */
  | {
      readonly kind: 'places';
      readonly ids: readonly string[];
      readonly withinDb: number;
      readonly band: Band;
    }
  /**
   * Under the band of the target the response may stray by this much from what the lowest driver
   * does by itself, or from its mean, whichever is further.
   */
  | { readonly kind: 'lows'; readonly fromHz: number; readonly withinDb: number }
  /** Heat of any resistor under programme at the amplifier's power, watts. */
  | { readonly kind: 'heat'; readonly mostWatts: number }
  | { readonly kind: 'outlay'; readonly most: number; readonly rates: PriceRates }
);

export type LimitOf<K extends Limit['kind']> = Extract<Limit, { readonly kind: K }>;

/** What a fit works toward: the response on axis as near to its target as the limits allow. */
export interface Goal {
  readonly onAxis: { readonly target: Target; readonly band: Band };
  /** What the response on axis was promised to stay within; null when nobody promised. */
  readonly onAxisWithinDb: number | null;
  readonly limits: readonly Limit[];
  /** Tolerance of the parts to which promised limits keep a reserve: 0.05 for ±5 %; 0 for none. */
  readonly tolerance: number;
  /** Prices by which parts are told. */
  readonly rates: PriceRates;
}

/** Weight 1 to 5 of a promise as a factor: 3 counts once, 5 three times, 1 a third. */
const factorOf = (weight: number) => 3 ** ((weight - 3) / 2);

/**
 * How far inside its limit a fit stays, so that what is stored or printed with fewer digits still
 * keeps it: of ratios and ohms this share, of decibels this much.
 */
const reserve = { share: 5e-4, db: 5e-3 };
const above = (least: number) => least * (1 + reserve.share);
const below = (most: number) => most * (1 - reserve.share);

/**
 * Under the band of the target the box decides, but a network that ruins it is no answer. Nobody
 * promised that: it gives way before anything that was.
 */
const lows = { withinDb: 2.5, weight: 0.1 };

/**
 * What the promises of a design ask of its network. Without any, a response as near to its target
 * as can be.
 */
export function goalOf(
  design: Design,
  { mostWatts, mostOutlay, rates, tolerance }: PartLimits = noPartLimits,
): Goal {
  const promises = promisesOf(design);
  const { target, brief } = design;
  const onAxis = promises.find(({ kind }) => kind === 'on-axis');
  const beside = { promiseId: null, weight: 1 };
  const asked: Limit[] = [
    {
      promiseId: null,
      kind: 'lows',
      fromHz: 1.3 * (brief.reach3Hz ?? target.fromHz / 3),
      ...lows,
    },
  ];
  if (mostWatts !== null) asked.push({ ...beside, kind: 'heat', mostWatts });
  if (mostOutlay !== null) asked.push({ ...beside, kind: 'outlay', most: mostOutlay, rates });
  return {
    onAxis: { target, band: onAxis?.band ?? { fromHz: target.fromHz, toHz: target.toHz } },
    onAxisWithinDb: onAxis?.atMost ?? null,
    limits: [...promises.flatMap((promise) => limitsFrom(promise, design)), ...asked],
    ...{ rates, tolerance },
  };
}

/** Limits on the side of a promise that its network can move. */
function limitsFrom(promise: DesignPromise, design: Design): Limit[] {
  const { id, kind, atLeast, atMost, weight, conditions } = promise;
  const base = { promiseId: id, weight: factorOf(weight) };
  const { drivers, driveVolts, seat, loudnessDb } = conditions;
  const least = (limit: (value: number) => Limit | null): Limit[] =>
    atLeast === null ? [] : [limit(atLeast)].filter((one) => one !== null);
  const most = (limit: (value: number) => Limit): Limit[] =>
    atMost === null ? [] : [limit(atMost)];
  const within = (value: number) => ({
    withinDb: value - reserve.db,
    band: promise.band ?? conditions.target,
  });
  switch (kind) {
    case 'lowest-impedance':
      return least((value) => ({ ...base, kind: 'load', leastOhms: above(value) }));
    case 'equivalent-resistance':
      return least((value) => ({ ...base, kind: 'equivalent', leastOhms: above(value) }));
    case 'phase-tracking':
      return most((value) => ({
        ...base,
        kind: 'crossover-loss',
        mostDb: value * (1 - 10 * reserve.share),
        quadrature: conditions.quadrature,
      }));
    case 'sensitivity':
      return least((value) => ({
        ...base,
        kind: 'level',
        leastDb: value + overStated(promise) + reserve.db,
        at: 'terminals',
      }));
    case 'seat-level':
      return least((value) =>
        seat
          ? {
              ...base,
              kind: 'level',
              leastDb: value - seatLevelDb(0, seat) + overStated(promise) + reserve.db,
              at: 'source',
            }
          : null,
      );
    case 'reach-3':
      return most((value) => ({ ...base, kind: 'cut-off', fallDb: 3, mostHz: below(value) }));
    case 'reach-10':
      return most((value) => ({ ...base, kind: 'cut-off', fallDb: 10, mostHz: below(value) }));
    case 'driver-power':
      return least((value) => ({
        ...base,
        kind: 'driver-power',
        least: above(value),
        ...{ driveVolts, drivers },
      }));
    case 'travel':
      return least((value) => ({
        ...base,
        kind: 'excursion',
        least: above(value),
        // The level of a prediction is that of its own voltage.
        voltsAtZeroDb:
          seat && loudnessDb !== null
            ? voltsForLevel(-overStated(promise), loudnessDb, seat)
            : null,
        ...{ driveVolts, drivers },
      }));
    case 'resonance':
      return least((value) => ({ ...base, kind: 'resonance', leastDb: value + reserve.db }));
    case 'crossover-place':
      return most((value) => ({
        ...base,
        kind: 'crossover-place',
        mostOctaves: value - 1e-3,
        limits: conditions.crossingLimits,
      }));
    case 'crossover-floor':
      return least((value) => ({ ...base, kind: 'crossover-floor', leastOctaves: value + 1e-3 }));
    case 'target-slopes':
      return most((value) => ({
        ...base,
        kind: 'target-slopes',
        mostDb: value - reserve.db,
        ways: design.ways.flatMap(({ id: wayId, target }) => (target ? [{ wayId, target }] : [])),
        band: conditions.target,
      }));
    case 'on-axis':
      return most((value) => ({ ...base, kind: 'on-axis', withinDb: value - reserve.db }));
    case 'window':
      return most((value) => ({ ...base, ...within(value), kind: 'window' }));
    case 'directivity':
    case 'sound-power':
    case 'in-room':
      return most((value) => ({ ...base, ...within(value), kind: 'straight', of: kind }));
    case 'directivity-slope':
      return [
        {
          ...base,
          kind: 'index-slope',
          least: atLeast,
          most: atMost,
          band: promise.band ?? conditions.target,
        },
      ];
    case 'seats':
      return most((value) => ({
        ...base,
        ...within(value),
        kind: 'places',
        ids: seatsOf(design).map((one) => one.id),
      }));
    case 'angle':
      return most((value) => ({ ...base, ...within(value), kind: 'places', ids: [id] }));
    // These no network moves, or no stage knows yet.
    case 'cost':
    case 'outside-size':
    case 'resistor-heat':
    case 'port-speed':
      return [];
  }
}

/** Level of a prediction at the design's voltage over that at 2.83 V, dB. */
const overStated = ({ conditions }: DesignPromise) => overSensitivityVolts(conditions.amplifier);

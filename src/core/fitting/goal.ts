import { seatGainsDb } from '@/core/brief/arithmetic';
import type { PromiseKind, Target } from '@/core/design/briefSchema';
import type { Band } from '@/core/design/figures';
import type { Design, WayTarget } from '@/core/design/schema';
import type { DesignPromise } from '@/core/promises/promise';
import { promisesOf } from '@/core/promises/promisesOf';
import { noPartLimits, type PartLimits, type PriceRates } from './limits';

/** One thing that a fit works toward, with its weight. */
interface Aim {
  /** Factor on its residuals: 1 for a promise of middling weight. */
  readonly weight: number;
}

/** What a fit works toward. Everything that has a limit counts only where the limit is broken. */
export interface Goal {
  readonly onAxis: Aim & { readonly target: Target; readonly band: Band };
  /**
   * Under the band of the target, down to where the lows are to reach, the response may stray by this much and no more: the
   * box decides there, but a network that ruins it is no answer.
   */
  readonly lows: Aim & { readonly fromHz: number; readonly withinDb: number };
  /** Lowest |Z|, ohms. */
  readonly load: (Aim & { readonly leastOhms: number }) | null;
  /** Lowest equivalent peak dissipation resistance, ohms. */
  readonly equivalent: (Aim & { readonly leastOhms: number }) | null;
  /** Phase between neighbours where they overlap, degrees. */
  readonly tracking: (Aim & { readonly mostDeg: number }) | null;
  /** Ways that are to follow their own slopes, by id. */
  readonly ways: readonly (Aim & { readonly wayId: string; readonly target: WayTarget })[];
  /** Mean level over the band of the sensitivity, at the voltage of the design, dB. */
  readonly level: (Aim & { readonly leastDb: number }) | null;
  /** Mean over the listening window against the target; where all drivers were measured off their axes. */
  readonly window: (Aim & { readonly withinDb: number; readonly band: Band }) | null;
  /** Heat of any resistor under programme at the amplifier's power, watts. */
  readonly heat: (Aim & { readonly mostWatts: number }) | null;
  /** Cost of all parts. */
  readonly outlay: (Aim & { readonly most: number; readonly rates: PriceRates }) | null;
}

/** Weight 1 to 5 of a promise as a factor: 3 counts once, 5 three times, 1 a third. */
const factorOf = (weight: number) => 3 ** ((weight - 3) / 2);

/** A fit aims a little inside what was promised, so that rounding to real values does not break it. */
const reserve = 1.03;

/** A way's own slope is a means, the sum is the end: it counts half. */
const wayWeight = 0.5;

/** What the promises of a design ask of its network. Without any, an even response on its target. */
export function goalOf(
  design: Design,
  { mostWatts, mostOutlay, rates }: PartLimits = noPartLimits,
): Goal {
  const promises = promisesOf(design);
  const find = (kind: PromiseKind) => promises.find((promise) => promise.kind === kind);
  const { target } = design;
  const onAxis = find('on-axis');
  const atLeast = (kind: PromiseKind) => {
    const promise = find(kind);
    return promise?.atLeast != null
      ? { weight: factorOf(promise.weight), leastOhms: promise.atLeast * reserve }
      : null;
  };
  const tracking = find('phase-tracking');
  const window = find('window');
  return {
    onAxis: {
      weight: onAxis ? factorOf(onAxis.weight) : 1,
      target,
      band: onAxis?.band ?? { fromHz: target.fromHz, toHz: target.toHz },
    },
    lows: {
      weight: 0.5,
      fromHz: 1.3 * (design.brief.reach3Hz ?? target.fromHz / 3),
      withinDb: 2.5,
    },
    load: atLeast('lowest-impedance'),
    equivalent: atLeast('equivalent-resistance'),
    tracking:
      tracking?.atMost != null
        ? { weight: factorOf(tracking.weight), mostDeg: tracking.atMost / reserve }
        : null,
    ways: design.ways.flatMap(({ id, target: shape }) =>
      shape ? [{ weight: wayWeight, wayId: id, target: shape }] : [],
    ),
    level: levelOf(design, [find('sensitivity'), find('seat-level')]),
    window:
      window?.atMost != null
        ? {
            weight: factorOf(window.weight),
            withinDb: window.atMost / reserve,
            band: window.band ?? { fromHz: target.fromHz, toHz: target.toHz },
          }
        : null,
    heat: mostWatts === null ? null : { weight: 1, mostWatts },
    outlay: mostOutlay === null ? null : { weight: 1, most: mostOutlay, rates },
  };
}

/** The higher of what sensitivity and level at the seat ask for, as a level at the voltage of the design. */
function levelOf(design: Design, promises: readonly (DesignPromise | undefined)[]): Goal['level'] {
  const drive = 20 * Math.log10(design.amplifier.volts / Math.sqrt(8));
  const asked = promises.flatMap((promise) => {
    if (promise?.atLeast == null) return [];
    const weight = factorOf(promise.weight);
    if (promise.kind === 'sensitivity') return [{ weight, leastDb: promise.atLeast + drive }];
    const { seat } = promise.conditions;
    if (!seat) return [];
    const gains = seatGainsDb(seat);
    const added = gains.drive + gains.distance + gains.count + gains.room;
    return [{ weight, leastDb: promise.atLeast - added + drive }];
  });
  return asked.reduce<Goal['level']>(
    (most, one) => (most && most.leastDb >= one.leastDb ? most : one),
    null,
  );
}

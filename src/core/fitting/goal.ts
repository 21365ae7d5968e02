import type { WayId } from '@/core/fields';
import { seatLevelDb, voltsForLevel } from '@/core/brief/arithmetic';
import type { PromiseKind, Target } from '@/core/document/briefSchema';
import { overSensitivityVolts, type Band } from '@/core/prediction/figures';
import type { Quadrature } from '@/core/document/meantPhase';
import type { Design, Driver, WayTarget } from '@/core/document/schema';
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
   * Under the band of the target, down to where the lows are to reach, the response may stray by
   * this much and no more: the box decides there, but a network that ruins it is no answer.
   */
  readonly lows: Aim & { readonly fromHz: number; readonly withinDb: number };
  /** Lowest |Z|, ohms. */
  readonly load: (Aim & { readonly leastOhms: number }) | null;
  /** Lowest equivalent peak dissipation resistance, ohms. */
  readonly equivalent: (Aim & { readonly leastOhms: number }) | null;
  /**
   * Phase between neighbours where they overlap, from what their slopes are meant to make, degrees.
   */
  readonly tracking: (Aim & { readonly mostDeg: number; readonly quadrature: Quadrature }) | null;
  /** Ways that are to follow their own slopes, by id. */
  readonly ways: readonly (Aim & { readonly wayId: WayId; readonly target: WayTarget })[];
  /**
   * Mean level over the band of the sensitivity for the design's voltage, at the terminals and at
   * the source, dB.
   */
  readonly sensitivity: (Aim & { readonly leastDb: number }) | null;
  readonly seatLevel: (Aim & { readonly leastDb: number }) | null;
  /** Drivers whose ratings or Xmax are known. */
  readonly drivers: DriverAims | null;
  /**
   * Mean over the listening window against the target; where all drivers were measured off their
   * axes.
   */
  readonly window: (Aim & { readonly withinDb: number; readonly band: Band }) | null;
  /** Heat of any resistor under programme at the amplifier's power, watts. */
  readonly heat: (Aim & { readonly mostWatts: number }) | null;
  /** Cost of all parts. */
  readonly outlay: (Aim & { readonly most: number; readonly rates: PriceRates }) | null;
}

/** What drivers may take, each as a reserve: the limit over what is borne. */
interface DriverAims {
  readonly power: (Aim & { readonly least: number; readonly driveVolts: number }) | null;
  /**
   * Excursion at a long-term level at the seat: the voltage that it takes is this one at a mean
   * level of 0 dB, and falls with it.
   */
  readonly excursion: (Aim & { readonly least: number; readonly voltsAtZeroDb: number }) | null;
  readonly drivers: readonly Driver[];
}

/** Weight 1 to 5 of a promise as a factor: 3 counts once, 5 three times, 1 a third. */
const factorOf = (weight: number) => 3 ** ((weight - 3) / 2);

/**
 * A fit aims a little inside what was promised, so that rounding to real values does not break it.
 */
const reserve = 1.03;

/** A way's own slope is a means, the sum is the end: it counts half. */
const wayWeight = 0.5;

/**
 * What the promises of a design ask of its network. Without any, an even response on its target.
 */
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
        ? {
            weight: factorOf(tracking.weight),
            mostDeg: tracking.atMost / reserve,
            quadrature: tracking.conditions.quadrature,
          }
        : null,
    ways: design.ways.flatMap(({ id, target: shape }) =>
      shape ? [{ weight: wayWeight, wayId: id, target: shape }] : [],
    ),
    sensitivity: sensitivityAim(find('sensitivity')),
    seatLevel: seatAim(find('seat-level')),
    drivers: driverAims(find('driver-power'), find('travel')),
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

/** Level of a prediction at the design's voltage over that at 2.83 V, dB. */
const overStated = ({ conditions }: DesignPromise) => overSensitivityVolts(conditions.amplifier);

const sensitivityAim = (promise: DesignPromise | undefined): Goal['sensitivity'] =>
  promise?.atLeast == null
    ? null
    : { weight: factorOf(promise.weight), leastDb: promise.atLeast + overStated(promise) };

function seatAim(promise: DesignPromise | undefined): Goal['seatLevel'] {
  const seat = promise?.conditions.seat;
  if (promise?.atLeast == null || !seat) return null;
  const gain = seatLevelDb(0, seat);
  return {
    weight: factorOf(promise.weight),
    leastDb: promise.atLeast - gain + overStated(promise),
  };
}

function driverAims(
  power: DesignPromise | undefined,
  excursion: DesignPromise | undefined,
): Goal['drivers'] {
  const conditions = (power ?? excursion)?.conditions;
  if (!conditions) return null;
  const { driveVolts, seat, loudnessDb, drivers } = conditions;
  const powerAim =
    power?.atLeast != null && driveVolts !== null
      ? { weight: factorOf(power.weight), least: power.atLeast * reserve, driveVolts }
      : null;
  const excursionAim =
    excursion?.atLeast != null && seat && loudnessDb !== null
      ? {
          weight: factorOf(excursion.weight),
          least: excursion.atLeast * reserve,
          // The level of a prediction is that of its own voltage.
          voltsAtZeroDb: voltsForLevel(-overStated(excursion), loudnessDb, seat),
        }
      : null;
  if (!powerAim && !excursionAim) return null;
  return {
    power: powerAim,
    excursion: excursionAim,
    drivers,
  };
}

import { seatLevelDb } from '@/core/brief/arithmetic';
import { loadsAtLoudness } from '@/core/brief/asked';
import type { PromiseKind } from '@/core/document/briefSchema';
import {
  deviationDb,
  lowestEquivalentOhms,
  lowestOhms,
  phaseTrackingDeg,
  reachHz,
  sensitivityDb,
  sourceLevelDb,
} from '@/core/prediction/figures';
import type { Prediction } from '@/core/prediction/prediction';
import { excessOf, loadsAt, type DriverLoad, type Excess } from '@/core/prediction/strain';
import type { DesignPromise } from './promise';

/** A figure and where it was found, or what is missing for it, as "needs …" goes on. */
export type Found =
  { readonly value: number; readonly atHz?: number | null } | { readonly needs: string };

type Measure = (prediction: Prediction | null, promise: DesignPromise) => Found;

const needsDrivers: Found = { needs: 'drivers' };
const needsNetwork: Found = { needs: 'a network with drivers' };
const noLevel: Found = { needs: 'a response in this band' };

/** A kind whose inputs no stage makes yet. */
const waitsFor =
  (needs: string): Measure =>
  () => ({ needs });

/** A figure of what was predicted; without drivers there is none. */
const ofPrediction =
  (measure: (prediction: Prediction, promise: DesignPromise) => Found): Measure =>
  (prediction, promise) =>
    prediction && prediction.ways.length > 0 ? measure(prediction, promise) : needsDrivers;

type Sum = NonNullable<Prediction['sum']>;

/** The same of the sum on the axis. */
const ofSum = (
  measure: (sum: Sum, prediction: Prediction, promise: DesignPromise) => Found,
): Measure =>
  ofPrediction((prediction, promise) =>
    prediction.sum ? measure(prediction.sum, prediction, promise) : needsDrivers,
  );

const reach = (fallDb: number): Measure =>
  ofSum(({ levelDb }, { frequencyHz }) => {
    const value = reachHz(frequencyHz, levelDb, fallDb);
    return value === null ? noLevel : { value, atHz: value };
  });

/** The driver that comes nearest to a limit, as the limit over what it bears; null where no driver has both. */
function leastReserve(loads: readonly DriverLoad[], of: keyof Excess): Found | null {
  const excesses = loads.flatMap((load) => excessOf(load)[of] ?? []);
  return excesses.length === 0 ? null : { value: 1 / Math.max(...excesses) };
}

/** How each kind of promise is measured: whoever needs the figure takes it from here. */
export const measures: Readonly<Record<PromiseKind, Measure>> = {
  'on-axis': ofSum(
    ({ levelDb }, { frequencyHz }, { conditions: { target }, band }) =>
      deviationDb(frequencyHz, levelDb, target, band ?? target) ?? noLevel,
  ),
  window: ofSum((_, { frequencyHz, window }, { conditions: { target }, band }) =>
    window
      ? (deviationDb(frequencyHz, window.levelDb, target, band ?? target) ?? noLevel)
      : { needs: 'off-axis responses of all drivers (Bench)' },
  ),
  'reach-3': reach(3),
  'reach-10': reach(10),
  sensitivity: ofSum((_, prediction, { conditions: { amplifier } }) => {
    const value = sensitivityDb(prediction, amplifier);
    return value === null ? noLevel : { value };
  }),
  'seat-level': ofSum((_, prediction, { conditions: { amplifier, seat } }) => {
    if (!seat) return { needs: 'seats and amplifier power' };
    const level = sourceLevelDb(prediction, amplifier);
    return level === null ? noLevel : { value: seatLevelDb(level, seat) };
  }),
  'lowest-impedance': ofPrediction((prediction) => lowestOhms(prediction) ?? needsNetwork),
  'equivalent-resistance': ofPrediction(
    (prediction) => lowestEquivalentOhms(prediction) ?? needsNetwork,
  ),
  'phase-tracking': ofSum(
    (_, prediction, { conditions: { quadrature } }) =>
      phaseTrackingDeg(prediction, quadrature) ?? { needs: 'two ways that hand over' },
  ),
  travel: (prediction, promise) =>
    leastReserve(loadsAtLoudness(prediction, promise.conditions), 'travel') ?? {
      needs: 'loudness, seats, and of a driver Xmax and Bl (or Mms, Vas) with its impedance',
    },
  'driver-power': ofPrediction(({ strains }, { conditions: { driveVolts, drivers } }) => {
    if (driveVolts === null) return { needs: 'the amplifier’s power' };
    return (
      leastReserve(loadsAt(strains, drivers, driveVolts), 'power') ?? {
        needs: 'the rated power of a driver',
      }
    );
  }),
  directivity: waitsFor('the directivity index (Around)'),
  cost: waitsFor('prices of drivers and cabinet (Parts)'),
  'outside-size': waitsFor('a cabinet (Box)'),
  'resistor-heat': waitsFor('part ratings (Parts)'),
  'port-speed': waitsFor('a vented box (Box)'),
};

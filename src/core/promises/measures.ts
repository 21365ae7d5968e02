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

/** Mean level at 2.83 V and 1 m, dB. */
function sensitivityDb({ levelDb }: Sum, { frequencyHz }: Prediction, volts: number) {
  const mean = meanLevelDb(frequencyHz, levelDb, sensitivityBand);
  return mean === null ? null : mean - 20 * Math.log10(volts / sensitivityVolts);
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
  sensitivity: ofSum((sum, prediction, { conditions: { volts } }) => {
    const value = sensitivityDb(sum, prediction, volts);
    return value === null ? noLevel : { value };
  }),
  'seat-level': ofSum((sum, prediction, { conditions: { volts, seat } }) => {
    if (!seat) return { needs: 'seats and amplifier power' };
    const db = sensitivityDb(sum, prediction, volts);
    return db === null ? noLevel : { value: seatLevelDb(db, seat) };
  }),
  'lowest-impedance': ofPrediction((prediction) => lowestOhms(prediction) ?? needsNetwork),
  'equivalent-resistance': ofPrediction(
    (prediction) => lowestEquivalentOhms(prediction) ?? needsNetwork,
  ),
  'phase-tracking': ofSum(
    (_, prediction) => phaseTrackingDeg(prediction) ?? { needs: 'two ways that hand over' },
  ),
  travel: (_, { conditions: { travel } }) =>
    travel
      ? { value: travel.allowedMm / travel.neededMm, atHz: travel.atHz }
      : { needs: 'loudness, reach and the woofer’s data sheet' },
  directivity: waitsFor('the directivity index (Around)'),
  cost: waitsFor('prices of drivers and cabinet (Parts)'),
  'outside-size': waitsFor('a cabinet (Box)'),
  'resistor-heat': waitsFor('part ratings (Parts)'),
  'port-speed': waitsFor('a vented box (Box)'),
};

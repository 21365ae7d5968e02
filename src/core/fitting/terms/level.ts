import { sourceLossDb } from '@/core/prediction/figures';
import { excursionCrestFactor } from '@/core/document/programme';
import { ratingOf } from '@/core/driver/rating';
import type { Goal } from '@/core/fitting/goal';
import type { StrainPlayback } from '@/core/fitting/playback';
import { type Played, type Term, decibelsPerNeper, limitFactor, meanAt } from './term';

/**
 * Mean level in the middle.
 *
 * @param sourceOhms resistance whose loss is not the speaker's; 0 for the level at the source
 */
export function levelTerm(
  { weight, leastDb }: NonNullable<Goal['sensitivity']>,
  middle: Int32Array,
  sourceOhms: number,
): Term {
  const factor = weight * limitFactor;
  const radians = Math.PI / 180;
  const levelOf = ({ middleDb, playback: { ohms, phaseDeg } }: Played): number => {
    if (sourceOhms === 0) return middleDb;
    let loss = 0;
    for (const i of middle) loss += sourceLossDb(ohms[i], phaseDeg[i], sourceOhms);
    return middleDb - loss / middle.length;
  };
  return {
    rows: 1,
    residuals(played, _, out, row) {
      out[row] = factor * Math.max(0, leastDb - levelOf(played));
    },
    derivatives(played, _, { axis, lnZ, angle }, column, row) {
      if (levelOf(played) >= leastDb) return;
      const { ohms, phaseDeg } = played.playback;
      let lossSlope = 0;
      if (sourceOhms > 0)
        for (const i of middle) {
          // d ln|Z/(Z + R)| = Re[(R/(Z + R))·(d ln|Z| + j·dφ)].
          const [re, im] = [
            ohms[i] * Math.cos(phaseDeg[i] * radians),
            ohms[i] * Math.sin(phaseDeg[i] * radians),
          ];
          const square = (re + sourceOhms) ** 2 + im ** 2;
          lossSlope +=
            (sourceOhms * ((re + sourceOhms) * lnZ[i] + im * angle[i] * radians)) / square;
        }
      column[row] =
        -factor * (meanAt(axis.sumDb, middle) - (decibelsPerNeper * lossSlope) / middle.length);
    },
  };
}

/** Power and excursion of the drivers, as decibels over what they may be. */
export function driversTerm(
  { power, excursion, drivers }: NonNullable<Goal['drivers']>,
  { driverIds, lowestOhms, values }: StrainPlayback,
  middle: Int32Array,
): Term {
  const count = driverIds.length;
  const sheets = driverIds.map((id) => drivers.find((driver) => driver.id === id)!.sheet);
  /**
   * Squares of what is allowed: volts of each driver, then metres; Infinity where there is no
   * limit.
   */
  const allowed = Float64Array.from(values, (_, k) => {
    const sheet = sheets[k % count];
    if (k < count) {
      const rating = power && ratingOf(sheet, lowestOhms[k]);
      return rating ? rating.voltsSquared / power.least : Infinity;
    }
    const { xmaxMm } = sheet;
    return excursion && xmaxMm !== null ? (xmaxMm / 1000 / excursion.least) ** 2 : Infinity;
  });
  const factorOf = (k: number) =>
    ((k < count ? power : excursion)?.weight ?? 0) * limitFactor * (decibelsPerNeper / 2);
  /** Square of what is borne over that of what is allowed. */
  const excess = (k: number, middleDb: number): number => {
    const volts =
      k < count
        ? (power?.driveVolts ?? 0)
        : (excursion?.voltsAtZeroDb ?? 0) * 10 ** (-middleDb / 20) * excursionCrestFactor;
    return (values[k] * volts ** 2) / allowed[k];
  };
  return {
    rows: values.length,
    residuals({ middleDb }, _, out, row) {
      for (let k = 0; k < values.length; k++) {
        const over = excess(k, middleDb);
        out[row + k] = over > 1 ? factorOf(k) * Math.log(over) : 0;
      }
    },
    derivatives({ middleDb }, _, { axis, strain }, column, row) {
      const louder = meanAt(axis.sumDb, middle) / (decibelsPerNeper / 2);
      for (let k = 0; k < values.length; k++)
        if (excess(k, middleDb) > 1)
          column[row + k] = factorOf(k) * (strain[k] / values[k] - (k < count ? 0 : louder));
    },
  };
}

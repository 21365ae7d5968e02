import type { WayId } from '@/core/fields';
import {
  centreOf,
  crossingIndex,
  equivalentOhms,
  overlapDb,
  sourceLossDb,
} from '@/core/prediction/figures';
import { meantDeg } from '@/core/document/meantPhase';
import { excursionCrestFactor } from '@/core/document/programme';
import { partsOf, type Design, type WayTarget } from '@/core/document/schema';
import { ratingOf } from '@/core/driver/rating';
import type { Goal } from './goal';
import { costAt, outlayOf } from './outlay';
import type { AxisSlopes, Playback, StrainPlayback } from './playback';
import type { Variable } from './variables';
import { countedPlaces, wayTargetDb } from './wayTarget';

/** Values that were just played, as the terms of a model see them. */
export interface Played {
  readonly playback: Playback;
  readonly logValues: Float64Array;
  /** Of the sum on the axis from the target, its mean over the band taken away; dB. */
  readonly deviation: Float64Array;
  /** The same of the listening window, over its own band; null where there is none. */
  readonly windowDeviation: Float64Array | null;
  /** Mean level over the band of the sensitivity, dB. */
  readonly middleDb: number;
}

/** Slopes of all that was played for a factor of e in one variable. */
export interface Slopes {
  readonly variable: number;
  readonly axis: AxisSlopes;
  /** Mean of the sum's slope over the band. */
  readonly meanDb: number;
  /** Of ln|Z|, and of Z's phase in degrees. */
  readonly lnZ: Float64Array;
  readonly angle: Float64Array;
  /** Of the listening window's level; of each resistor's heat. */
  readonly windowDb: Float64Array;
  readonly watts: Float64Array;
  /** Of the drivers' mean square voltages and excursions. */
  readonly strain: Float64Array;
}

/** One aim of a fit, as residuals in dB that are 0 where it is met. */
export interface Term {
  readonly rows: number;
  /**
   * @param power 1 for squares of the deviation on axis, 2 for fourth powers
   * @param row of `out` at which it begins
   */
  residuals(played: Played, power: 1 | 2, out: Float64Array, row: number): void;
  /** Writes into a column of zeros. */
  derivatives(
    played: Played,
    power: 1 | 2,
    slopes: Slopes,
    column: Float64Array,
    row: number,
  ): void;
}

const decibelsPerNeper = 20 / Math.LN10;
/**
 * Breaking a limit somewhere counts as much as a deviation on axis this many times as large: a limit is not traded against
 * evenness, it is kept.
 */
const limitFactor = 6;
/** Degrees of phase that weigh like a decibel. */
const degreesPerDb = 15;

/** The response on axis, evenly. */
export function onAxisTerm({ weight }: Goal['onAxis'], places: Int32Array): Term {
  const factor = weight * Math.sqrt(1 / places.length);
  return {
    rows: places.length,
    residuals({ deviation }, power, out, row) {
      for (let r = 0; r < places.length; r++) {
        const d = deviation[places[r]];
        out[row + r] = factor * (power === 1 ? d : d * Math.abs(d));
      }
    },
    derivatives({ deviation }, power, { axis, meanDb }, column, row) {
      for (let r = 0; r < places.length; r++) {
        const i = places[r];
        const d = axis.sumDb[i] - meanDb;
        column[row + r] = factor * (power === 1 ? d : 2 * Math.abs(deviation[i]) * d);
      }
    },
  };
}

/** A response that may stray so far and no farther. */
function bandTerm(
  weight: number,
  withinDb: number,
  places: Int32Array,
  root: number,
  deviationOf: (played: Played) => Float64Array,
  slopeOf: (slopes: Slopes) => { readonly slope: Float64Array; readonly mean: number },
): Term {
  const factor = weight * root * limitFactor;
  return {
    rows: places.length,
    residuals(played, _, out, row) {
      const deviation = deviationOf(played);
      for (let r = 0; r < places.length; r++) {
        const over = Math.abs(deviation[places[r]]) - withinDb;
        out[row + r] = over > 0 ? factor * over : 0;
      }
    },
    derivatives(played, _, slopes, column, row) {
      const deviation = deviationOf(played);
      const { slope, mean } = slopeOf(slopes);
      for (let r = 0; r < places.length; r++) {
        const d = deviation[places[r]];
        if (Math.abs(d) > withinDb)
          column[row + r] = factor * Math.sign(d) * (slope[places[r]] - mean);
      }
    },
  };
}

/** The lows, under the band of the target. */
export const lowsTerm = (
  { weight, withinDb }: Goal['lows'],
  places: Int32Array,
  root: number,
): Term =>
  bandTerm(
    weight,
    withinDb,
    places,
    root,
    ({ deviation }) => deviation,
    ({ axis, meanDb }) => ({ slope: axis.sumDb, mean: meanDb }),
  );

/** The mean over the listening window. */
export const windowTerm = (
  { weight, withinDb }: NonNullable<Goal['window']>,
  places: Int32Array,
): Term =>
  bandTerm(
    weight,
    withinDb,
    places,
    Math.sqrt(1 / places.length),
    ({ windowDeviation }) => windowDeviation!,
    ({ windowDb }) => ({ slope: windowDb, mean: meanAt(windowDb, places) }),
  );

/** Mean of a curve over some places. */
export function meanAt(curve: Float64Array, places: Int32Array): number {
  let sum = 0;
  for (const i of places) sum += curve[i];
  return sum / places.length;
}

/** |Z|, at every frequency. */
export function loadTerm({ weight, leastOhms }: NonNullable<Goal['load']>, points: number): Term {
  const factor = weight * Math.sqrt(1 / points) * limitFactor * decibelsPerNeper;
  return {
    rows: points,
    residuals({ playback: { ohms } }, _, out, row) {
      for (let i = 0; i < points; i++)
        out[row + i] = ohms[i] < leastOhms ? factor * Math.log(leastOhms / ohms[i]) : 0;
    },
    derivatives({ playback: { ohms } }, _, { lnZ }, column, row) {
      for (let i = 0; i < points; i++) if (ohms[i] < leastOhms) column[row + i] = -factor * lnZ[i];
    },
  };
}

/** Step for the slope of the equivalent resistance over phase, degrees. */
const turnDeg = 1e-4;

/** Equivalent peak dissipation resistance, at every frequency. */
export function equivalentTerm(
  { weight, leastOhms }: NonNullable<Goal['equivalent']>,
  points: number,
): Term {
  const factor = weight * Math.sqrt(1 / points) * limitFactor * decibelsPerNeper;
  return {
    rows: points,
    residuals({ playback: { ohms, phaseDeg } }, _, out, row) {
      for (let i = 0; i < points; i++) {
        const value = equivalentOhms(ohms[i], phaseDeg[i]);
        out[row + i] = value < leastOhms ? factor * Math.log(leastOhms / value) : 0;
      }
    },
    derivatives({ playback: { ohms, phaseDeg } }, _, { lnZ, angle }, column, row) {
      for (let i = 0; i < points; i++) {
        if (equivalentOhms(ohms[i], phaseDeg[i]) >= leastOhms) continue;
        const ratio =
          equivalentOhms(1, phaseDeg[i] + turnDeg) / equivalentOhms(1, phaseDeg[i] - turnDeg);
        column[row + i] = -factor * (lnZ[i] + (Math.log(ratio) / (2 * turnDeg)) * angle[i]);
      }
    },
  };
}

/** Phase between neighbours around where one hands over to the other. */
export function trackingTerm(
  { weight, mostDeg, quadrature }: NonNullable<Goal['tracking']>,
  wayIds: readonly string[],
  frequencyHz: Float64Array,
): Term {
  const wayCount = wayIds.length;
  const points = frequencyHz.length;
  const pairs = Math.max(0, wayCount - 1);
  const most = (weight * Math.sqrt(1 / points) * limitFactor) / degreesPerDb / 2;
  /** Factor of each residual on the phase difference in degrees; 0 where it does not count. */
  const factors = new Float64Array(pairs * points);
  const order = Array.from({ length: wayCount }, (_, w) => w);

  /** Neighbours by the middle of the band in which each is loudest, and what their phase counts. */
  function weigh({ partDb }: Playback): void {
    factors.fill(0);
    const centres = partDb.map(centreOf);
    order.sort((a, b) => centres[a] - centres[b]);
    for (let k = 0; k < pairs; k++) {
      const [low, high] = [partDb[order[k]], partDb[order[k + 1]]];
      const cross = crossingIndex(low, high);
      if (cross < 0) continue;
      for (let i = 0; i < points; i++) {
        const apart = Math.abs(low[i] - high[i]);
        const octaves = Math.abs(Math.log2(frequencyHz[i] / frequencyHz[cross]));
        if (octaves <= 0.5 && apart < overlapDb)
          factors[k * points + i] = most * (1 - apart / overlapDb);
      }
    }
  }

  /** Phase of the lower over the upper neighbour, degrees, −180…180. */
  function between({ partRe, partIm }: Playback, k: number, i: number): number {
    const [a, b] = [order[k], order[k + 1]];
    const re = partRe[a][i] * partRe[b][i] + partIm[a][i] * partIm[b][i];
    const im = partIm[a][i] * partRe[b][i] - partRe[a][i] * partIm[b][i];
    return (Math.atan2(im, re) * 180) / Math.PI;
  }

  /** What the slopes of a pair are meant to make. */
  const meant = (k: number) => meantDeg(quadrature, wayIds[order[k]], wayIds[order[k + 1]]);

  return {
    rows: pairs * points,
    residuals({ playback }, _, out, row) {
      weigh(playback);
      for (let k = 0; k < pairs; k++)
        for (let i = 0; i < points; i++) {
          const factor = factors[k * points + i];
          const off = factor === 0 ? 0 : Math.abs(between(playback, k, i)) - meant(k);
          const over = Math.abs(off) - mostDeg;
          out[row + k * points + i] = over > 0 ? factor * over : 0;
        }
    },
    derivatives({ playback }, _, { variable, axis: { phases } }, column, row) {
      // The weights belong to the values, not to the variable.
      if (variable === 0) weigh(playback);
      for (let k = 0; k < pairs; k++)
        for (let i = 0; i < points; i++) {
          const factor = factors[k * points + i];
          if (factor === 0) continue;
          const now = between(playback, k, i);
          const off = Math.abs(now) - meant(k);
          if (Math.abs(off) > mostDeg)
            column[row + k * points + i] =
              factor *
              Math.sign(off) *
              Math.sign(now) *
              (phases[order[k]][i] - phases[order[k + 1]][i]);
        }
    },
  };
}

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
  /** Squares of what is allowed: volts of each driver, then metres; Infinity where there is no limit. */
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

/** A way that is to follow its own slopes; null where nothing of it is heard where these count. */
export function wayTerm(
  {
    wayId,
    target,
    weight,
  }: { readonly wayId: WayId; readonly target: WayTarget; readonly weight: number },
  playback: Playback,
  frequencyHz: Float64Array,
  band: Goal['onAxis']['band'],
): Term | null {
  const w = playback.wayIds.indexOf(wayId);
  if (w < 0) return null;
  const shapeDb = wayTargetDb(target, frequencyHz);
  const places = countedPlaces(target, shapeDb, frequencyHz, band).filter((i) =>
    playback.isWayHeard(w, i),
  );
  if (places.length === 0) return null;
  const factor = weight * Math.sqrt(1 / places.length);
  const apart = new Float64Array(frequencyHz.length);
  return {
    rows: places.length,
    residuals({ playback: { partDb } }, _, out, row) {
      for (const i of places) apart[i] = partDb[w][i] - shapeDb[i];
      const mean = meanAt(apart, places);
      for (let r = 0; r < places.length; r++) out[row + r] = factor * (apart[places[r]] - mean);
    },
    derivatives(_, __, { axis: { levels } }, column, row) {
      const mean = meanAt(levels[w], places);
      for (let r = 0; r < places.length; r++)
        column[row + r] = factor * (levels[w][places[r]] - mean);
    },
  };
}

/** Heat of each resistor, as decibels of power over what it may be. */
export function heatTerm(
  { weight, mostWatts }: NonNullable<Goal['heat']>,
  resistorCount: number,
): Term {
  const factor = (weight * limitFactor * decibelsPerNeper) / 2;
  return {
    rows: resistorCount,
    residuals({ playback: { watts } }, _, out, row) {
      for (let k = 0; k < resistorCount; k++)
        out[row + k] = watts![k] > mostWatts ? factor * Math.log(watts![k] / mostWatts) : 0;
    },
    derivatives({ playback: { watts } }, _, { watts: slope }, column, row) {
      for (let k = 0; k < resistorCount; k++)
        if (watts![k] > mostWatts) column[row + k] = (factor * slope[k]) / watts![k];
    },
  };
}

/** Cost of the parts of a design, moved values at what these cost. */
export function outlayAt(
  design: Design,
  variables: readonly Variable[],
  rates: NonNullable<Goal['outlay']>['rates'],
) {
  const moving = new Set(variables.flatMap(({ members }) => members.map(({ part }) => part.id)));
  const still = outlayOf(
    partsOf(design).filter(({ id }) => !moving.has(id)),
    rates,
  );
  const costs = (v: number, logValue: number) =>
    variables[v].members
      .filter(({ part }) => !part.isOff)
      .map(({ part, ratio }) => costAt(part, Math.exp(logValue) * ratio, rates));
  return {
    total: (logValues: Float64Array): number =>
      variables.reduce(
        (sum, _, v) => costs(v, logValues[v]).reduce((own, { cost }) => own + cost, sum),
        still,
      ),
    slope: (logValues: Float64Array, v: number): number =>
      costs(v, logValues[v]).reduce((sum, { slope }) => sum + slope, 0),
  };
}

/** Cost of the parts, as decibels over what it may be. */
export function outlayTerm(
  { weight, most, rates }: NonNullable<Goal['outlay']>,
  design: Design,
  variables: readonly Variable[],
): Term {
  const factor = (weight * limitFactor * decibelsPerNeper) / 2;
  const { total, slope } = outlayAt(design, variables, rates);
  return {
    rows: 1,
    residuals({ logValues }, _, out, row) {
      out[row] = factor * Math.max(0, Math.log(total(logValues) / most));
    },
    derivatives({ logValues }, _, { variable }, column, row) {
      const cost = total(logValues);
      if (cost > most) column[row] = (factor * slope(logValues, variable)) / cost;
    },
  };
}

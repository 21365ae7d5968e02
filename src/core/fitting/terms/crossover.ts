import { crossingLimitHz } from '@/core/brief/crossing';
import { breakUpOf } from '@/core/prediction/strain';
import { isTweeterAt, resonanceOf } from '@/core/driver/resonance';
import { meantDeg } from '@/core/document/meantPhase';
import type { LimitOf } from '@/core/fitting/goal';
import { addSlopes } from '@/core/fitting/play/curve';
import { type PlayedWay } from '@/core/fitting/play/playback';
import { crossoverLossDb, crossoverLossSlopes } from '@/core/prediction/crossoverLoss';
import { crossingIndex } from '@/core/prediction/crossovers';
import { fromLowest } from '@/core/prediction/wayOrder';
import {
  decibelsPerNeper,
  firmRate,
  isNearPeak,
  singleTerm,
  type Term,
  type TermContext,
} from './term';

/** A tenth of a decibel of loss counts like a third of one on axis. */
const lossScale = 3;

/** Loss of neighbours against what their slopes are meant to make, where they overlap. */
export function crossoverLossTerm(
  limit: LimitOf<'crossover-loss'>,
  { playback }: TermContext,
): Term {
  const { ways, frequencyHz, variables } = playback;
  const points = frequencyHz.length;
  const pairs = Math.max(0, ways.length - 1);
  /** Loss of each pair, and the share that the two have in all. */
  const loss = new Float64Array(pairs * points);
  const share = new Float64Array(pairs * points);
  /** Decibels over the limit, pair after pair. */
  const over = new Float64Array(pairs * points);
  const slopes = { perNeper: 0, perRadian: 0 };
  const neighbours: (readonly [PlayedWay, PlayedWay, 0 | 90])[] = [];
  return {
    ...{ limit, rate: firmRate * lossScale, isCurve: true },
    worst() {
      const order = fromLowest(ways);
      let worst = -limit.mostDb;
      neighbours.length = 0;
      for (let k = 0; k < pairs; k++) {
        const [low, high] = [order[k], order[k + 1]];
        const meant = meantDeg(limit.quadrature, low.wayId, high.wayId);
        neighbours.push([low, high, meant]);
        const { re: aRe, im: aIm } = low.pressure;
        const { re: bRe, im: bIm } = high.pressure;
        for (let i = 0; i < points; i++) {
          const at = k * points + i;
          loss[at] = crossoverLossDb(aRe[i], aIm[i], bRe[i], bIm[i], meant);
          over[at] = -limit.mostDb;
          if (loss[at] === 0) continue;
          share[at] = (magnitude(low, i) + magnitude(high, i)) / allAt(ways, i);
          over[at] += loss[at] * share[at];
          worst = Math.max(worst, over[at]);
        }
      }
      return worst;
    },
    write(from, rows) {
      for (let k = 0; k < pairs; k++) {
        const [low, high, meant] = neighbours[k];
        const [a, b] = [low.pressure, high.pressure];
        for (let i = 0; i < points; i++) {
          const at = k * points + i;
          // What hardly loses anything is not about to lose too much.
          if (!(over[at] > from) || over[at] < (-2 / 3) * limit.mostDb) continue;
          if (!(over[at] > 0) && !isNearPeak(over, at, k * points, (k + 1) * points)) continue;
          const row = rows.open(over[at]);
          if (row < 0) return;
          crossoverLossSlopes(a.re[i], a.im[i], b.re[i], b.im[i], meant, slopes);
          const perNeper = share[at] * slopes.perNeper;
          const perRadian = share[at] * slopes.perRadian;
          const all = allAt(ways, i);
          for (const way of ways) {
            const sign = way === low ? 1 : way === high ? -1 : 0;
            // d ln of the share: what the two gain over what all gain.
            const own = magnitude(way, i) / all;
            const shareSlope = loss[at] * (sign === 0 ? -own * share[at] : own * (1 - share[at]));
            addSlopes(
              way.steers,
              i,
              sign * perNeper + shareSlope,
              sign * perRadian,
              rows.slopes,
              row,
              variables.length,
            );
          }
        }
      }
    },
    figure: () => {
      if (pairs === 0) return null;
      let most = 0;
      for (let k = 0; k < loss.length; k++)
        if (loss[k] > 0) most = Math.max(most, loss[k] * share[k]);
      return most;
    },
  };
}

const magnitude = ({ pressure: { re, im } }: PlayedWay, i: number): number =>
  Math.sqrt(re[i] * re[i] + im[i] * im[i]);

const allAt = (ways: readonly PlayedWay[], i: number): number => {
  let all = 0;
  for (const way of ways) all += magnitude(way, i);
  return all;
};

/** An octave above where a crossover should be counts like this many decibels. */
const decibelsPerOctave = 6;

/**
 * Where neighbours cross over against what each pair allows.
 *
 * @param boundHz of a pair of neighbours; null where it has none
 * @param side 1 where crossovers are to stay below the bound, −1 above it
 * @param atOctaves octaves over the bound, counted upward, that the limit allows
 */
function crossingTerm(
  limit: LimitOf<'crossover-place'> | LimitOf<'crossover-floor'>,
  { playback }: TermContext,
  side: 1 | -1,
  atOctaves: number,
  boundHz: (lower: PlayedWay, upper: PlayedWay) => number | null,
): Term {
  const { ways, frequencyHz, variables } = playback;
  const perPoint = Math.log2(frequencyHz[1] / frequencyHz[0]);
  const pairs = Math.max(0, ways.length - 1);
  /** Octaves above the bound of each pair, and the place of the grid before its crossover. */
  const octaves = new Float64Array(pairs);
  const places = new Int32Array(pairs);
  const shares = new Float64Array(pairs);
  let order: readonly PlayedWay[] = ways;
  const apart = (k: number, i: number) => order[k].levelDb[i] - order[k + 1].levelDb[i];
  function find(): void {
    order = fromLowest(ways);
    octaves.fill(-side * Infinity);
    for (let k = 0; k + 1 < order.length; k++) {
      const i = crossingIndex(order[k].levelDb, order[k + 1].levelDb);
      const bound = boundHz(order[k], order[k + 1]);
      if (i < 0 || bound === null) continue;
      const [before, after] = [apart(k, i - 1), apart(k, i)];
      if (!Number.isFinite(before - after)) continue;
      places[k] = i;
      shares[k] = before / (before - after);
      octaves[k] = Math.log2(frequencyHz[i - 1] / bound) + perPoint * shares[k];
    }
  }
  const single = singleTerm({
    limit,
    rate: firmRate,
    count: pairs,
    excess: (k) => decibelsPerOctave * side * (octaves[k] - atOctaves),
    slopes(k, out, at) {
      const i = places[k];
      const each =
        (side * decibelsPerOctave * perPoint * decibelsPerNeper) / (apart(k, i - 1) - apart(k, i));
      for (const [place, share] of [
        [i - 1, 1 - shares[k]],
        [i, shares[k]],
      ]) {
        addSlopes(order[k].steers, place, each * share, 0, out, at, variables.length);
        addSlopes(order[k + 1].steers, place, -each * share, 0, out, at, variables.length);
      }
    },
    figure: () => {
      const worst = side * octaves.reduce((most, value) => Math.max(most, side * value), -Infinity);
      return Number.isFinite(worst) ? worst : null;
    },
  });
  return {
    ...single,
    worst() {
      find();
      return single.worst();
    },
  };
}

/** Crossovers against where the lower driver beams, or the two lobe. */
export function crossoverPlaceTerm(limit: LimitOf<'crossover-place'>, context: TermContext): Term {
  const { ways, drivers, design } = context.playback;
  const known = new Map(
    ways.map((way) => {
      const { driver, response } = drivers.find(({ wayId }) => wayId === way.wayId)!;
      return [way, { id: driver.id, breakUpHz: breakUpOf(driver, response, design) }];
    }),
  );
  return crossingTerm(limit, context, 1, limit.mostOctaves, (lowerWay, upperWay) => {
    const [lower, upper] = [known.get(lowerWay)!, known.get(upperWay)!];
    return crossingLimitHz(limit.limits, lower.id, upper.id, lower.breakUpHz);
  });
}

/** Crossovers against the resonance of the tweeter above them. */
export function crossoverFloorTerm(limit: LimitOf<'crossover-floor'>, context: TermContext): Term {
  const resonances = new Map(
    context.playback.ways.map((way) => {
      const { driver, impedance } = context.playback.drivers.find(
        ({ wayId }) => wayId === way.wayId,
      )!;
      const hz = resonanceOf(driver.sheet, impedance)?.hz ?? null;
      return [way, hz !== null && isTweeterAt(hz) ? hz : null];
    }),
  );
  return crossingTerm(limit, context, -1, limit.leastOctaves, (_, upper) => resonances.get(upper)!);
}

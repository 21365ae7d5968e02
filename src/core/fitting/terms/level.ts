import type { LimitOf } from '@/core/fitting/goal';
import { addSlopes } from '@/core/fitting/play/curve';
import { cutOffHz, sensitivityBand, sourceLossDb } from '@/core/prediction/figures';
import { fromLowest } from '@/core/prediction/wayOrder';
import {
  curveTerm,
  decibelsPerNeper,
  firmRate,
  meanAt,
  singleTerm,
  type MeanLevel,
  type Term,
  type TermContext,
} from './term';

/** Adds slopes of the mean level over some places, times a factor. */
export function addMeanSlopes(
  { slopesOf }: MeanLevel,
  factor: number,
  out: Float64Array,
  at: number,
): void {
  const slopes = slopesOf();
  for (let v = 0; v < slopes.length; v++) out[at + v] += factor * slopes[v];
}

/** Mean level in the middle, at the terminals or at the source. */
export function levelTerm(limit: LimitOf<'level'>, context: TermContext): Term {
  const { playback, inMiddle, middle } = context;
  const { ohms, phaseDeg } = playback;
  const sourceOhms = limit.at === 'terminals' ? context.sourceOhms : 0;
  const levelDb = (): number => {
    let loss = 0;
    if (sourceOhms > 0)
      for (const i of inMiddle) loss += sourceLossDb(ohms[i], phaseDeg[i], sourceOhms);
    return middle.db() - loss / inMiddle.length;
  };
  return singleTerm({
    limit,
    rate: firmRate,
    count: inMiddle.length > 0 ? 1 : 0,
    excess: () => limit.leastDb - levelDb(),
    slopes(_, out, at) {
      addMeanSlopes(middle, -1, out, at);
      if (sourceOhms === 0) return;
      for (const i of inMiddle) {
        // d ln|Z/(Z + R)| = Re[(R/(Z + R))·(d ln|Z| + j·dφ)].
        const angle = (phaseDeg[i] * Math.PI) / 180;
        const re = ohms[i] * Math.cos(angle) + sourceOhms;
        const im = ohms[i] * Math.sin(angle);
        const scale = (decibelsPerNeper * sourceOhms) / (re * re + im * im) / inMiddle.length;
        playback.addLoadSlopes(i, scale * re, scale * im, out, at);
      }
    },
    figure: () => (inMiddle.length > 0 ? levelDb() : null),
  });
}

/**
 * The box decides how low a speaker reaches, the network only what its middle gives away for it: a
 * decibel too little counts as this much on axis.
 */
const cutOffRate = 0.15;

/** The level down to where it may have fallen so far under the middle. */
export function cutOffTerm(limit: LimitOf<'cut-off'>, context: TermContext): Term {
  const { playback, inMiddle, middle, isHeard } = context;
  const { sum, sumDb, frequencyHz, variables } = playback;
  const places = Int32Array.from(frequencyHz.keys()).filter(
    (i) =>
      i > 0 &&
      frequencyHz[i] >= limit.mostHz &&
      frequencyHz[i] < sensitivityBand.fromHz &&
      isHeard(i - 1),
  );
  /** At the limit itself the level lies between two places, as `cutOffHz` has it. */
  const first = places.at(0) ?? 1;
  const share =
    Math.log(limit.mostHz / frequencyHz[first - 1]) /
    Math.log(frequencyHz[first] / frequencyHz[first - 1]);
  let middleDb = 0;
  const term = curveTerm({
    limit,
    rate: cutOffRate,
    places,
    excess: (i) =>
      middleDb -
      limit.fallDb -
      (i === first ? (1 - share) * sumDb[i - 1] + share * sumDb[i] : sumDb[i]),
    slopes(i, out, at) {
      addMeanSlopes(middle, 1, out, at);
      const own = i === first ? share : 1;
      addSlopes(sum, i, -decibelsPerNeper * own, 0, out, at, variables.length);
      if (own < 1)
        addSlopes(sum, i - 1, -decibelsPerNeper * (1 - own), 0, out, at, variables.length);
    },
    figure: () => cutOffHz(frequencyHz, sumDb, limit.fallDb),
  });
  return {
    ...term,
    worst() {
      middleDb = middle.db();
      return inMiddle.length > 0 ? term.worst() : -Infinity;
    },
  };
}

/**
 * The response under the band of the target, against its mean in that band: no further off it than
 * the lowest driver is by itself, and a little. By itself it counts from its mean over the first
 * octave of the band, where a target that falls or a network that shelves changes nothing.
 */
export function lowsTerm(
  limit: LimitOf<'lows'>,
  context: TermContext,
  deviation: Float64Array,
): Term {
  const { playback, inBand, band, isHeard } = context;
  const { sum, frequencyHz, variables, ways } = playback;
  const lowest = fromLowest(ways).at(0);
  const places = Int32Array.from(frequencyHz.keys()).filter(
    (i) => frequencyHz[i] >= limit.fromHz && i < inBand[0] && isHeard(i) && lowest?.isHeard(i),
  );
  const firstOctave = inBand.filter((i) => frequencyHz[i] <= 2 * frequencyHz[inBand[0]]);
  const aloneDb = lowest?.aloneDb ?? sum.re;
  const besideDb = meanAt(aloneDb, firstOctave);
  /** How far over and under the mean the response may be. */
  const overDb = aloneDb.map((db) => Math.max(0, db - besideDb) + limit.withinDb);
  const underDb = aloneDb.map((db) => Math.max(0, besideDb - db) + limit.withinDb);
  let meanDb = 0;
  const term = curveTerm({
    limit,
    rate: firmRate,
    places,
    excess(i) {
      const off = deviation[i] - meanDb;
      return off > 0 ? off - overDb[i] : -off - underDb[i];
    },
    slopes(i, out, at) {
      const sign = Math.sign(deviation[i] - meanDb);
      addMeanSlopes(band, -sign, out, at);
      addSlopes(sum, i, decibelsPerNeper * sign, 0, out, at, variables.length);
    },
    figure: () => null,
  });
  return {
    ...term,
    worst() {
      meanDb = meanAt(deviation, inBand);
      return term.worst();
    },
  };
}

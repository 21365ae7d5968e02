import type { Design, Way } from '@/core/document/schema';
import { targetDb } from '@/core/document/target';
import { quadratureOf } from '@/core/document/meantPhase';
import type { GridSpectrum } from '@/core/measurement/onGrid';
import { levelDbOf } from '@/core/prediction/derived';
import { crossoverLoss } from '@/core/prediction/crossoverLoss';
import { crossovers } from '@/core/prediction/crossovers';
import type { Prediction, WayPrediction } from '@/core/prediction/prediction';
import { wayTargetTransfer } from '@/core/prediction/wayTarget';
import { leastSquares } from '@/core/search/leastSquares';
import { halfHeight } from '@/core/search/minimax';

/** What precedes a driver's own amplifier. */
export interface ActiveWay {
  readonly gainDb: number;
  readonly delayMs: number;
  readonly isReversed: boolean;
}

/** By way id; a way that is not there plays plain. */
export type ActiveWays = ReadonlyMap<string, ActiveWay>;

export const plainActiveWay: ActiveWay = { gainDb: 0, delayMs: 0, isReversed: false };

/** How the drivers would play through active filters with the target slopes of their ways. */
export interface ActivePlay {
  readonly frequencyHz: Float64Array;
  readonly sumDb: Float64Array;
  readonly ways: readonly { readonly wayId: string; readonly levelDb: Float64Array }[];
  /** Half the height of the band that holds the response against the target. */
  readonly deviationDb: number;
  /** Largest loss between neighbours; null when nothing hands over. */
  readonly lossDb: number | null;
  readonly crossoversHz: readonly number[];
}

export interface ActiveFilters {
  /** Ways that are heard, in the order of the design. */
  readonly ways: readonly Way[];
  readonly play: (settings: ActiveWays) => ActivePlay;
  /** Gains, delays and polarities that bring the sum nearest to the target, and ways into phase. */
  readonly matched: () => ActiveWays;
}

/** Quietest and latest that anybody would set. */
const mostAttenuationDb = 30;
const mostDelayMs = 2;

/**
 * A preview before parts are sought: each way's drivers without its network, through an ideal
 * filter with the way's target slopes, a gain and a delay.
 *
 * @param prediction of the design; what its network does is divided out
 * @returns null when no way is heard
 */
export function createActiveFilters(design: Design, prediction: Prediction): ActiveFilters | null {
  const { frequencyHz } = prediction;
  const voices = prediction.ways.flatMap((own) => {
    const way = design.ways.find(({ id }) => id === own.wayId);
    const isHeard = own.levelDb.some(Number.isFinite);
    return way && isHeard
      ? [{ way, own, filtered: filteredOf(way, own, design, frequencyHz) }]
      : [];
  });
  if (voices.length === 0) return null;
  const { target } = design;
  const places = [...frequencyHz.keys()].filter(
    (i) =>
      frequencyHz[i] >= target.fromHz &&
      frequencyHz[i] <= target.toHz &&
      voices.some(({ own }) => Number.isFinite(own.levelDb[i])),
  );
  const wanted = frequencyHz.map((hz) => targetDb(target, hz));
  const pressuresOf = (settings: ActiveWays) =>
    voices.map(({ way, filtered }) =>
      shifted(filtered, settings.get(way.id) ?? plainActiveWay, frequencyHz),
    );

  function play(settings: ActiveWays): ActivePlay {
    const pressures = pressuresOf(settings);
    const ways = voices.map(({ own }, v): WayPrediction => ({
      ...own,
      pressure: pressures[v],
      levelDb: levelDbOf(pressures[v]),
    }));
    const sumDb = levelDbOf(added(pressures));
    const playing: Prediction = { ...prediction, ways };
    return {
      ...{ frequencyHz, sumDb, ways },
      deviationDb: halfHeight(Float64Array.from(places, (i) => sumDb[i] - wanted[i])),
      lossDb: crossoverLoss(playing, quadratureOf(design))?.value ?? null,
      crossoversHz: crossovers(playing).map(({ atHz }) => atHz),
    };
  }

  /** Gains of all ways, then their delays in tenths of a millisecond. */
  function settingsFrom(parameters: Float64Array, turns: readonly boolean[]): ActiveWays {
    const count = voices.length;
    const loudest = Math.max(...parameters.subarray(0, count));
    const first = Math.min(...parameters.subarray(count));
    return new Map(
      voices.map(({ way }, v) => [
        way.id,
        {
          gainDb: parameters[v] - loudest,
          delayMs: (parameters[count + v] - first) / 10,
          isReversed: turns[v],
        },
      ]),
    );
  }

  function matched(): ActiveWays {
    const count = voices.length;
    let best: { readonly squares: number; readonly settings: ActiveWays } | null = null;
    for (const turns of turnsOf(count)) {
      const lower = Float64Array.from({ length: 2 * count }, (_, p) =>
        p < count ? -mostAttenuationDb : 0,
      );
      const upper = Float64Array.from({ length: 2 * count }, (_, p) =>
        p < count ? 0 : 10 * mostDelayMs,
      );
      const { parameters, squares } = leastSquares(
        Float64Array.from({ length: 2 * count }, (_, p) => (p < count ? -6 : 1)),
        2 * places.length + 2 * count,
        (at, out) => residuals(at, turns, out),
        { lower, upper, mostSteps: 40, settledAt: 1e-6 },
      );
      if (best && best.squares <= squares) continue;
      best = { squares, settings: settingsFrom(parameters, turns) };
    }
    return new Map([...best!.settings].map(([id, one]) => [id, asSet(one)]));
  }

  /** Deviation, what is lost against all in phase, and next to nothing for what changes neither. */
  function residuals(at: Float64Array, turns: readonly boolean[], out: Float64Array): void {
    const pressures = pressuresOf(settingsFrom(at, turns));
    const sumDb = levelDbOf(added(pressures));
    const inPhaseDb = levelDbOf(aligned(pressures));
    let mean = 0;
    for (const i of places) mean += (sumDb[i] - wanted[i]) / places.length;
    places.forEach((i, k) => {
      out[k] = sumDb[i] - wanted[i] - mean;
      out[places.length + k] = lossWeight * (inPhaseDb[i] - sumDb[i]);
    });
    at.forEach((value, p) => (out[2 * places.length + p] = 1e-3 * value));
  }

  return { ways: voices.map(({ way }) => way), play, matched };
}

/** With more ways than this not every combination of polarities is tried, but one way at a time. */
const mostCombined = 4;

/** Which ways are reversed; the first stays. */
function turnsOf(count: number): boolean[][] {
  const codes =
    count <= mostCombined
      ? Array.from({ length: 2 ** (count - 1) }, (_, code) => 2 * code)
      : [0, ...Array.from({ length: count - 1 }, (_, v) => 2 ** (v + 1))];
  return codes.map((code) => Array.from({ length: count }, (_, v) => ((code >> v) & 1) === 1));
}

/** As finely as one would set it: 0.1 dB, 0.01 ms. */
const asSet = ({ gainDb, delayMs, isReversed }: ActiveWay): ActiveWay => ({
  gainDb: Math.round(10 * gainDb) / 10 + 0,
  delayMs: Math.round(100 * delayMs) / 100,
  isReversed,
});

/** A decibel that is lost to phase counts like so many of deviation. */
const lossWeight = 0.5;

/** The drivers of a way at the amplifier's voltage, in their own polarity, through its slopes. */
function filteredOf(
  { polarity, target }: Way,
  { pressure, voltage }: WayPrediction,
  { amplifier }: Design,
  frequencyHz: Float64Array,
): GridSpectrum {
  const sign = polarity === 'reversed' ? -1 : 1;
  const filter = target && wayTargetTransfer(target, frequencyHz);
  const re = new Float64Array(frequencyHz.length);
  const im = new Float64Array(frequencyHz.length);
  for (let i = 0; i < re.length; i++) {
    const [x, y] = [voltage.re[i], voltage.im[i]];
    const square = x * x + y * y;
    // Where the network lets nothing through, nothing can be divided out.
    if (square === 0) continue;
    const scale = (sign * amplifier.volts) / square;
    const aloneRe = scale * (pressure.re[i] * x + pressure.im[i] * y);
    const aloneIm = scale * (pressure.im[i] * x - pressure.re[i] * y);
    const [fRe, fIm] = filter ? [filter.re[i], filter.im[i]] : [1, 0];
    re[i] = aloneRe * fRe - aloneIm * fIm;
    im[i] = aloneRe * fIm + aloneIm * fRe;
  }
  return { re, im };
}

function shifted(
  { re, im }: GridSpectrum,
  { gainDb, delayMs, isReversed }: ActiveWay,
  frequencyHz: Float64Array,
): GridSpectrum {
  const gain = (isReversed ? -1 : 1) * 10 ** (gainDb / 20);
  const out = { re: new Float64Array(re.length), im: new Float64Array(re.length) };
  for (let i = 0; i < re.length; i++) {
    const angle = (-2 * Math.PI * frequencyHz[i] * delayMs) / 1000;
    const [x, y] = [gain * Math.cos(angle), gain * Math.sin(angle)];
    out.re[i] = re[i] * x - im[i] * y;
    out.im[i] = re[i] * y + im[i] * x;
  }
  return out;
}

function added(pressures: readonly GridSpectrum[]): GridSpectrum {
  const sum = (side: 're' | 'im') =>
    pressures[0][side].map((_, i) => pressures.reduce((all, one) => all + one[side][i], 0));
  return { re: sum('re'), im: sum('im') };
}

/** What they would make if all were in phase. */
const aligned = (pressures: readonly GridSpectrum[]): GridSpectrum => ({
  re: pressures[0].re.map((_, i) =>
    pressures.reduce((all, { re, im }) => all + Math.sqrt(re[i] * re[i] + im[i] * im[i]), 0),
  ),
  im: new Float64Array(pressures[0].re.length),
});

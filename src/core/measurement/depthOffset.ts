import { problem, ProblemError } from '@/core/problem';
import { amplitude, decibels } from '@/core/spectrum/level';
import { leastSquares } from '@/core/search/leastSquares';
import { excessDelay } from './excessDelay';
import { interpolated } from './interpolate';
import { minimumPhase, type Tails } from './minimumPhase';
import type { Samples } from './samples';

/**
 * A path by which one driver is farther from the microphone than another, and how well the data say
 * so.
 */
interface OffsetCandidate {
  /** Positive: B is farther from the microphone than A. */
  readonly offsetMm: number;
  /** Of the sum's level over the band, dB. */
  readonly rmsDb: number;
}

export interface DepthOffset extends OffsetCandidate {
  /** From the scatter of the sum, and from the doubt in the tails. */
  readonly standardErrorMm: number;
  /** Whether another offset explains the sum nearly as well. */
  readonly isAmbiguous: boolean;
  /** The other local minima of the misfit, best first. */
  readonly alternatives: readonly OffsetCandidate[];
  readonly fromHz: number;
  readonly toHz: number;
  /**
   * Whether the sum fits better with one driver reversed: then one was wired the other way when it
   * was measured.
   */
  readonly isReversed: boolean;
  /** Misfit over offset, for a picture. */
  readonly landscape: readonly OffsetCandidate[];
}

/** A driver alone, with the slopes of its level outside the data. */
export interface DriverAlone {
  readonly samples: Samples;
  readonly tails: Tails;
  /** How far the slopes of the tails may be off, dB per octave; 0 when they are known. */
  readonly slopeDoubt?: number;
}

/** Offsets tried, either way, mm. */
const farthestMm = 400;
const pitchMm = 2;
/** Where one driver is this much weaker than the other, the sum says nothing of their distance. */
const overlapDb = 20;
/** A second minimum with less than this many times the misfit makes the answer ambiguous. */
const clearFactor = 1.5;
/** Sums deep under the drivers are mostly noise, dB under the louder one. */
const deepestDb = 30;

/**
 * How much farther from the microphone driver B is than driver A, from three measurements with
 * nothing moved: A alone, B alone, both in parallel. The drivers are taken as minimum-phase; the
 * offset τ minimises
 *
 *   Σ ( 20 lg |A + B·e^{−jωτ}| − measured sum )²
 *
 * over the band where they overlap. It is periodic, so all local minima within ±400 mm are found
 * and compared.
 *
 * @param band Hz, limits within which the drivers must be within 20 dB of each other to count
 * @throws ProblemError `no_overlap`
 */
export function depthOffset(
  a: DriverAlone,
  b: DriverAlone,
  sum: Samples,
  speedOfSoundMps: number,
  band?: { readonly fromHz?: number | undefined; readonly toHz?: number | undefined },
): DepthOffset {
  const overlap = overlapOf(a, b, sum, band);
  const seconds = (mm: number) => mm / 1000 / speedOfSoundMps;
  const rms = (mm: number, sign: 1 | -1) => rmsDb(overlap, seconds(mm), sign);
  const tried = Array.from(
    { length: (2 * farthestMm) / pitchMm + 1 },
    (_, i) => i * pitchMm - farthestMm,
  );
  const landscapes = ([1, -1] as const).map((sign) => ({
    sign,
    points: tried.map((offsetMm) => ({ offsetMm, rmsDb: rms(offsetMm, sign) })),
  }));
  const minimaOf = ({ sign, points }: (typeof landscapes)[number]): OffsetCandidate[] =>
    points
      .filter(
        ({ rmsDb: here }, i) =>
          i > 0 &&
          i < points.length - 1 &&
          here <= points[i - 1].rmsDb &&
          here < points[i + 1].rmsDb,
      )
      .map(({ offsetMm }) => settled(offsetMm, (mm) => rms(mm, sign)))
      .sort((one, other) => one.rmsDb - other.rmsDb);
  const [asIs, reversed] = landscapes.map(minimaOf);
  const isReversed =
    reversed.length > 0 && reversed[0].rmsDb * clearFactor < (asIs.at(0)?.rmsDb ?? Infinity);
  const minima = isReversed ? reversed : asIs;
  if (minima.length === 0)
    throw problem(
      'no_overlap',
      'both together',
      `No offset within ±${farthestMm} mm explains the sum better than its neighbours.`,
      'The drivers overlap too little, or the sum was not measured in the same place.',
      'Measure all three with nothing moved, without a crossover.',
    );
  const [best, ...alternatives] = minima;
  const sign = isReversed ? -1 : 1;
  const doubts = tailDoubts(a, b).map((changed) => {
    const other = overlapOf(changed.a, changed.b, sum, band);
    const from = Math.round(best.offsetMm / pitchMm) * pitchMm;
    return nearest(from, (mm) => rmsDb(other, seconds(mm), sign)) - best.offsetMm;
  });
  return {
    ...best,
    standardErrorMm: Math.hypot(standardError(overlap, seconds, best.offsetMm, sign), ...doubts),
    isAmbiguous: alternatives.some(({ rmsDb: other }) => other < clearFactor * best.rmsDb),
    alternatives: alternatives.slice(0, 4),
    fromHz: overlap.frequencyHz[0],
    toHz: overlap.frequencyHz[overlap.frequencyHz.length - 1],
    isReversed,
    landscape: landscapes[isReversed ? 1 : 0].points,
  };
}

/**
 * The two drivers with one of their four tails off by as much as it may be, for each that may be
 * off.
 */
function tailDoubts(a: DriverAlone, b: DriverAlone): { a: DriverAlone; b: DriverAlone }[] {
  const changed = (of: DriverAlone) =>
    of.slopeDoubt
      ? (['belowDbPerOctave', 'aboveDbPerOctave'] as const).map((end) => ({
          ...of,
          tails: { ...of.tails, [end]: of.tails[end] - of.slopeDoubt! },
        }))
      : [];
  return [...changed(a).map((one) => ({ a: one, b })), ...changed(b).map((one) => ({ a, b: one }))];
}

/** The bottom of the valley that a place lies in, mm. */
function nearest(fromMm: number, misfit: (mm: number) => number): number {
  let here = fromMm;
  for (const step of [pitchMm, -pitchMm])
    while (Math.abs(here) < farthestMm && misfit(here + step) < misfit(here)) here += step;
  return settled(here, misfit).offsetMm;
}

/** Both drivers and the measured sum on common frequencies. */
interface Overlap {
  readonly frequencyHz: Float64Array;
  readonly a: Float64Array;
  readonly b: Float64Array;
  /** Phase of B less that of A, radians, without the offset. */
  readonly phase: Float64Array;
  readonly sumDb: Float64Array;
}

function overlapOf(
  a: DriverAlone,
  b: DriverAlone,
  sum: Samples,
  band: { readonly fromHz?: number | undefined; readonly toHz?: number | undefined } = {},
): Overlap {
  const low = Math.max(...[a.samples, b.samples, sum].map(({ frequencyHz }) => frequencyHz[0]));
  const high = Math.min(
    ...[a.samples, b.samples, sum].map(({ frequencyHz }) => frequencyHz[frequencyHz.length - 1]),
  );
  const [fromHz, toHz] = [Math.max(low, band.fromHz ?? low), Math.min(high, band.toHz ?? high)];
  const hz = sum.frequencyHz.filter((f) => f >= fromHz && f <= toHz);
  const [levelA, levelB, levelSum] = [a.samples, b.samples, sum].map((samples) =>
    interpolated(samples.frequencyHz, samples.magnitude, hz),
  );
  const phaseOf = ({ samples, tails }: DriverAlone) =>
    interpolated(
      samples.frequencyHz,
      minimumPhase(samples.frequencyHz, samples.magnitude, tails),
      hz,
    );
  const [phaseA, phaseB] = [phaseOf(a), phaseOf(b)];
  const used = [...hz.keys()].filter(
    (i) =>
      Math.abs(levelA[i] - levelB[i]) <= overlapDb &&
      levelSum[i] >= Math.max(levelA[i], levelB[i]) - deepestDb,
  );
  if (used.length < 8)
    throw problem(
      'no_overlap',
      `${fromHz.toFixed(0)} to ${toHz.toFixed(0)} Hz`,
      `The drivers are within ${overlapDb} dB of each other at ${used.length} points only.`,
      'An offset needs eight or more.',
      'Measure without a crossover, or give a wider band.',
    );
  const pick = (values: Float64Array) => Float64Array.from(used, (i) => values[i]);
  return {
    frequencyHz: pick(hz),
    a: pick(levelA).map(amplitude),
    b: pick(levelB).map(amplitude),
    phase: pick(phaseB).map((angle, i) => angle - phaseA[used[i]]),
    sumDb: pick(levelSum),
  };
}

/** Differences of level between computed and measured sum, dB. */
function residuals(
  { frequencyHz, a, b, phase, sumDb }: Overlap,
  seconds: number,
  sign: 1 | -1,
  out: Float64Array,
): Float64Array {
  for (let i = 0; i < out.length; i++) {
    const angle = phase[i] - 2 * Math.PI * frequencyHz[i] * seconds;
    const power = a[i] ** 2 + b[i] ** 2 + 2 * sign * a[i] * b[i] * Math.cos(angle);
    // A computed zero against a measured dip is a large misfit, not an endless one.
    const floor = (a[i] + b[i]) ** 2 * 1e-4;
    out[i] = decibels(Math.max(power, floor)) / 2 - sumDb[i];
  }
  return out;
}

function rmsDb(overlap: Overlap, seconds: number, sign: 1 | -1): number {
  const all = residuals(overlap, seconds, sign, new Float64Array(overlap.sumDb.length));
  let squares = 0;
  for (const one of all) squares += one * one;
  return Math.sqrt(squares / all.length);
}

/** Bottom of the valley around a point, by golden section to a micrometre. */
function settled(aroundMm: number, misfit: (mm: number) => number): OffsetCandidate {
  const golden = (Math.sqrt(5) - 1) / 2;
  let [low, high] = [aroundMm - pitchMm, aroundMm + pitchMm];
  while (high - low > 1e-3) {
    const [left, right] = [high - golden * (high - low), low + golden * (high - low)];
    if (misfit(left) < misfit(right)) high = right;
    else low = left;
  }
  const offsetMm = (low + high) / 2;
  return { offsetMm, rmsDb: misfit(offsetMm) };
}

/** From the curvature of the misfit, with the residuals' own scatter. */
function standardError(
  overlap: Overlap,
  seconds: (mm: number) => number,
  offsetMm: number,
  sign: 1 | -1,
): number {
  const { covariance } = leastSquares([offsetMm / 100], overlap.sumDb.length, ([scaled], out) => {
    residuals(overlap, seconds(scaled * 100), sign, out);
  });
  return 100 * Math.sqrt(covariance[0][0]);
}

/**
 * How much farther B is than A by the excess delays of two responses with one time reference.
 *
 * @returns mm, positive when B is farther; null without phase or where no delay fits
 */
export function depthBetween(
  a: DriverAlone,
  b: DriverAlone,
  speedOfSoundMps: number,
): number | null {
  const delay = ({ samples, tails }: DriverAlone) => {
    try {
      return excessDelay(samples, tails).seconds;
    } catch (error) {
      if (error instanceof ProblemError) return null;
      throw error;
    }
  };
  const [first, second] = [delay(a), delay(b)];
  return first === null || second === null ? null : (second - first) * speedOfSoundMps * 1000;
}

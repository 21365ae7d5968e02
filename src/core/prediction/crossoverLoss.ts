import { meantDeg, type Quadrature } from '@/core/document/meantPhase';
import { firstIndexFrom } from '@/core/grid/nearest';
import { crossovers } from './crossovers';
import type { FigureAt } from './figures';
import type { Prediction, WayPrediction } from './prediction';

/** How far apart, in dB, two ways may be for their phases to matter to each other. */
const overlapDb = 10;
/** The same as a ratio of squared pressures. */
const overlapSquare = 10 ** (overlapDb / 10);

/** Share of the pressure in phase, squared, below which a loss is not told any larger: 60 dB. */
const leastShare = 1e-6;

/**
 * What two neighbours lose at a frequency because their phase strays from what their slopes are
 * meant to make, dB: their sum against the sum in phase, 20·log((a + b)/|a + b·e^jφ|), times
 * (1 − (Δ/10 dB)²)² for a difference in level Δ, so that the crossover itself counts in full and
 * nothing counts from 10 dB on. Where others are louder it counts by the share that the two have in
 * all: multiply by (a + b)/Σ.
 *
 * @param meant degrees at which the two are meant to be, 0 or 90; the loss is that of the angle off
 *   it
 */
export function crossoverLossDb(
  aRe: number,
  aIm: number,
  bRe: number,
  bIm: number,
  meant: 0 | 90,
): number {
  const aSquare = aRe * aRe + aIm * aIm;
  const bSquare = bRe * bRe + bIm * bIm;
  // Most places are told apart without a root.
  if (!(aSquare < bSquare * overlapSquare && bSquare < aSquare * overlapSquare)) return 0;
  const ab = Math.sqrt(aSquare) * Math.sqrt(bSquare);
  const apart = (10 * Math.log10(aSquare / bSquare)) / overlapDb;
  // Of the angle off what is meant only the cosine counts, which needs no angle.
  const cosine = (meant === 0 ? aRe * bRe + aIm * bIm : Math.abs(aIm * bRe - aRe * bIm)) / ab;
  const share = ab / (aSquare + bSquare + 2 * ab);
  const kept = Math.max(leastShare, 1 - 2 * share * (1 - cosine));
  return -10 * Math.log10(kept) * (1 - apart * apart) ** 2;
}

/** Angle between two pressures over what it is meant to be, radians. */
function offAngle(aRe: number, aIm: number, bRe: number, bIm: number, meant: 0 | 90): number {
  const angle = Math.atan2(aIm * bRe - aRe * bIm, aRe * bRe + aIm * bIm);
  return Math.abs(angle) - (meant * Math.PI) / 180;
}

/**
 * Slopes of {@link crossoverLossDb}: over the logarithm of a's magnitude against b's, and over a's
 * angle against b's in radians.
 */
export function crossoverLossSlopes(
  aRe: number,
  aIm: number,
  bRe: number,
  bIm: number,
  meant: 0 | 90,
  out: { perNeper: number; perRadian: number },
): void {
  const [a, b] = [Math.hypot(aRe, aIm), Math.hypot(bRe, bIm)];
  const apart = (20 * Math.log10(a / b)) / overlapDb;
  const share = (a * b) / (a + b) ** 2;
  const off = offAngle(aRe, aIm, bRe, bIm, meant);
  const kept = 1 - 2 * share * (1 - Math.cos(off));
  const isWhole = kept > leastShare;
  const fade = 1 - apart * apart;
  const lossDb = -10 * Math.log10(Math.max(leastShare, kept));
  const perKept = isWhole ? -10 / Math.LN10 / kept : 0;
  const shareSlope = (share * (b - a)) / (a + b);
  const apartSlope = 20 / Math.LN10 / overlapDb;
  out.perNeper =
    fade * fade * perKept * -2 * (1 - Math.cos(off)) * shareSlope -
    4 * fade * apart * apartSlope * lossDb;
  const turn = Math.sign(Math.atan2(aIm * bRe - aRe * bIm, aRe * bRe + aIm * bIm));
  out.perRadian = fade * fade * perKept * -2 * share * Math.sin(off) * turn;
}

const magnitudeAt = ({ re, im }: { re: Float64Array; im: Float64Array }, i: number): number =>
  Math.sqrt(re[i] * re[i] + im[i] * im[i]);

/** A loss between neighbours, and where they cross over. */
interface CrossoverLoss extends FigureAt {
  readonly lower: WayPrediction;
  readonly upper: WayPrediction;
}

/**
 * The largest loss between neighbouring ways, {@link crossoverLossDb}.
 *
 * @param quadrature pairs that are meant to be 90° apart; all others are meant to be in phase
 * @returns null where no two ways cross over
 */
export function crossoverLoss(
  prediction: Prediction,
  quadrature: Quadrature = [],
): CrossoverLoss | null {
  let worst: CrossoverLoss | null = null;
  for (const { lower, upper, atHz } of crossovers(prediction)) {
    const meant = meantDeg(quadrature, lower.wayId, upper.wayId);
    const [a, b] = [lower.pressure, upper.pressure];
    worst ??= { value: 0, atHz, lower, upper };
    for (let i = 0; i < prediction.frequencyHz.length; i++) {
      const loss = crossoverLossDb(a.re[i], a.im[i], b.re[i], b.im[i], meant);
      if (loss <= worst.value) continue;
      let all = 0;
      for (const { pressure } of prediction.ways) all += magnitudeAt(pressure, i);
      const value = (loss * (magnitudeAt(a, i) + magnitudeAt(b, i))) / all;
      if (value > worst.value) worst = { value, atHz: prediction.frequencyHz[i], lower, upper };
    }
  }
  return worst;
}

/**
 * How far the phase strays from what the slopes are meant to make, at the crossover where that is
 * worst, degrees: between the points of the grid by the line between them.
 */
export function phaseTrackingDeg(
  prediction: Prediction,
  quadrature: Quadrature = [],
): FigureAt | null {
  let worst: FigureAt | null = null;
  for (const { lower, upper, atHz } of crossovers(prediction)) {
    const meant = meantDeg(quadrature, lower.wayId, upper.wayId);
    const { frequencyHz } = prediction;
    const i = Math.max(1, firstIndexFrom(frequencyHz, atHz * (1 - 1e-12)));
    const share =
      Math.log(atHz / frequencyHz[i - 1]) / Math.log(frequencyHz[i] / frequencyHz[i - 1]);
    const before = phaseBetweenDeg(lower, upper, i - 1);
    const turn = ((phaseBetweenDeg(lower, upper, i) - before + 540) % 360) - 180;
    const there = ((before + share * turn + 540) % 360) - 180;
    const value = Math.abs(Math.abs(there) - meant);
    if (!worst || value > worst.value) worst = { value, atHz };
  }
  return worst;
}

/** Phase of one way over another at a place of the grid, −180…180°. */
export function phaseBetweenDeg(
  { pressure: one }: WayPrediction,
  { pressure: other }: WayPrediction,
  i: number,
): number {
  const re = one.re[i] * other.re[i] + one.im[i] * other.im[i];
  const im = one.im[i] * other.re[i] - one.re[i] * other.im[i];
  return (Math.atan2(im, re) * 180) / Math.PI;
}

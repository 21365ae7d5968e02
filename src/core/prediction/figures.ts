import { sensitivityVolts } from '@/core/driver/efficiency';
import type { Target } from '@/core/document/briefSchema';
import { meantDeg, type Quadrature } from '@/core/document/meantPhase';
import type { Prediction, WayPrediction } from './prediction';
import type { Design } from '@/core/document/schema';
import { targetDb } from '@/core/document/target';

/** A figure and the frequency at which it was found. */
export interface FigureAt {
  readonly value: number;
  readonly atHz: number;
}

/** A range of frequency, both ends included. */
export interface Band {
  readonly fromHz: number;
  readonly toHz: number;
}

/**
 * Band over which sensitivity is taken: the middle, where neither box nor beaming decides (common
 * practice).
 */
export const sensitivityBand: Band = { fromHz: 300, toHz: 3000 };

/**
 * Calls with each index whose frequency lies in the band; a hair of tolerance for ends that were
 * computed.
 */
function within(frequencyHz: Float64Array, { fromHz, toHz }: Band, visit: (i: number) => void) {
  for (let i = 0; i < frequencyHz.length; i++)
    if (frequencyHz[i] >= fromHz * (1 - 1e-9) && frequencyHz[i] <= toHz * (1 + 1e-9)) visit(i);
}

/**
 * Mean of a level over a band. The grid is logarithmic, so each octave counts alike.
 *
 * @returns dB, or null when there is no level in the band
 */
export const meanLevelDb = (
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  band: Band,
): number | null => meanOver(frequencyHz, band, (i) => levelDb[i]);

/** The same of something that is worked out only where it is asked for. */
function meanOver(
  frequencyHz: Float64Array,
  band: Band,
  levelDb: (i: number) => number,
): number | null {
  let [count, total] = [0, 0];
  within(frequencyHz, band, (i) => {
    const level = levelDb(i);
    if (!Number.isFinite(level)) return;
    count++;
    total += level;
  });
  return count === 0 ? null : total / count;
}

/**
 * Half the height of the narrowest band in which a curve stays around its target, and where it
 * deviates most from its own mean there: what "± dB" means.
 */
export function deviationDb(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  target: Target,
  band: Band,
): FigureAt | null {
  let [count, total] = [0, 0];
  let [high, highAt, low, lowAt] = [-Infinity, 0, Infinity, 0];
  within(frequencyHz, band, (i) => {
    const over = levelDb[i] - targetDb(target, frequencyHz[i]);
    if (!Number.isFinite(over)) return;
    count++;
    total += over;
    if (over > high) [high, highAt] = [over, i];
    if (over < low) [low, lowAt] = [over, i];
  });
  if (count === 0) return null;
  const mean = total / count;
  const worst = high - mean >= mean - low ? highAt : lowAt;
  return { value: (high - low) / 2, atHz: frequencyHz[worst] };
}

/**
 * The band of ± so many decibels around the target in which {@link deviationDb} places a curve; NaN
 * outside the band of frequency.
 */
export function targetBandDb(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  target: Target,
  band: Band,
  limitDb: number,
): { high: Float64Array; low: Float64Array } | null {
  let [highest, lowest] = [-Infinity, Infinity];
  within(frequencyHz, band, (i) => {
    const over = levelDb[i] - targetDb(target, frequencyHz[i]);
    if (!Number.isFinite(over)) return;
    highest = Math.max(highest, over);
    lowest = Math.min(lowest, over);
  });
  if (highest < lowest) return null;
  const middle = (highest + lowest) / 2;
  const high = new Float64Array(frequencyHz.length).fill(NaN);
  const low = new Float64Array(frequencyHz.length).fill(NaN);
  within(frequencyHz, band, (i) => {
    const level = middle + targetDb(target, frequencyHz[i]);
    high[i] = level + limitDb;
    low[i] = level - limitDb;
  });
  return { high, low };
}

/** A dip narrower than this is forgiven in a reach (IEC 60268-5), octaves. */
const forgivenOctaves = 1 / 9;

/** Level from which cut-offs are told: the mean over the band of the sensitivity, dB. */
export const cutOffReferenceDb = (
  frequencyHz: Float64Array,
  levelDb: Float64Array,
): number | null => meanLevelDb(frequencyHz, levelDb, sensitivityBand);

/**
 * Frequency at which the lows have fallen by so many decibels under the sensitivity.
 *
 * @returns Hz; the lowest frequency of the curve when it does not fall that far; null without a
 *   level
 */
export function cutOffHz(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  fallDb: number,
): number | null {
  const reference = cutOffReferenceDb(frequencyHz, levelDb);
  return reference === null
    ? null
    : fallsUnderHz(frequencyHz, levelDb, reference - fallDb, sensitivityBand.fromHz);
}

/**
 * Frequency at which the lows have fallen under a level, log-interpolated: searched downwards from
 * the middle, it ends at the first fall that is not a dip narrower than a ninth of an octave (IEC
 * 60268-5). What comes up again below, a port's hump or noise, is no reach.
 *
 * @param fromHz where the search begins
 * @returns Hz; the lowest frequency of the curve when it does not fall that far; null when it is
 *   nowhere above the level
 */
export function fallsUnderHz(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  wantedDb: number,
  fromHz: number,
): number | null {
  // Silence is under every level.
  const isUnder = (i: number) => !(levelDb[i] >= wantedDb);
  let i = frequencyHz.findIndex((hz, k) => hz >= fromHz && !isUnder(k));
  if (i < 0) return null;
  while (i > 0) {
    if (!isUnder(i - 1)) {
      i--;
      continue;
    }
    let bottom = i - 1;
    while (bottom > 0 && isUnder(bottom - 1)) bottom--;
    const isDip =
      bottom > 0 && Math.log2(frequencyHz[i] / frequencyHz[bottom - 1]) < forgivenOctaves;
    if (!isDip) {
      const share = Number.isFinite(levelDb[i - 1])
        ? (wantedDb - levelDb[i - 1]) / (levelDb[i] - levelDb[i - 1])
        : 1;
      return frequencyHz[i - 1] * (frequencyHz[i] / frequencyHz[i - 1]) ** share;
    }
    i = bottom - 1;
  }
  return frequencyHz[0];
}

/** Resistance between the amplifier's source and the speaker's terminals, Ω. */
export const sourceOhmsOf = ({ outputOhms, cableOhms }: Design['amplifier']): number =>
  outputOhms + cableOhms;

/** What a resistance before the terminals takes from their voltage, dB: |Z/(Z + R)|. */
export function sourceLossDb(ohms: number, phaseDeg: number, sourceOhms: number): number {
  const cos = Math.cos((phaseDeg * Math.PI) / 180);
  const whole = ohms ** 2 + 2 * sourceOhms * ohms * cos + sourceOhms ** 2;
  return 10 * Math.log10(ohms ** 2 / whole);
}

/** Voltage of an amplifier over the 2.83 V of a sensitivity, dB. */
export const overSensitivityVolts = ({ volts }: Design['amplifier']): number =>
  20 * Math.log10(volts / sensitivityVolts);

type Heard = Pick<Prediction, 'frequencyHz' | 'sum' | 'impedance' | 'loads'>;

/**
 * Mean level at 1 m over the middle for 2.83 V at the source, behind the amplifier's resistance and
 * the cable, dB.
 */
export function sourceLevelDb(
  { frequencyHz, sum }: Heard,
  amplifier: Design['amplifier'],
): number | null {
  const mean = sum && meanLevelDb(frequencyHz, sum.levelDb, sensitivityBand);
  return mean === null ? null : mean - overSensitivityVolts(amplifier);
}

/**
 * Sensitivity: mean level at 1 m over the middle for 2.83 V at the speaker's terminals (IEC
 * 60268-5), dB. With several amplifiers there is no one voltage at the terminals, and their
 * sources' counts.
 */
export function sensitivityDb(heard: Heard, amplifier: Design['amplifier']): number | null {
  const { sum, impedance, loads } = heard;
  const sourceOhms = sourceOhmsOf(amplifier);
  if (!sum || !impedance || loads.length > 1 || sourceOhms === 0)
    return sourceLevelDb(heard, amplifier);
  const { ohms, phaseDeg } = impedance;
  const mean = meanOver(
    heard.frequencyHz,
    sensitivityBand,
    (i) => sum.levelDb[i] - sourceLossDb(ohms[i], phaseDeg[i], sourceOhms),
  );
  return mean === null ? null : mean - overSensitivityVolts(amplifier);
}

/** Smallest |Z| in the band of the prediction. */
export function lowestOhms({
  frequencyHz,
  impedance,
}: Pick<Prediction, 'frequencyHz' | 'impedance'>): FigureAt | null {
  if (!impedance) return null;
  let at = 0;
  for (let i = 1; i < frequencyHz.length; i++) if (impedance.ohms[i] < impedance.ohms[at]) at = i;
  return { value: impedance.ohms[at], atHz: frequencyHz[at] };
}

/**
 * Equivalent peak dissipation resistance: the resistor at which the output devices of a class-B
 * stage meet the same greatest instantaneous dissipation as at a load with phase (Benjamin, J.
 * Audio Eng. Soc. 42, 1994). It says how near they come to their safe area, not how warm they get:
 * that goes with |Z| and the angle. The instantaneous dissipation (1 − sin x)·sin(x − θ)/|Z| at
 * full output is greatest at x = π/6 − 2|θ|/3, where a resistor has 1/4; the algebra is ours.
 *
 * @param ohms |Z|
 * @param phaseDeg phase of Z; its sign does not matter
 */
export function equivalentOhms(ohms: number, phaseDeg: number): number {
  const phi = (Math.abs(phaseDeg) * Math.PI) / 180;
  return ohms / (4 * Math.sin(Math.PI / 6 + phi / 3) * (1 - Math.sin(Math.PI / 6 - (2 * phi) / 3)));
}

/** An equivalent resistance with the load that it belongs to. */
interface LoadAt extends FigureAt {
  /** |Z| and its phase. */
  readonly ohms: number;
  readonly phaseDeg: number;
}

/** Smallest equivalent resistance over the prediction, of whichever amplifier has it. */
export function lowestEquivalentOhms({
  frequencyHz,
  impedance,
  loads,
}: Pick<Prediction, 'frequencyHz' | 'impedance' | 'loads'>): LoadAt | null {
  let worst: LoadAt | null = null;
  for (const { ohms, phaseDeg } of loads.length > 0 ? loads : impedance ? [impedance] : [])
    for (let i = 0; i < frequencyHz.length; i++) {
      const value = equivalentOhms(ohms[i], phaseDeg[i]);
      if (!worst || value < worst.value)
        worst = { value, atHz: frequencyHz[i], ohms: ohms[i], phaseDeg: phaseDeg[i] };
    }
  return worst;
}

/** Where two neighbouring ways hand over: equal in level, and both heard. */
export interface Crossover {
  readonly lower: WayPrediction;
  readonly upper: WayPrediction;
  readonly atHz: number;
}

/**
 * Handing-over frequencies between ways, which are taken in rising order of the frequency where
 * each is strongest.
 */
export function crossovers({ frequencyHz, ways }: Prediction): Crossover[] {
  const heard = ways
    .filter(({ levelDb }) => levelDb.some(Number.isFinite))
    .map((way) => ({ way, centre: centreOf(way.levelDb) }))
    .sort((a, b) => a.centre - b.centre)
    .map(({ way }) => way);
  return heard.slice(1).flatMap((upper, i) => {
    const lower = heard[i];
    const j = crossingIndex(lower.levelDb, upper.levelDb);
    if (j < 0) return [];
    const before = lower.levelDb[j - 1] - upper.levelDb[j - 1];
    const after = lower.levelDb[j] - upper.levelDb[j];
    const share = Number.isFinite(before - after) ? before / (before - after) : 1;
    const atHz = frequencyHz[j - 1] * (frequencyHz[j] / frequencyHz[j - 1]) ** share;
    return [{ lower, upper, atHz }];
  });
}

/**
 * Place on the grid before which a lower way falls under an upper one; of several the loudest.
 *
 * @returns -1 where they never cross
 */
export function crossingIndex(lowerDb: Float64Array, upperDb: Float64Array): number {
  let cross = -1;
  for (let i = 1; i < lowerDb.length; i++)
    if (
      lowerDb[i - 1] > upperDb[i - 1] &&
      lowerDb[i] <= upperDb[i] &&
      (cross < 0 || lowerDb[i] > lowerDb[cross])
    )
      cross = i;
  return cross;
}

/**
 * Middle of the stretch in which a way stays within 6 dB of its highest level, as a place on the
 * grid.
 */
export function centreOf(levelDb: Float64Array): number {
  let highest = -Infinity;
  for (const level of levelDb) if (level > highest) highest = level;
  let [count, total] = [0, 0];
  for (let i = 0; i < levelDb.length; i++) {
    if (levelDb[i] < highest - 6) continue;
    count++;
    total += i;
  }
  return total / count;
}

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
  const a = Math.sqrt(aSquare);
  const b = Math.sqrt(bSquare);
  const apart = (20 * Math.log10(a / b)) / overlapDb;
  const share = (a * b) / (a + b) ** 2;
  const off = offAngle(aRe, aIm, bRe, bIm, meant);
  const kept = Math.max(leastShare, 1 - 2 * share * (1 - Math.cos(off)));
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

/** A loss between neighbours, and where they hand over. */
interface CrossoverLoss extends FigureAt {
  readonly lower: WayPrediction;
  readonly upper: WayPrediction;
}

/**
 * The largest loss between neighbouring ways, {@link crossoverLossDb}.
 *
 * @param quadrature pairs that are meant to be 90° apart; all others are meant to be in phase
 * @returns null where no two ways hand over
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
    const i = Math.max(
      1,
      frequencyHz.findIndex((hz) => hz >= atHz * (1 - 1e-12)),
    );
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

/** How far one level lies above another, dB; NaN where either is silent. Both on the same grid. */
export const levelDifferenceDb = (later: Float64Array, earlier: Float64Array): Float64Array =>
  later.map((level, i) =>
    Number.isFinite(level) && Number.isFinite(earlier[i]) ? level - earlier[i] : NaN,
  );

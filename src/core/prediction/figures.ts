import { sensitivityVolts } from '@/core/driver/efficiency';
import type { Target } from '@/core/document/briefSchema';
import type { Prediction } from './prediction';
import type { Design } from '@/core/document/schema';
import { targetDb } from '@/core/document/target';
import { firstIndexFrom } from '@/core/grid/nearest';

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
 * Places whose frequency lies in the band: the first, and the one after the last; a hair of tolerance
 * for ends that were computed. A band that ends before it begins has none.
 */
export function placesIn(
  frequencyHz: Float64Array,
  { fromHz, toHz }: Band,
): [first: number, end: number] {
  const first = firstIndexFrom(frequencyHz, fromHz * (1 - 1e-9));
  return [first, Math.max(first, firstIndexFrom(frequencyHz, toHz * (1 + 1e-9)))];
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
  const [from, to] = placesIn(frequencyHz, band);
  let [count, total] = [0, 0];
  for (let i = from; i < to; i++) {
    const level = levelDb(i);
    if (!Number.isFinite(level)) continue;
    count++;
    total += level;
  }
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
  const [from, to] = placesIn(frequencyHz, band);
  let [count, total] = [0, 0];
  let [high, highAt, low, lowAt] = [-Infinity, 0, Infinity, 0];
  for (let i = from; i < to; i++) {
    const over = levelDb[i] - targetDb(target, frequencyHz[i]);
    if (!Number.isFinite(over)) continue;
    count++;
    total += over;
    if (over > high) [high, highAt] = [over, i];
    if (over < low) [low, lowAt] = [over, i];
  }
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
  const [from, to] = placesIn(frequencyHz, band);
  let [highest, lowest] = [-Infinity, Infinity];
  for (let i = from; i < to; i++) {
    const over = levelDb[i] - targetDb(target, frequencyHz[i]);
    if (!Number.isFinite(over)) continue;
    highest = Math.max(highest, over);
    lowest = Math.min(lowest, over);
  }
  if (highest < lowest) return null;
  const middle = (highest + lowest) / 2;
  const high = new Float64Array(frequencyHz.length).fill(NaN);
  const low = new Float64Array(frequencyHz.length).fill(NaN);
  for (let i = from; i < to; i++) {
    const level = middle + targetDb(target, frequencyHz[i]);
    high[i] = level + limitDb;
    low[i] = level - limitDb;
  }
  return { high, low };
}

/** A dip narrower than this is forgiven in a reach (IEC 60268-5), octaves. */
const forgivenOctaves = 1 / 9;
/**
 * From here up a dip is one at a crossover, however wide, where the level comes back below it for so long:
 * no box ends there (common practice).
 */
const crossoverDips = { fromHz: 150, backOctaves: 1 };

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
 * 60268-5) or one at a crossover. What else comes up again below, a port's hump or noise, is no reach.
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
  /** Whether the level is over it from a place down for long enough. */
  const isBackBelow = (top: number): boolean => {
    let low = top;
    while (low > 0 && !isUnder(low - 1)) low--;
    return Math.log2(frequencyHz[top] / frequencyHz[low]) >= crossoverDips.backOctaves;
  };
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
      bottom > 0 &&
      (Math.log2(frequencyHz[i] / frequencyHz[bottom - 1]) < forgivenOctaves ||
        (frequencyHz[bottom] >= crossoverDips.fromHz && isBackBelow(bottom - 1)));
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
      // More ohms with less phase are easier: most places need no sines.
      if (worst && ohms[i] >= worst.ohms && Math.abs(phaseDeg[i]) <= Math.abs(worst.phaseDeg))
        continue;
      const value = equivalentOhms(ohms[i], phaseDeg[i]);
      if (!worst || value < worst.value)
        worst = { value, atHz: frequencyHz[i], ohms: ohms[i], phaseDeg: phaseDeg[i] };
    }
  return worst;
}

/** How far one level lies above another, dB; NaN where either is silent. Both on the same grid. */
export const levelDifferenceDb = (later: Float64Array, earlier: Float64Array): Float64Array =>
  later.map((level, i) =>
    Number.isFinite(level) && Number.isFinite(earlier[i]) ? level - earlier[i] : NaN,
  );

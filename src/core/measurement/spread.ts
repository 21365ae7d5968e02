import { responseOnGrid, impedanceOnGrid } from './onGrid';
import { decibels } from '@/core/spectrum/level';
import { problem } from '@/core/problem';
import type { MeasurementKind, Samples } from './samples';
import { smoothed } from './smooth';

/**
 * Several measurements of the same kind of driver: what they have in common, and where they differ.
 */
export interface Spread {
  readonly mean: Samples;
  /** Of each measurement from the mean, dB; smoothed to a twelfth of an octave. */
  readonly deviationsDb: readonly Float64Array[];
  /** Greatest difference between any two of them, and where. */
  readonly widest: { readonly db: number; readonly atHz: number };
  /** Root of the mean square of all deviations over the band compared, dB. */
  readonly rmsDb: number;
  readonly band: { readonly fromHz: number; readonly toHz: number };
  /** Whether every two of them stay within the limit of a pair. */
  readonly isMatched: boolean;
}

/** Most that two of a pair may differ, dB (common practice): 1 dB in level, 5 % in impedance. */
const pairLimitDb: Readonly<Record<MeasurementKind, number>> = {
  response: 1,
  impedance: decibels(1.05),
};
/** Responses are compared where they are within this of their highest level. */
const inUseDb = 15;

/**
 * Mean and spread of two or more samples of a driver. Levels are averaged in dB and phases as
 * angles about the first one's, impedances as complex numbers, on the first one's frequencies
 * within the band that all have.
 *
 * @throws ProblemError `too_few_samples`, `no_common_band`
 */
export function spreadOf(all: readonly Samples[], kind: MeasurementKind): Spread {
  if (all.length < 2)
    throw problem(
      'too_few_samples',
      'samples',
      'Two or more measurements are compared.',
      '',
      'Choose another one.',
    );
  const from = Math.max(...all.map(({ frequencyHz }) => frequencyHz[0]));
  const to = Math.min(...all.map(({ frequencyHz }) => frequencyHz[frequencyHz.length - 1]));
  const frequencyHz = all[0].frequencyHz.filter((hz) => hz >= from && hz <= to);
  if (frequencyHz.length < 8)
    throw problem(
      'no_common_band',
      'samples',
      'These measurements have no band in common.',
      '',
      'Choose measurements of the same driver.',
    );
  const onGrid = kind === 'response' ? responseOnGrid : impedanceOnGrid;
  const spectra = all.map((samples) => onGrid(samples, frequencyHz));
  const n = frequencyHz.length;
  const magnitude = new Float64Array(n);
  const phaseDeg = new Float64Array(n);
  const [first] = spectra;
  for (let i = 0; i < n; i++) {
    let [re, im, level, turn] = [0, 0, 0, 0];
    for (const spectrum of spectra) {
      const [a, b] = [spectrum.re[i], spectrum.im[i]];
      re += a / all.length;
      im += b / all.length;
      level += decibels(Math.hypot(a, b)) / all.length;
      // Angle from the first one's: their quotient.
      turn +=
        Math.atan2(b * first.re[i] - a * first.im[i], a * first.re[i] + b * first.im[i]) /
        all.length;
    }
    magnitude[i] = kind === 'response' ? level : Math.hypot(re, im);
    const angle =
      kind === 'response' ? Math.atan2(first.im[i], first.re[i]) + turn : Math.atan2(im, re);
    phaseDeg[i] = (angle * 180) / Math.PI;
  }
  const hasPhase = all.every((samples) => samples.phaseDeg !== null);
  const mean: Samples = { frequencyHz, magnitude, phaseDeg: hasPhase ? phaseDeg : null };
  const courseOf = (level: Float64Array) =>
    smoothed({ frequencyHz, magnitude: level, phaseDeg: null }, 1 / 12).magnitude;
  const meanDb = courseOf(kind === 'response' ? magnitude : magnitude.map(decibels));
  const deviationsDb = spectra.map(({ re, im }) =>
    courseOf(re.map((x, i) => decibels(Math.hypot(x, im[i])))).map((level, i) => level - meanDb[i]),
  );
  const highest = meanDb.reduce((high, level) => Math.max(high, level), -Infinity);
  const used = [...frequencyHz.keys()].filter(
    (i) => kind === 'impedance' || meanDb[i] > highest - inUseDb,
  );
  let widest = { db: 0, atHz: frequencyHz[0] };
  let square = 0;
  for (const i of used) {
    const here = deviationsDb.map((deviation) => deviation[i]);
    const db = Math.max(...here) - Math.min(...here);
    if (db > widest.db) widest = { db, atHz: frequencyHz[i] };
    for (const one of here) square += one * one;
  }
  return {
    mean,
    deviationsDb,
    widest,
    rmsDb: Math.sqrt(square / (used.length * all.length)),
    band: { fromHz: frequencyHz[used[0]], toHz: frequencyHz[used[used.length - 1]] },
    isMatched: widest.db <= pairLimitDb[kind],
  };
}

import { decibels } from '@/core/spectrum/level';

/** Mains hum in a recording. */
interface Hum {
  readonly mainsHz: 50 | 60;
  /** Peak of the recording over the rms of the hum, dB. */
  readonly belowPeakDb: number;
}

/** Fundamental and multiples that make a hum. */
const multiples = [1, 2, 3];
/** Share of the silence's power that must be hum before it is spoken of. */
const leastShare = 0.5;
/** Hum that lies deeper than this under the recording's peak disturbs nothing. */
const deepestDb = 85;
/** The room rings this long after the sweep. */
const ringSeconds = 0.1;
/** Fewer periods tell 50 from 60 Hz badly. */
const leastPeriods = 5;

/**
 * Looks for mains hum where the sweep is silent: before it begins and after it has died away.
 *
 * @param recording from the moment at which the sweep's file began
 * @param sweep what was played
 * @returns the hum, or null when there is none or the silence is too short to tell
 */
export function humBeside(
  recording: Float64Array,
  sweep: Float64Array,
  sampleRateHz: number,
): Hum | null {
  let [peak, loudest] = [0, 0];
  for (const value of recording) peak = Math.max(peak, Math.abs(value));
  for (const value of sweep) loudest = Math.max(loudest, Math.abs(value));
  const isSound = (value: number) => Math.abs(value) > 1e-3 * loudest;
  const before = recording.subarray(0, Math.max(0, sweep.findIndex(isSound)));
  const after = recording.subarray(
    sweep.findLastIndex(isSound) + Math.round(ringSeconds * sampleRateHz),
  );
  const silence = before.length > after.length ? before : after;
  const [best] = ([50, 60] as const)
    .map((mainsHz) => ({ mainsHz, ...lines(silence, mainsHz / sampleRateHz) }))
    .sort((a, b) => b.share - a.share);
  const belowPeakDb = decibels(peak) - decibels(best.power) / 2;
  return best.share >= leastShare && belowPeakDb < deepestDb
    ? { mainsHz: best.mainsHz, belowPeakDb }
    : null;
}

/**
 * Power of a frequency and its multiples over whole periods, where they are orthogonal, and their
 * share of all.
 */
function lines(
  samples: Float64Array,
  cyclesPerSample: number,
): { readonly power: number; readonly share: number } {
  const periods = Math.floor(samples.length * cyclesPerSample);
  if (periods < leastPeriods) return { power: 0, share: 0 };
  const count = Math.round(periods / cyclesPerSample);
  let [mean, square] = [0, 0];
  for (let i = 0; i < count; i++) {
    mean += samples[i] / count;
    square += samples[i] ** 2 / count;
  }
  let power = 0;
  for (const multiple of multiples) {
    let [re, im] = [0, 0];
    for (let i = 0; i < count; i++) {
      const angle = 2 * Math.PI * multiple * cyclesPerSample * i;
      re += samples[i] * Math.cos(angle);
      im += samples[i] * Math.sin(angle);
    }
    power += (2 * (re * re + im * im)) / count ** 2;
  }
  const all = square - mean * mean;
  return { power, share: all > 0 ? power / all : 0 };
}

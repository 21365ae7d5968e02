import { problem } from '@/core/problem';
import { forward, inverse, powerOfTwo } from '@/core/spectrum/fourier';
import { decibels } from '@/core/spectrum/level';
import type { Samples } from './samples';

/** A response in time. Sample i is at (i − zeroIndex) / sampleRateHz. */
export interface Impulse {
  readonly sampleRateHz: number;
  readonly samples: Float64Array;
  /** Where time is zero: the moment at which the excitation began. */
  readonly zeroIndex: number;
}

/**
 * Part of an impulse that counts: rises by a half cosine up to `from`, is flat to `fadeFrom`, falls
 * to 0 at `to`.
 */
export interface TimeWindow {
  readonly riseSeconds: number;
  readonly fromSeconds: number;
  readonly fadeFromSeconds: number;
  readonly toSeconds: number;
}

/** Share of the highest |value| at which sound has arrived (common practice). */
const arrivalShare = 0.2;

/**
 * Response of a linear system from what went in and what came out: spectra divided, with a floor
 * under the excitation's power so that silence is not divided by silence.
 *
 * What a recording of an exponential sweep holds of harmonics comes out before time zero, each in
 * its own place (Farina 2000).
 *
 * @param recording what was recorded, from the moment at which the excitation's file began
 * @param excitation what was played
 * @param topHz top of the excitation's band
 * @throws ProblemError `silent_excitation`
 */
export function deconvolved(
  recording: Float64Array,
  excitation: Float64Array,
  sampleRateHz: number,
  topHz: number,
): Impulse {
  const length = powerOfTwo(recording.length + excitation.length);
  const out = forward(recording, length);
  const into = forward(excitation, length);
  const bin = (hz: number) => Math.min(length / 2, Math.round((hz * length) / sampleRateHz));
  let [power, bins] = [0, 0];
  for (let k = bin(0.9 * topHz); k <= bin(0.97 * topHz); k++, bins++)
    power += into.re[k] ** 2 + into.im[k] ** 2;
  if (power === 0)
    throw problem(
      'silent_excitation',
      'reference',
      'The reference is silent.',
      '',
      'Give the sweep that was played.',
    );
  const floor = (1e-3 * power) / bins;
  for (let k = 0; k < out.re.length; k++) {
    const [a, b, c, d] = [out.re[k], out.im[k], into.re[k], into.im[k]];
    const divisor = c * c + d * d + floor;
    out.re[k] = (a * c + b * d) / divisor;
    out.im[k] = (b * c - a * d) / divisor;
  }
  const circular = inverse(out);
  // Negative times are at the end of the circle: brought before the others.
  const zeroIndex = length / 2;
  const samples = new Float64Array(length);
  samples.set(circular.subarray(length - zeroIndex), 0);
  samples.set(circular.subarray(0, length - zeroIndex), zeroIndex);
  return { sampleRateHz, samples, zeroIndex };
}

/**
 * When the direct sound arrives: the first time at which a fifth of the highest value is reached,
 * in seconds.
 */
export function arrivalSeconds({ samples, sampleRateHz, zeroIndex }: Impulse): number {
  let highest = 0;
  for (let i = zeroIndex; i < samples.length; i++)
    highest = Math.max(highest, Math.abs(samples[i]));
  for (let i = zeroIndex; i < samples.length; i++)
    if (Math.abs(samples[i]) >= arrivalShare * highest) return (i - zeroIndex) / sampleRateHz;
  return 0;
}

/**
 * What counts as noise before the arrival: this many times the quietest tenth of it (common
 * practice: 6 dB).
 */
const noiseFactor = 2;
/** Below this share of the peak nothing is looked for, −90 dB: rounding in 16 bits. */
const leastShare = 10 ** (-90 / 20);
/** Quiet for so long, and what lies before has nothing to do with the arrival. */
const quietSeconds = 0.01;
/** A longer lead is a fault of the file. */
const longestLeadSeconds = 1;

/**
 * How long before the arrival the impulse rises above the noise, in seconds: what rings before the
 * peak in a linear-phase filter, or the start of a slow rise. 0 when there is nothing but noise or
 * silence.
 *
 * The rms of each millisecond is compared with the quietest tenth of those before the arrival.
 */
export function leadBeforeArrival(impulse: Impulse): number {
  const { samples, sampleRateHz, zeroIndex } = impulse;
  const arrival = zeroIndex + Math.round(arrivalSeconds(impulse) * sampleRateHz);
  const size = Math.max(1, Math.round(sampleRateHz / 1000));
  const count = Math.floor(Math.min(arrival - zeroIndex, longestLeadSeconds * sampleRateHz) / size);
  if (count === 0) return 0;
  let peak = 0;
  for (const value of samples) peak = Math.max(peak, Math.abs(value));
  // Block 0 ends at the arrival, block 1 before it, and so on.
  const rms = Float64Array.from({ length: count }, (_, block) => {
    let sum = 0;
    for (let i = arrival - (block + 1) * size; i < arrival - block * size; i++)
      sum += samples[i] * samples[i];
    return Math.sqrt(sum / size);
  });
  const quietest = rms.slice().sort()[Math.floor(count / 10)];
  const threshold = Math.max(noiseFactor * quietest, leastShare * peak);
  const quietBlocks = Math.round(quietSeconds * 1000);
  let last = -1;
  for (let block = 0; block < count && block - last <= quietBlocks; block++)
    if (rms[block] > threshold) last = block;
  return ((last + 1) * size) / sampleRateHz;
}

/**
 * The least lead before the arrival that a gate keeps: filters ring a little before the first
 * strong sample.
 */
const leastLeadSeconds = 0.0005;

/**
 * A half window that ends a given time after the arrival: flat for two thirds of it, then a half
 * cosine to nothing.
 *
 * @param ringsBefore how long before the arrival the impulse has begun, see {@link
 *   leadBeforeArrival}
 */
export function gateAfter(arrival: number, lengthSeconds: number, ringsBefore = 0): TimeWindow {
  const leadSeconds = Math.max(leastLeadSeconds, ringsBefore);
  return {
    riseSeconds: leastLeadSeconds,
    fromSeconds: arrival - leadSeconds,
    fadeFromSeconds: arrival + (2 / 3) * lengthSeconds,
    toSeconds: arrival + lengthSeconds,
  };
}

/** Weight of a window at a time, 0 to 1. */
export function windowAt(
  { riseSeconds, fromSeconds, fadeFromSeconds, toSeconds }: TimeWindow,
  seconds: number,
): number {
  if (seconds <= fromSeconds - riseSeconds || seconds >= toSeconds) return 0;
  if (seconds < fromSeconds)
    return 0.5 + 0.5 * Math.cos((Math.PI * (fromSeconds - seconds)) / riseSeconds);
  if (seconds <= fadeFromSeconds) return 1;
  return (
    0.5 + 0.5 * Math.cos((Math.PI * (seconds - fadeFromSeconds)) / (toSeconds - fadeFromSeconds))
  );
}

/** The windowed part of an impulse, and the time of its first sample. */
export function windowed(
  { samples, sampleRateHz, zeroIndex }: Impulse,
  window: TimeWindow,
): { readonly values: Float64Array; readonly startSeconds: number } {
  const at = (seconds: number) =>
    Math.min(samples.length, Math.max(0, zeroIndex + Math.ceil(seconds * sampleRateHz)));
  const first = at(window.fromSeconds - window.riseSeconds);
  const values = samples.slice(first, at(window.toSeconds));
  for (let i = 0; i < values.length; i++)
    values[i] *= windowAt(window, (first + i - zeroIndex) / sampleRateHz);
  return { values, startSeconds: (first - zeroIndex) / sampleRateHz };
}

/**
 * Response of the windowed part of an impulse at any frequencies, by the Fourier sum itself: no
 * interpolation between bins. Phase refers to time zero, so that the flight time is in it.
 *
 * @param frequencyHz rising, below half the sample rate
 * @param referenceLevelDb level of a factor of one
 */
export function responseOf(
  impulse: Impulse,
  window: TimeWindow,
  frequencyHz: Float64Array,
  referenceLevelDb = 0,
): Samples {
  const { values, startSeconds } = windowed(impulse, window);
  const magnitude = new Float64Array(frequencyHz.length);
  const phaseDeg = new Float64Array(frequencyHz.length);
  for (let f = 0; f < frequencyHz.length; f++) {
    const [re, im] = fourierSum(values, frequencyHz[f] / impulse.sampleRateHz);
    magnitude[f] = referenceLevelDb + decibels(Math.hypot(re, im));
    const turns = Math.atan2(im, re) / (2 * Math.PI) - frequencyHz[f] * startSeconds;
    phaseDeg[f] = 360 * (turns - Math.round(turns));
  }
  return { frequencyHz, magnitude, phaseDeg };
}

/**
 * Σ x[n]·e^{−2πi·ν·n}. The factor is turned step by step and set right every 512 samples, before
 * rounding adds up.
 *
 * @param cyclesPerSample ν, frequency over sample rate
 */
export function fourierSum(
  values: Float64Array,
  cyclesPerSample: number,
): [re: number, im: number] {
  const angle = -2 * Math.PI * cyclesPerSample;
  const [turnRe, turnIm] = [Math.cos(angle), Math.sin(angle)];
  let [re, im, cos, sin] = [0, 0, 1, 0];
  for (let n = 0; n < values.length; n++) {
    if (n % 512 === 0) {
      cos = Math.cos(angle * n);
      sin = Math.sin(angle * n);
    }
    re += values[n] * cos;
    im += values[n] * sin;
    const next = cos * turnRe - sin * turnIm;
    sin = cos * turnIm + sin * turnRe;
    cos = next;
  }
  return [re, im];
}

/**
 * Response to a step that begins at time zero: the running sum of the impulse, offset by what came
 * before.
 */
export function stepResponse({ samples, sampleRateHz, zeroIndex }: Impulse): Impulse {
  const out = new Float64Array(samples.length);
  let sum = 0;
  for (let i = zeroIndex; i < samples.length; i++) out[i] = sum += samples[i];
  return { samples: out, sampleRateHz, zeroIndex };
}

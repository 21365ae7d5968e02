import { forward, inverse, powerOfTwo } from '@/core/spectrum/fourier';
import { decibels } from '@/core/spectrum/level';
import { arrivalSeconds, deconvolved, windowed } from './impulse';
import { exponentialSweep } from './sweep';

/** How a sweep is played through a sound device. */
interface CaptureSweep {
  /** Peak below full scale, dB: 0 or less. */
  readonly levelDb: number;
  readonly seconds: number;
  readonly sampleRateHz: number;
}

const band = { fromHz: 20, toHz: 20_000 };
/** Before the sweep the noise is heard; after it the device's delay and the room ring out. */
const silence = { before: 0.2, after: 0.8 } as const;

/** The sweep of a measurement through a sound device, with silence before and after. */
export const captureSweep = ({ levelDb, seconds, sampleRateHz }: CaptureSweep): Float64Array =>
  exponentialSweep({
    ...band,
    seconds,
    amplitude: 10 ** (levelDb / 20),
    sampleRateHz,
    silenceSeconds: [silence.before, silence.after],
  });

/** How loud a recording is, against full scale. */
export interface RecordedLevel {
  readonly peakDb: number;
  /** Rms of the silence before the sweep. */
  readonly noiseDb: number;
  readonly verdict: 'silent' | 'low' | 'good' | 'clipped';
}

/**
 * Peaks above this may be clipped; below `lowDb` much of the converter's range is wasted; under
 * `clearDb` over the noise there is nothing to see.
 */
const limits = { clippedDb: -0.5, lowDb: -40, clearDb: 20 };

/** Level of a recorded channel, for a level check. */
export function recordedLevel(samples: Float64Array, sampleRateHz: number): RecordedLevel {
  let peak = 0;
  for (const value of samples) peak = Math.max(peak, Math.abs(value));
  const quiet = samples.subarray(0, Math.round(0.9 * silence.before * sampleRateHz));
  let power = 0;
  for (const value of quiet) power += value * value;
  const peakDb = decibels(peak);
  const noiseDb = decibels(power / Math.max(1, quiet.length)) / 2;
  return { peakDb, noiseDb, verdict: verdictOf(peakDb, noiseDb) };
}

function verdictOf(peakDb: number, noiseDb: number): RecordedLevel['verdict'] {
  if (peakDb > limits.clippedDb) return 'clipped';
  if (!(peakDb - noiseDb > limits.clearDb)) return 'silent';
  return peakDb < limits.lowDb ? 'low' : 'good';
}

/** The part of a loop-back's impulse that is the converter's, around its arrival, s. */
const loopWindow = { riseSeconds: 0.001, beforeSeconds: 0.002, afterSeconds: 0.04 };

/**
 * What went out, as a loop-back on a second channel recorded it, without that channel's noise: the
 * sweep through the loop's impulse around its arrival. Against it the device's delay and the
 * response of its converters drop out.
 *
 * @param loop recording of the second channel
 * @param sweep what was played
 * @throws ProblemError `silent_excitation`
 */
export function loopReference(
  loop: Float64Array,
  sweep: Float64Array,
  sampleRateHz: number,
): Float64Array {
  const impulse = deconvolved(loop, sweep, sampleRateHz, band.toHz);
  const arrival = arrivalSeconds(impulse);
  const { values, startSeconds } = windowed(impulse, {
    riseSeconds: loopWindow.riseSeconds,
    fromSeconds: arrival - loopWindow.beforeSeconds,
    fadeFromSeconds: arrival + 0.5 * loopWindow.afterSeconds,
    toSeconds: arrival + loopWindow.afterSeconds,
  });
  const length = powerOfTwo(sweep.length + loop.length);
  const place = new Float64Array(length);
  const first = Math.round(startSeconds * sampleRateHz);
  values.forEach((value, i) => {
    place[(first + i + length) % length] = value;
  });
  const [a, b] = [forward(sweep, length), forward(place, length)];
  for (let k = 0; k < a.re.length; k++) {
    const [re, im] = [a.re[k], a.im[k]];
    a.re[k] = re * b.re[k] - im * b.im[k];
    a.im[k] = re * b.im[k] + im * b.re[k];
  }
  return inverse(a).slice(0, sweep.length);
}

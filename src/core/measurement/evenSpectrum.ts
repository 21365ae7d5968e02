import { problem } from '@/core/problem';
import { forward, inverse, powerOfTwo } from '@/core/spectrum/fourier';
import { amplitude, levelsDb, phasesDeg } from '@/core/spectrum/level';
import { arrivalSeconds, leadBeforeArrival, type Impulse } from './impulse';
import type { Samples } from './samples';

/**
 * A response on evenly spaced frequencies, Δf, 2Δf, … below half the sample rate, and an impulse
 * are the same thing: so an impulse is stored as a table, and a table from any program that has
 * even steps can be gated.
 */

/** An impulse response that begins at time zero. */
export const impulseAt = (samples: Float64Array, sampleRateHz: number): Impulse => ({
  samples,
  sampleRateHz,
  zeroIndex: 0,
});

/**
 * What is kept of an impulse: a little before it begins and a third of a second after, 2¹⁴ points
 * at 48 kHz.
 */
const leadSeconds = 0.01;
const keptSeconds = 0.34;
/** A table has half as many rows. */
const longestKept = 2 ** 18;

/**
 * The table of an impulse. Silence and noise long before and after it are cut; what rings before
 * the arrival is kept, and the flight time stays in the phase.
 *
 * @returns response in dB and degrees, without the value at 0 Hz, and whether something was cut
 */
export function spectrumOfImpulse(impulse: Impulse): {
  readonly samples: Samples;
  readonly isCut: boolean;
} {
  const { samples, sampleRateHz, zeroIndex } = impulse;
  const ringsBefore = leadBeforeArrival(impulse);
  const begins = arrivalSeconds(impulse) - ringsBefore - leadSeconds;
  const first = Math.max(0, zeroIndex + Math.floor(begins * sampleRateHz));
  const length = Math.min(
    longestKept,
    powerOfTwo(Math.min((keptSeconds + ringsBefore) * sampleRateHz, samples.length - first)),
  );
  const kept = samples.subarray(first, Math.min(samples.length, first + length));
  const { re, im } = forward(kept, length);
  const count = length / 2 - 1;
  const startSeconds = (first - zeroIndex) / sampleRateHz;
  const frequencyHz = Float64Array.from(
    { length: count },
    (_, k) => ((k + 1) * sampleRateHz) / length,
  );
  const turn = (values: Float64Array) => values.subarray(1, count + 1);
  // A level must be a number, even where there is nothing.
  const magnitude = levelsDb(turn(re), turn(im), new Float64Array(count)).map((level) =>
    Math.max(-300, level),
  );
  const phaseDeg = phasesDeg(turn(re), turn(im), new Float64Array(count)).map((angle, k) => {
    const turns = angle / 360 - frequencyHz[k] * startSeconds;
    return 360 * (turns - Math.round(turns));
  });
  return { samples: { frequencyHz, magnitude, phaseDeg }, isCut: kept.length < samples.length };
}

/**
 * Whether a table has even steps from its first frequency on, so that it can be turned into an
 * impulse.
 */
export function isEven({ frequencyHz, phaseDeg }: Samples): boolean {
  const step = frequencyHz[1] - frequencyHz[0];
  const tolerance = 0.02 * step;
  return (
    phaseDeg !== null &&
    frequencyHz.length >= 64 &&
    Math.abs(frequencyHz[0] / step - Math.round(frequencyHz[0] / step)) < 0.05 &&
    frequencyHz[0] / step < 64 &&
    frequencyHz.every((hz, k) => Math.abs(hz - frequencyHz[0] - k * step) <= tolerance)
  );
}

/**
 * The impulse of a response on even frequencies. Below its first frequency the response counts as
 * nothing.
 *
 * @throws ProblemError `not_even`
 */
export function impulseOfSpectrum(samples: Samples): Impulse {
  if (!isEven(samples))
    throw problem(
      'not_even',
      'response',
      'This response can’t be turned into an impulse.',
      'Its frequencies are not in equal steps, or it has no phase.',
      'Import the impulse response itself, as WAV, or a table in equal steps of frequency.',
    );
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const last = frequencyHz.length - 1;
  const step = (frequencyHz[last] - frequencyHz[0]) / last;
  const first = Math.round(frequencyHz[0] / step);
  const length = powerOfTwo(2 * (first + frequencyHz.length));
  const re = new Float64Array(length / 2 + 1);
  const im = new Float64Array(length / 2 + 1);
  frequencyHz.forEach((_, k) => {
    const size = amplitude(magnitude[k]);
    const angle = (phaseDeg![k] * Math.PI) / 180;
    re[first + k] = size * Math.cos(angle);
    im[first + k] = size * Math.sin(angle);
  });
  return { samples: inverse({ re, im, length }), sampleRateHz: length * step, zeroIndex: 0 };
}

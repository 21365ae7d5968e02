import { decibels } from '@/core/spectrum/level';
import { responseOnGrid } from './onGrid';
import type { Samples } from './samples';

const sampleRateHz = 48_000;
const length = 2 ** 15;

/**
 * A response with phase on the even frequencies of an impulse of 2¹⁵ points at 48 kHz, within its
 * own band.
 */
export function evenFromLog(samples: Samples): Samples {
  const all = Float64Array.from(
    { length: length / 2 - 1 },
    (_, k) => ((k + 1) * sampleRateHz) / length,
  );
  const last = samples.frequencyHz[samples.frequencyHz.length - 1];
  const frequencyHz = all.filter((hz) => hz <= last);
  return onFrequencies(samples, frequencyHz);
}

/**
 * A response at other frequencies, as the prediction would see it; nothing (−300 dB) outside its
 * band.
 */
export function onFrequencies(samples: Samples, frequencyHz: Float64Array): Samples {
  const { re, im } = responseOnGrid(samples, frequencyHz);
  return {
    frequencyHz,
    magnitude: re.map((x, i) => Math.max(-300, decibels(Math.hypot(x, im[i])))),
    phaseDeg: samples.phaseDeg && re.map((x, i) => (Math.atan2(im[i], x) * 180) / Math.PI),
  };
}

import { amplitude } from '@/core/spectrum/level';
import { bulkDelaySeconds, unwrapped } from '@/core/spectrum/phase';
import type { Samples } from './samples';

const radians = Math.PI / 180;

/**
 * A complex quantity over the prediction grid: pascals per reference voltage (relative), or ohms.
 */
export interface GridSpectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Index and weight of every grid frequency between two neighbouring samples, on log frequency. */
interface Places {
  /** Left sample of each grid point; −1 below the data, n − 1 above. */
  readonly left: Int32Array;
  /** 0 at the left sample, 1 at the right one. */
  readonly weight: Float64Array;
}

function placesOnLogFrequency(frequencyHz: Float64Array, gridHz: Float64Array): Places {
  const left = new Int32Array(gridHz.length);
  const weight = new Float64Array(gridHz.length);
  const last = frequencyHz.length - 1;
  let i = 0;
  for (let g = 0; g < gridHz.length; g++) {
    const f = gridHz[g];
    // Half a thousandth of an octave of grace, so that a table printed with few digits still covers
    // its own ends.
    if (f < frequencyHz[0]) left[g] = f > frequencyHz[0] * (1 - 3e-4) ? 0 : -1;
    else if (f >= frequencyHz[last]) {
      const within = f < frequencyHz[last] * (1 + 3e-4);
      left[g] = within ? last - 1 : last;
      weight[g] = within ? 1 : 0;
    } else {
      while (frequencyHz[i + 1] <= f) i++;
      left[g] = i;
      weight[g] = Math.log(f / frequencyHz[i]) / Math.log(frequencyHz[i + 1] / frequencyHz[i]);
    }
  }
  return { left, weight };
}

const between = (values: Float64Array, left: number, weight: number) =>
  weight === 0 ? values[left] : values[left] + weight * (values[left + 1] - values[left]);

interface Flight {
  readonly delay: number;
  /** Unwrapped phase without it, radians. */
  readonly residual: Float64Array | null;
}

const noPhase: Flight = { delay: 0, residual: null };

/**
 * Samples never change: their delay is looked for once, however many grids they are read on.
 */
const flights = new WeakMap<Samples, Flight>();

function withoutDelay(samples: Samples, phaseDeg: Float64Array): Flight {
  const known = flights.get(samples);
  if (known) return known;
  const { frequencyHz } = samples;
  const phase = phaseDeg.map((degrees) => degrees * radians);
  const delay = bulkDelaySeconds(frequencyHz, phase);
  const residual = unwrapped(phase.map((angle, i) => angle + 2 * Math.PI * frequencyHz[i] * delay));
  const flight = { delay, residual };
  flights.set(samples, flight);
  return flight;
}

/**
 * A measured response on the grid as a complex amplitude (0 dB is 1). Between samples the level in
 * dB and the unwrapped phase without the bulk delay are straight lines on log frequency. Outside
 * the measured band the response is 0: the driver counts as silent there. Without measured phase
 * the phase is 0.
 *
 * @param samples a response, in dB and degrees
 * @param gridHz rising frequencies in Hz
 */
export function responseOnGrid(samples: Samples, gridHz: Float64Array): GridSpectrum {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const { left, weight } = placesOnLogFrequency(frequencyHz, gridHz);
  const { residual, delay } = phaseDeg ? withoutDelay(samples, phaseDeg) : noPhase;
  const re = new Float64Array(gridHz.length);
  const im = new Float64Array(gridHz.length);
  for (let g = 0; g < gridHz.length; g++) {
    const i = left[g];
    if (i < 0 || i === frequencyHz.length - 1) continue;
    const size = amplitude(between(magnitude, i, weight[g]));
    const angle = residual ? between(residual, i, weight[g]) - 2 * Math.PI * gridHz[g] * delay : 0;
    re[g] = size * Math.cos(angle);
    im[g] = size * Math.sin(angle);
  }
  return { re, im };
}

/**
 * A measured impedance on the grid in ohms: real and imaginary part are straight lines on log
 * frequency between samples; outside the measured band the end value is held. Without measured
 * phase it counts as resistive.
 *
 * @param samples an impedance, in ohms and degrees
 * @param gridHz rising frequencies in Hz
 */
export function impedanceOnGrid(samples: Samples, gridHz: Float64Array): GridSpectrum {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const { left, weight } = placesOnLogFrequency(frequencyHz, gridHz);
  const angle = (i: number) => (phaseDeg ? phaseDeg[i] * radians : 0);
  const sampleRe = magnitude.map((ohms, i) => ohms * Math.cos(angle(i)));
  const sampleIm = magnitude.map((ohms, i) => ohms * Math.sin(angle(i)));
  const re = new Float64Array(gridHz.length);
  const im = new Float64Array(gridHz.length);
  for (let g = 0; g < gridHz.length; g++) {
    const i = Math.max(left[g], 0);
    re[g] = between(sampleRe, i, weight[g]);
    im[g] = between(sampleIm, i, weight[g]);
  }
  return { re, im };
}

import FFT from 'fft.js';

/**
 * Spectrum of a real signal at 0 Hz, rate/length, … rate/2: real and imaginary parts, length/2 + 1
 * each. A signal that starts at time zero; e^{−jωt} convention, so that a later arrival has falling
 * phase.
 */
export interface Spectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
  /** Length of the signal with the zeros that were added, a power of two. */
  readonly length: number;
}

/** The lowest power of two that is not below a number, and not below 2. */
export const powerOfTwo = (least: number): number => 2 ** Math.max(1, Math.ceil(Math.log2(least)));

/**
 * Fourier transform of a real signal (package fft.js), zeros added at its end.
 *
 * @param signal samples
 * @param length a power of two, not below the signal's length
 */
export function forward(signal: ArrayLike<number>, length: number): Spectrum {
  const fft = new FFT(length);
  const padded = new Array<number>(length).fill(0);
  for (let i = 0; i < signal.length; i++) padded[i] = signal[i];
  const out = fft.createComplexArray() as number[];
  fft.realTransform(out, padded);
  const half = length / 2 + 1;
  const re = new Float64Array(half);
  const im = new Float64Array(half);
  for (let k = 0; k < half; k++) {
    re[k] = out[2 * k];
    im[k] = out[2 * k + 1];
  }
  return { re, im, length };
}

/** The real signal of a spectrum; the inverse of {@link forward}. */
export function inverse({ re, im, length }: Spectrum): Float64Array {
  const fft = new FFT(length);
  const full = fft.createComplexArray() as number[];
  for (let k = 0; k < re.length; k++) {
    full[2 * k] = re[k];
    full[2 * k + 1] = im[k];
  }
  fft.completeSpectrum(full);
  const out = fft.createComplexArray() as number[];
  fft.inverseTransform(out, full);
  return Float64Array.from({ length }, (_, i) => out[2 * i]);
}

const decibelsPerNeper = 20 / Math.LN10;

/** 20·log₁₀ of an amplitude ratio. Zero gives −Infinity. */
export function decibels(ratio: number): number {
  return decibelsPerNeper * Math.log(ratio);
}

/** Amplitude ratio of a level difference in dB. */
export function amplitude(levelDb: number): number {
  return Math.exp(levelDb / decibelsPerNeper);
}

/**
 * Levels in dB of a complex spectrum.
 *
 * @param re real parts
 * @param im imaginary parts, same length
 * @param out receives the levels, same length
 */
export function levelsDb(re: Float64Array, im: Float64Array, out: Float64Array): Float64Array {
  const half = decibelsPerNeper / 2;
  for (let i = 0; i < out.length; i++) out[i] = half * Math.log(re[i] * re[i] + im[i] * im[i]);
  return out;
}

/** Levels in dB of energies, 10·log₁₀. */
export function energiesDb(energies: Float64Array): Float64Array {
  const half = decibelsPerNeper / 2;
  const out = new Float64Array(energies.length);
  for (let i = 0; i < out.length; i++) out[i] = half * Math.log(energies[i]);
  return out;
}

/** Levels in dB of magnitudes over one that counts as 0 dB. */
export const levelsOver = (magnitudes: Float64Array, reference: number): Float64Array =>
  magnitudes.map((magnitude) => decibels(magnitude / reference));

/**
 * Phases in degrees, −180…180, of a complex spectrum. Arguments as {@link levelsDb}.
 */
export function phasesDeg(re: Float64Array, im: Float64Array, out: Float64Array): Float64Array {
  for (let i = 0; i < out.length; i++) out[i] = (Math.atan2(im[i], re[i]) * 180) / Math.PI;
  return out;
}

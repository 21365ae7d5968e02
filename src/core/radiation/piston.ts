/** Samples of the integral below; with 64 it is exact to rounding up to x of about 40. */
const samples = 64;

/**
 * Bessel function of the first kind and order one: (1/π)·∫ cos(τ − x·sin τ) dτ from 0 to π (Bessel
 * 1824), by trapezium.
 */
export function besselJ1(x: number): number {
  let sum = 0;
  for (let i = 0; i < samples; i++) {
    const tau = (2 * Math.PI * i) / samples;
    sum += Math.cos(tau - x * Math.sin(tau));
  }
  return sum / samples;
}

/**
 * Far field of a rigid circular piston in a wall, re its axis: 2·J₁(x)/x, signed.
 *
 * @param x k·a·sin θ
 */
export function pistonDirectivity(x: number): number {
  return Math.abs(x) < 1e-4 ? 1 - (x * x) / 8 : (2 * besselJ1(x)) / x;
}

/** Radius of a circle with a cone's effective area, m. */
export const coneRadiusM = (sdCm2: number): number => Math.sqrt(sdCm2 / 1e4 / Math.PI);

/** Frequency at which a cone of an effective area has a given ka, Hz. */
export const frequencyOfKa = (ka: number, sdCm2: number, speedOfSoundMps: number): number =>
  (ka * speedOfSoundMps) / (2 * Math.PI * coneRadiusM(sdCm2));

/**
 * ka at which a piston in a wall is 6 dB down at an angle off its axis: 2J₁(x)/x = 1/2 at x =
 * ka·sin θ = 2.215 (Beranek, Acoustics, 1954).
 */
export const kaSixDown = (degrees: number): number => 2.215 / Math.sin((degrees * Math.PI) / 180);

/**
 * ka up to which a cone may hand over to a dome before its directivity jumps by much more than 2 dB
 * (common practice).
 */
export const kaTakeOver = 2;

/**
 * Directivity index of a piston in a wall, dB over a point in free space: (ka)²/(1 − J₁(2ka)/ka)
 * (Beranek 1954).
 */
export const pistonDirectivityIndexDb = (ka: number): number =>
  10 * Math.log10(ka ** 2 / (1 - besselJ1(2 * ka) / ka));

/** Samples of the integral below; with 64 it is exact to rounding up to x of about 40. */
const samples = 64;

/** Bessel function of the first kind and order one: (1/π)·∫ cos(τ − x·sin τ) dτ from 0 to π (Bessel 1824), by trapezium. */
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

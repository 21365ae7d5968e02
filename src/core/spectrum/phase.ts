const turn = 2 * Math.PI;

/** The angle brought into −π…π by whole turns. */
export function wrapped(angleRad: number): number {
  return angleRad - turn * Math.round(angleRad / turn);
}

/**
 * Phase without jumps of more than half a turn from one point to the next. Right only where the
 * true phase moves by less than π between neighbours: take the bulk delay out first.
 *
 * @param phaseRad phases in radians, wrapped or not
 * @returns a new array; the first value is kept
 */
export function unwrapped(phaseRad: Float64Array): Float64Array {
  const out = new Float64Array(phaseRad.length);
  out[0] = phaseRad[0];
  for (let i = 1; i < out.length; i++) out[i] = out[i - 1] + wrapped(phaseRad[i] - phaseRad[i - 1]);
  return out;
}

/** Pairs of neighbours looked at when estimating a delay; more add nothing but time. */
const largestPairCount = 2000;

/**
 * The delay, in seconds, that best explains how phase falls with frequency.
 *
 * Maximises Σ w·cos(Δφ + 2πΔf·τ) over τ, w = Δf: with the delay taken out, neighbours hardly differ
 * in phase, wrapped or not. On logarithmic frequencies the steps Δf all differ, so that there is no
 * alias; on evenly spaced ones the delay is known up to 1/Δf.
 *
 * @param frequencyHz rising frequencies in Hz, two or more
 * @param phaseRad phases in radians, same length, wrapped or not; e^{−jωτ} is a positive delay
 * @param longestSeconds search limit; −1 ms to this are tried
 */
export function bulkDelaySeconds(
  frequencyHz: Float64Array,
  phaseRad: Float64Array,
  longestSeconds = 0.05,
): number {
  const count = frequencyHz.length - 1;
  const stride = Math.max(1, Math.floor(count / largestPairCount));
  const steps: number[] = [];
  const angles: number[] = [];
  let widest = 0;
  for (let i = 0; i < count; i += stride) {
    const step = frequencyHz[i + 1] - frequencyHz[i];
    steps.push(step);
    angles.push(phaseRad[i + 1] - phaseRad[i]);
    widest = Math.max(widest, step);
  }
  const alignment = (tau: number) => {
    let sum = 0;
    for (let k = 0; k < steps.length; k++)
      sum += steps[k] * Math.cos(angles[k] + turn * steps[k] * tau);
    return sum;
  };
  // The sum's main lobe is about 1/widest wide; eight looks per lobe, and never fewer than in a
  // millisecond, find it.
  const pitch = Math.min(0.001, 1 / (8 * widest));
  const best = coarselyBest(steps, angles, -0.001, longestSeconds, pitch);
  let low = best - pitch;
  let high = best + pitch;
  while (high - low > 1e-8) {
    const a = low + (high - low) / 3;
    const b = high - (high - low) / 3;
    if (alignment(a) < alignment(b)) low = a;
    else high = b;
  }
  return (low + high) / 2;
}

/**
 * The delay of the greatest alignment among evenly pitched ones. From one look to the next each
 * term turns by a fixed angle, which costs a multiplication where a cosine would cost ten times as
 * much; over the few thousand looks the rounding stays below 1e-12.
 */
function coarselyBest(
  steps: readonly number[],
  angles: readonly number[],
  from: number,
  to: number,
  pitch: number,
): number {
  const re = Float64Array.from(steps, (step, k) => step * Math.cos(angles[k] + turn * step * from));
  const im = Float64Array.from(steps, (step, k) => step * Math.sin(angles[k] + turn * step * from));
  const cos = Float64Array.from(steps, (step) => Math.cos(turn * step * pitch));
  const sin = Float64Array.from(steps, (step) => Math.sin(turn * step * pitch));
  let best = from;
  let bestSum = -Infinity;
  for (let tau = from; tau <= to; tau += pitch) {
    let sum = 0;
    for (let k = 0; k < re.length; k++) {
      const now = re[k];
      sum += now;
      re[k] = now * cos[k] - im[k] * sin[k];
      im[k] = im[k] * cos[k] + now * sin[k];
    }
    if (sum > bestSum) [best, bestSum] = [tau, sum];
  }
  return best;
}

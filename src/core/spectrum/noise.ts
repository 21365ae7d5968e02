/** Repeatable randomness: uniform numbers in [0, 1) and Gaussian ones of unit variance. */
interface Seeded {
  readonly uniform: () => number;
  readonly gaussian: () => number;
}

/**
 * A 32-bit generator (mulberry32, public domain) and Gaussian numbers from it (Box and Muller
 * 1958).
 */
export function seeded(seed: number): Seeded {
  let state = seed >>> 0;
  const uniform = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const gaussian = () =>
    Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform());
  return { uniform, gaussian };
}

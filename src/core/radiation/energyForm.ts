interface Spectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/**
 * Mean squared pressure of some voices over directions, as a quadratic form in their voltages: with
 * h_d the pressures of the voices per volt in direction d and w_d its weight, E = Σ_d w_d·|h_d·v|² =
 * v*·M·v, M = Σ_d w_d·conj(h_d)·h_dᵀ. However many directions there are, it costs as much as one
 * voice for each pair of voices.
 */
export interface EnergyForm {
  readonly voiceCount: number;
  readonly points: number;
  /** M at row a, column b and frequency i at (a · voiceCount + b) · points + i; M is Hermitian. */
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/**
 * @param pressures of each voice per volt, in each direction: `pressures[voice][direction]`
 * @param weights of the directions
 */
export function energyFormOf(
  pressures: readonly (readonly Spectrum[])[],
  weights: ArrayLike<number>,
  points: number,
): EnergyForm {
  const n = pressures.length;
  const re = new Float64Array(n * n * points);
  const im = new Float64Array(n * n * points);
  for (let a = 0; a < n; a++)
    for (let b = a; b < n; b++) {
      const at = (a * n + b) * points;
      for (let d = 0; d < weights.length; d++) {
        const weight = weights[d];
        if (weight === 0) continue;
        const { re: aRe, im: aIm } = pressures[a][d];
        const { re: bRe, im: bIm } = pressures[b][d];
        for (let i = 0; i < points; i++) {
          re[at + i] += weight * (aRe[i] * bRe[i] + aIm[i] * bIm[i]);
          im[at + i] += weight * (aRe[i] * bIm[i] - aIm[i] * bRe[i]);
        }
      }
      if (a === b) continue;
      const mirrored = (b * n + a) * points;
      for (let i = 0; i < points; i++) {
        re[mirrored + i] = re[at + i];
        im[mirrored + i] = -im[at + i];
      }
    }
  return { voiceCount: n, points, re, im };
}

/**
 * The energy for some voltages.
 *
 * @param volts of each voice
 * @param signs 1 or −1 for each voice
 * @param out energy at each frequency
 */
export function energyOf(
  { voiceCount: n, points, re, im }: EnergyForm,
  volts: readonly Spectrum[],
  signs: ArrayLike<number>,
  out: Float64Array,
): void {
  out.fill(0);
  for (let a = 0; a < n; a++) {
    const { re: aRe, im: aIm } = volts[a];
    const own = (a * n + a) * points;
    for (let i = 0; i < points; i++) out[i] += re[own + i] * (aRe[i] * aRe[i] + aIm[i] * aIm[i]);
    for (let b = a + 1; b < n; b++) {
      const { re: bRe, im: bIm } = volts[b];
      const at = (a * n + b) * points;
      const twice = 2 * signs[a] * signs[b];
      for (let i = 0; i < points; i++) {
        // Re(conj(a)·M·b)
        const x = aRe[i] * bRe[i] + aIm[i] * bIm[i];
        const y = aRe[i] * bIm[i] - aIm[i] * bRe[i];
        out[i] += twice * (re[at + i] * x - im[at + i] * y);
      }
    }
  }
}

/**
 * What the energy grows by with the voltages: with g = M·v, dE = 2·Re(conj(g_a)·dv_a) over all
 * voices.
 *
 * @param out g of voice a, its sign in it, at frequency i in `out[a]`
 */
export function energyGradientOf(
  { voiceCount: n, points, re, im }: EnergyForm,
  volts: readonly Spectrum[],
  signs: ArrayLike<number>,
  out: readonly Spectrum[],
): void {
  for (let a = 0; a < n; a++) {
    const { re: gRe, im: gIm } = out[a];
    gRe.fill(0);
    gIm.fill(0);
    for (let b = 0; b < n; b++) {
      const { re: bRe, im: bIm } = volts[b];
      const at = (a * n + b) * points;
      const sign = signs[a] * signs[b];
      for (let i = 0; i < points; i++) {
        gRe[i] += sign * (re[at + i] * bRe[i] - im[at + i] * bIm[i]);
        gIm[i] += sign * (re[at + i] * bIm[i] + im[at + i] * bRe[i]);
      }
    }
  }
}

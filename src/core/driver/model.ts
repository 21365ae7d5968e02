/**
 * Voice-coil and motor of a driver as its terminals show them:
 *
 *   Z = Re + jωLe + (jωL2 ∥ R2 or K·(jω)ⁿ) + Res / (1 + jQms·(m·f/fs − s·fs/f)),   Res = Re·Qms/Qes
 *
 * (Small 1972). With a box the 1 in the denominator becomes the factor r on the mechanical losses.
 * Eddy currents in the pole take a ladder L2 ∥ R2, or a semi-inductance K(jω)ⁿ (Leach 2002). Added
 * mass makes m = 1 + Δm/Mms, a closed box s = 1 + Vas/Vb, and both m and r are free.
 */
export interface TerminalModel {
  readonly reOhm: number;
  readonly fsHz: number;
  readonly qms: number;
  readonly qes: number;
  readonly leHenry: number;
  /** Null when the plain inductance is enough. */
  readonly ladder: { readonly henry: number; readonly ohm: number } | null;
  /** K in Ω·sⁿ, n between 0.5 and 1; null when not needed. */
  readonly semi: { readonly k: number; readonly n: number } | null;
}

/**
 * What was done to the driver: factors on its moving mass and on the stiffness of its suspension.
 */
export interface Loading {
  readonly massFactor: number;
  readonly stiffnessFactor: number;
  /** On its mechanical losses. */
  readonly lossFactor: number;
}

export const unloaded: Loading = { massFactor: 1, stiffnessFactor: 1, lossFactor: 1 };

/**
 * Impedance of the model at one frequency.
 *
 * @param out receives real and imaginary part, ohms, at 2·index and 2·index + 1
 */
export function terminalImpedance(
  { reOhm, fsHz, qms, qes, leHenry, ladder, semi }: TerminalModel,
  { massFactor, stiffnessFactor, lossFactor }: Loading,
  hz: number,
  out: Float64Array,
  index: number,
): void {
  const omega = 2 * Math.PI * hz;
  const peak = (reOhm * qms) / qes;
  const detuning = qms * ((massFactor * hz) / fsHz - (stiffnessFactor * fsHz) / hz);
  const motional = peak / (lossFactor * lossFactor + detuning * detuning);
  let re = reOhm + motional * lossFactor;
  let im = omega * leHenry - motional * detuning;
  if (ladder) {
    const x = omega * ladder.henry;
    const square = ladder.ohm ** 2 + x * x;
    re += (ladder.ohm * x * x) / square;
    im += (ladder.ohm ** 2 * x) / square;
  }
  if (semi) {
    const size = semi.k * omega ** semi.n;
    re += size * Math.cos((semi.n * Math.PI) / 2);
    im += size * Math.sin((semi.n * Math.PI) / 2);
  }
  out[2 * index] = re;
  out[2 * index + 1] = im;
}

/**
 * What a driver's terminals look back into, at each frequency: the voltage without a load, V rms, and
 * the output impedance, Ω.
 */
export interface Source {
  readonly voltsRe: Float64Array;
  readonly voltsIm: Float64Array;
  readonly ohmRe: Float64Array;
  readonly ohmIm: Float64Array;
}

/** An amplifier behind a resistance: its own, the cable's, a coil's. */
export const behindResistance = (volts: number, ohm: number, count: number): Source => ({
  voltsRe: new Float64Array(count).fill(volts),
  voltsIm: new Float64Array(count),
  ohmRe: new Float64Array(count).fill(ohm),
  ohmIm: new Float64Array(count),
});

/** Complex voltages over frequency, V rms. */
export interface Voltages {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/**
 * A linear network as a source (Thévenin), from the voltages over two resistors in the driver's place:
 * 1/V = (1 + Z/R)/V₀, a straight line in 1/R.
 *
 * @param loads the two resistors, Ω, and the voltage over each
 * @throws RangeError when both resistors are the same
 */
export function sourceFromLoads([first, second]: readonly [
  { readonly ohm: number; readonly volts: Voltages },
  { readonly ohm: number; readonly volts: Voltages },
]): Source {
  if (first.ohm === second.ohm)
    throw new RangeError('A source is found from two loads that differ; both are the same.');
  const source = behindResistance(0, 0, first.volts.re.length);
  const [g, h] = [1 / first.ohm, 1 / second.ohm];
  for (let i = 0; i < source.voltsRe.length; i++) {
    const [aRe, aIm] = inverse(first.volts.re[i], first.volts.im[i]);
    const [bRe, bIm] = inverse(second.volts.re[i], second.volts.im[i]);
    // 1/V₀ at 1/R = 0, and Z/V₀ as the slope.
    const [slopeRe, slopeIm] = [(aRe - bRe) / (g - h), (aIm - bIm) / (g - h)];
    const [re, im] = inverse(aRe - g * slopeRe, aIm - g * slopeIm);
    source.voltsRe[i] = re;
    source.voltsIm[i] = im;
    source.ohmRe[i] = re * slopeRe - im * slopeIm;
    source.ohmIm[i] = re * slopeIm + im * slopeRe;
  }
  return source;
}

const inverse = (re: number, im: number) => {
  const size = re * re + im * im;
  return [re / size, -im / size];
};

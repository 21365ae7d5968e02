import type { GridSpectrum } from '@/core/measurement/onGrid';
import type { Curve } from '@/core/network/sensitivity';

/** A complex curve of a design that is played, and its slopes over the variables. */
export interface PlayedCurve extends Curve {
  /** Change for a factor of e in variable v at frequency i, at v · points + i; when asked for. */
  readonly slopes: () => Curve;
}

export const curveOf = (length: number): Curve => ({
  re: new Float64Array(length),
  im: new Float64Array(length),
});

export function clear({ re, im }: Curve): void {
  re.fill(0);
  im.fill(0);
}

/** Adds a curve times a weight and a sign to another, both from a place on. */
export function addProduct(
  { re, im }: Curve,
  { re: wRe, im: wIm }: GridSpectrum,
  sign: number,
  { re: outRe, im: outIm }: Curve,
  at: number,
): void {
  for (let i = 0; i < wRe.length; i++) {
    const x = sign * wRe[i];
    const y = sign * wIm[i];
    outRe[at + i] += x * re[at + i] - y * im[at + i];
    outIm[at + i] += x * im[at + i] + y * re[at + i];
  }
}

/**
 * Adds the slopes of a curve at a frequency to a row: so much times that of the logarithm of its
 * magnitude, and so much times that of its angle in radians.
 */
export function addSlopes(
  curve: PlayedCurve,
  i: number,
  perNeper: number,
  perRadian: number,
  out: Float64Array,
  at: number,
  variableCount: number,
): void {
  const { re: dRe, im: dIm } = curve.slopes();
  const points = curve.re.length;
  const x = curve.re[i];
  const y = curve.im[i];
  const scale = 1 / (x * x + y * y);
  const forRe = (perNeper * x - perRadian * y) * scale;
  const forIm = (perNeper * y + perRadian * x) * scale;
  for (let v = 0, k = i; v < variableCount; v++, k += points)
    out[at + v] += forRe * dRe[k] + forIm * dIm[k];
}

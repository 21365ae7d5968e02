/**
 * The inner loops of the solver. Each runs over one block of frequencies: element k of an operand that starts at `at`
 * stands at `at + k`. Real and imaginary parts lie apart. Plain functions of typed arrays: the compiler keeps their
 * bases in registers, which it does not do for arrays that a closure captured. Nothing is allocated.
 */

/** a += y */
export function addBlock(
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    aRe[a + k] += yRe[y + k];
    aIm[a + k] += yIm[y + k];
  }
}

/** a −= y */
export function subtractBlock(
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    aRe[a + k] -= yRe[y + k];
    aIm[a + k] -= yIm[y + k];
  }
}

/** a += y·(re + j·im), one factor for the whole block */
export function addTimes(
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  re: number,
  im: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const gRe = yRe[y + k];
    const gIm = yIm[y + k];
    aRe[a + k] += gRe * re - gIm * im;
    aIm[a + k] += gRe * im + gIm * re;
  }
}

/** a −= f·o */
export function subtractProduct(
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  fRe: Float64Array,
  fIm: Float64Array,
  oRe: Float64Array,
  oIm: Float64Array,
  o: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const re = fRe[k];
    const im = fIm[k];
    const otherRe = oRe[o + k];
    const otherIm = oIm[o + k];
    aRe[a + k] -= re * otherRe - im * otherIm;
    aIm[a + k] -= re * otherIm + im * otherRe;
  }
}

/** out = 1/a */
export function invertBlock(
  outRe: Float64Array,
  outIm: Float64Array,
  out: number,
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const re = aRe[a + k];
    const im = aIm[a + k];
    const scale = 1 / (re * re + im * im);
    outRe[out + k] = re * scale;
    outIm[out + k] = -im * scale;
  }
}

/** out = a·b, with `out` at the start of its own block; marks places where a part of |out| exceeds `limit` or is NaN. */
export function multiplyAndWatch(
  outRe: Float64Array,
  outIm: Float64Array,
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  bRe: Float64Array,
  bIm: Float64Array,
  b: number,
  limit: number,
  marked: Uint8Array,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const leftRe = aRe[a + k];
    const leftIm = aIm[a + k];
    const rightRe = bRe[b + k];
    const rightIm = bIm[b + k];
    const re = leftRe * rightRe - leftIm * rightIm;
    const im = leftRe * rightIm + leftIm * rightRe;
    outRe[k] = re;
    outIm[k] = im;
    if (!(Math.abs(re) + Math.abs(im) < limit)) marked[k] = 1;
  }
}

/** a = f, with `f` at the start of its own block */
export function storeBlock(
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  fRe: Float64Array,
  fIm: Float64Array,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    aRe[a + k] = fRe[k];
    aIm[a + k] = fIm[k];
  }
}

/** x −= a·z, all in the same or in different arrays */
export function subtractTimes(
  xRe: Float64Array,
  xIm: Float64Array,
  x: number,
  aRe: Float64Array,
  aIm: Float64Array,
  a: number,
  z: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const re = aRe[a + k];
    const im = aIm[a + k];
    const zRe = xRe[z + k];
    const zIm = xIm[z + k];
    xRe[x + k] -= re * zRe - im * zIm;
    xIm[x + k] -= re * zIm + im * zRe;
  }
}

/** y = 1/r */
export function resistorAdmittance(
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  ohms: number,
  count: number,
): void {
  const siemens = 1 / ohms;
  for (let k = 0; k < count; k++) {
    yRe[y + k] = siemens;
    yIm[y + k] = 0;
  }
}

/** y = 1/(r + jωL) */
export function coilAdmittance(
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  omega: Float64Array,
  henries: number,
  ohms: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const x = omega[k] * henries;
    const scale = 1 / (ohms * ohms + x * x);
    yRe[y + k] = ohms * scale;
    yIm[y + k] = -x * scale;
  }
}

/** y = −(r + jωL): the diagonal of a coil whose current is an unknown */
export function negativeCoilImpedance(
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  omega: Float64Array,
  henries: number,
  ohms: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    yRe[y + k] = -ohms;
    yIm[y + k] = -omega[k] * henries;
  }
}

/** y = 1/(r + 1/jωC), written so that r = 0 needs no case of its own */
export function capacitorAdmittance(
  yRe: Float64Array,
  yIm: Float64Array,
  y: number,
  omega: Float64Array,
  farads: number,
  ohms: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const s = omega[k] * farads;
    const t = ohms * s;
    const scale = s / (1 + t * t);
    yRe[y + k] = t * scale;
    yIm[y + k] = scale;
  }
}

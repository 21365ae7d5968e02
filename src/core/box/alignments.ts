import { bisect } from '@/core/search/bisect';

/** A sealed box by its total Q. */
export interface SealedAlignment {
  /** Vas over the volume. */
  readonly alpha: number;
  readonly fcHz: number;
  readonly f3Hz: number;
}

/** Frequency of −3 dB over that of resonance for a second-order high-pass of a Q (Small 1972). */
export function cornerOverResonance(q: number): number {
  const half = 1 / (2 * q * q) - 1;
  return Math.sqrt(half + Math.sqrt(half * half + 1));
}

/**
 * The sealed box that gives a driver a total Q: fc/fs = Qtc/Qts = √(1 + α) (Small 1972); null when the
 * driver alone has that Q already.
 */
export function sealedFor(
  { fsHz, qts }: { readonly fsHz: number; readonly qts: number },
  qtc: number,
): SealedAlignment | null {
  const ratio = qtc / qts;
  if (ratio <= 1) return null;
  const fcHz = fsHz * ratio;
  return { alpha: ratio * ratio - 1, fcHz, f3Hz: fcHz * cornerOverResonance(qtc) };
}

/** A vented box over the driver's figures. */
export interface VentedAlignment {
  /** Flat without ripple and falling a little early; flattest of all; ripple of one height. */
  readonly family: 'quasi-Butterworth' | 'Butterworth' | 'Chebyshev';
  /** Tuning over the driver's resonance. */
  readonly h: number;
  /** Vas over the volume. */
  readonly alpha: number;
}

/** s⁴ + a₁s³ + a₂s² + a₃s + 1, with s over √(ωs·ωb). */
export type FourthOrder = readonly [a1: number, a2: number, a3: number];

/** A vented box's polynomial; leakage as a Q at the tuning, null for none (Small 1973, part I). */
export function ventedPolynomial(
  { h, alpha }: Pick<VentedAlignment, 'h' | 'alpha'>,
  qts: number,
  ql: number | null,
): FourthOrder {
  const [root, leak] = [Math.sqrt(h), ql === null ? 0 : 1 / ql];
  return [
    1 / (root * qts) + root * leak,
    leak / qts + (alpha + 1 + h * h) / h,
    root / qts + leak / root,
  ];
}

/** Poles of a Butterworth filter with their damping scaled, as a high-pass; 1 leaves them alone. */
function chebyshev(damping: number): FourthOrder {
  const pairs = [Math.PI / 8, (3 * Math.PI) / 8].map((angle) => ({
    b: 2 * damping * Math.sin(angle),
    c: (damping * Math.sin(angle)) ** 2 + Math.cos(angle) ** 2,
  }));
  const [{ b, c }, { b: d, c: e }] = pairs;
  // Low-pass s⁴ + (b + d)s³ + (c + e + bd)s² + (be + cd)s + ce, over its corner, and reversed.
  const corner = (c * e) ** 0.25;
  return [(b * e + c * d) / corner ** 3, (c + e + b * d) / corner ** 2, (b + d) / corner];
}

/** The driver's Q and the box for which a polynomial comes out. */
function fromPolynomial([a1, a2, a3]: FourthOrder, ql: number | null) {
  const leak = ql === null ? 0 : 1 / ql;
  // With x = √h: leak·x⁴ − a₁x³ + a₃x − leak = 0, near √(a₃/a₁).
  const start = Math.sqrt(a3 / a1);
  const x = bisect((at) => leak * at ** 4 - a1 * at ** 3 + a3 * at - leak, start / 2, start * 2);
  const inverseQ = a1 * x - leak * x * x;
  const h = x * x;
  return { qts: 1 / inverseQ, h, alpha: h * (a2 - leak * inverseQ) - 1 - h * h };
}

/**
 * The vented box in which a driver is flattest: fourth-order Butterworth where its Q allows, quasi
 * third-order Butterworth below, Chebyshev of equal ripple above (Thiele 1971; Small 1973, part I).
 * Losses other than the leakage are left out, as is the coil's inductance: a starting point.
 *
 * @param ql leakage as a Q at the tuning, null for none
 * @returns null where the Q is too high or too low for a vented box
 */
export function ventedFor(qts: number, ql: number | null): VentedAlignment | null {
  const butterworth = fromPolynomial(chebyshev(1), ql);
  if (Math.abs(qts - butterworth.qts) < 1e-9)
    return { family: 'Butterworth', ...boxOf(butterworth) };
  if (qts > butterworth.qts) {
    // Ripple beyond about 3 dB is of no use.
    const least = 0.3;
    if (qts > fromPolynomial(chebyshev(least), ql).qts) return null;
    const damping = bisect((k) => fromPolynomial(chebyshev(k), ql).qts - qts, least, 1);
    return { family: 'Chebyshev', ...boxOf(fromPolynomial(chebyshev(damping), ql)) };
  }
  // |D|² = ω⁸ + (a₁² − 2a₂)ω⁶ + (a₂² + 2 − 2a₁a₃)ω⁴ + …: the first two vanish.
  const boxAt = (h: number) => {
    const [a1, , a3] = ventedPolynomial({ h, alpha: 0 }, qts, ql);
    const a2 = (a1 * a1) / 2;
    const leak = ql === null ? 0 : 1 / ql;
    return { h, alpha: h * (a2 - leak / qts) - 1 - h * h, left: a2 * a2 + 2 - 2 * a1 * a3 };
  };
  const highest = 8;
  if (boxAt(highest).left > 0) return null;
  const found = boxAt(bisect((h) => boxAt(h).left, butterworth.h, highest));
  return found.alpha > 0 ? { family: 'quasi-Butterworth', ...boxOf(found) } : null;
}

const boxOf = ({ h, alpha }: { readonly h: number; readonly alpha: number }) => ({ h, alpha });

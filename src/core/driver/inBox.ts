/** Figures of a driver: resonance, Q's, and the compliance of its suspension as a volume. */
interface ResonanceFigures {
  readonly fsHz: number | null;
  readonly qms: number | null;
  readonly qes: number | null;
}

/** A closed box in which a driver seems to have been measured. */
interface MeasuredInBox {
  /** Resonance in the box over that in free air; Q rises by the same. */
  readonly ratio: number;
  /** Volume of the box, litres; null while Vas is not known. */
  readonly litres: number | null;
}

/** Less than this is what drivers scatter by. */
const leastRatio = 1.2;
/** How far the factors of fs and Q may be apart: boxes have losses, drivers scatter. */
const sameWithin = 1.35;

/**
 * Whether measured figures are those of a driver in a closed box rather than a wrong data sheet:
 * the air behind the cone raises fs and Qes by the same factor √(1 + α), α = Vas/Vb (Small, J.
 * Audio Eng. Soc. 20, 1972).
 *
 * @param measured as fitted to its impedance
 * @param sheet in free air
 * @returns null when the figures do not look like that, or too few are known
 */
export function measuredInBox(
  measured: ResonanceFigures,
  sheet: ResonanceFigures & { readonly vasLitres: number | null },
): MeasuredInBox | null {
  if (measured.fsHz === null || sheet.fsHz === null) return null;
  if (measured.qes === null || sheet.qes === null) return null;
  const ratio = measured.fsHz / sheet.fsHz;
  const apart = measured.qes / sheet.qes / ratio;
  if (ratio < leastRatio || apart > sameWithin || apart < 1 / sameWithin) return null;
  return { ratio, litres: sheet.vasLitres === null ? null : sheet.vasLitres / (ratio ** 2 - 1) };
}

import type { Part } from './schema';

/**
 * Exponent by which a part's series resistance follows its value; 0 when the resistance was stated by hand. A coil of
 * the same wire in air: L ∝ N²·r and a wire of length ∝ N·r with r ∝ √N, so R ∝ L^0.6 (scaling of Maxwell's optimum coil);
 * on the same core L ∝ N² and R ∝ N. A capacitor of the same type keeps its dissipation factor, so R ∝ 1/C.
 */
export function lossExponent(part: Part): number {
  if (part.kind === 'resistor' || part.isLossFixed) return 0;
  if (part.kind === 'capacitor') return -1;
  return part.core === 'magnetic' ? 0.5 : 0.6;
}

/** Series resistance of a part in ohms when its value has moved by a factor and it stays of its kind. */
export const followedLoss = (part: Part, factor: number): number =>
  part.kind === 'resistor' ? 0 : part.seriesOhms * factor ** lossExponent(part);

/** A part whose loss is stated by hand; with null it follows the value from now on. */
export function withStatedLoss(part: Part, seriesOhms: number | null): Part {
  if (part.kind === 'resistor') return part;
  if (seriesOhms !== null) return { ...part, seriesOhms, isLossFixed: true };
  const free = { ...part };
  delete free.isLossFixed;
  return free;
}

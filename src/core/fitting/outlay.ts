import { lossExponent, partValue } from '@/core/document/partKinds';
import type { Part } from '@/core/document/schema';
import type { PriceRates } from './limits';

/** Share of copper that a magnetic core leaves necessary (common practice, no source). */
const magneticShare = 0.3;
/** Coils without loss are not to be had; this one is for their price. */
const leastOhms = 0.02;

/**
 * Copper of a coil, kg. A coil of Brooks' proportions (square winding of side c, mean radius 1.5·c;
 * values) has L = 25.49·10⁻⁷·c·N² and R = 3π·ρ·N²/(k·c), so L/R tells c; ρ = 17.24 nΩm, copper
 * fills k = 0.6 of the winding.
 */
export function copperKg(henries: number, seriesOhms: number): number {
  const fill = 0.6;
  const secondsPerSquareMetre = (25.49e-7 * fill) / (3 * Math.PI * 17.24e-9);
  const side = Math.sqrt(henries / Math.max(seriesOhms, leastOhms) / secondsPerSquareMetre);
  return 8960 * fill * side * side * (3 * Math.PI * side);
}

/** Part of the cost of a part that follows its value. */
function valueCost(part: Part, rates: PriceRates): number {
  if (part.kind === 'capacitor') return rates.perMicrofarad * part.farads * 1e6;
  if (part.kind !== 'coil') return 0;
  const share = part.core === 'magnetic' ? magneticShare : 1;
  return rates.copperPerKg * share * copperKg(part.henries, part.seriesOhms);
}

/** Cost of some parts; those that are left out cost nothing. */
export const outlayOf = (parts: readonly Part[], rates: PriceRates): number =>
  parts
    .filter(({ isOff }) => !isOff)
    .reduce((sum, part) => sum + rates[part.kind] + valueCost(part, rates), 0);

/**
 * Cost of a part when its value moves and its loss follows, with the slope for a factor of e in the
 * value.
 */
export function costAt(
  part: Part,
  value: number,
  rates: PriceRates,
): { readonly cost: number; readonly slope: number } {
  const factor = value / partValue(part);
  // Copper follows (L/R)^1.5 where the loss is not held at its least.
  const isHeld = part.kind === 'coil' && part.seriesOhms <= leastOhms;
  const exponent =
    part.kind === 'coil'
      ? 1.5 * (1 - (isHeld ? 0 : lossExponent(part)))
      : part.kind === 'capacitor'
        ? 1
        : 0;
  const moving = valueCost(part, rates) * factor ** exponent;
  return { cost: rates[part.kind] + moving, slope: exponent * moving };
}

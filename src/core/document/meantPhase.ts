import type { Way } from './schema';
import type { DesignWithoutParts } from './withoutParts';

/** Pairs of ways, by their ids, whose slopes are meant to be 90° apart. */
export type Quadrature = readonly (readonly [string, string])[];

/**
 * Two Butterworth slopes of the same odd order are 90° apart at every frequency and add up to a
 * flat response, whichever way round; all others that are offered are meant to be in phase
 * (Linkwitz 1976; for Bessel about so).
 */
function areInQuadrature(lower: Pick<Way, 'target'>, upper: Pick<Way, 'target'>): boolean {
  const [fall, rise] = [lower.target?.lowPass, upper.target?.highPass];
  return (
    fall?.alignment === 'butterworth' &&
    rise?.alignment === 'butterworth' &&
    fall.order === rise.order &&
    fall.order % 2 === 1
  );
}

/** What the slopes that the ways are to have mean for the phase between them. */
export const quadratureOf = ({ ways }: Pick<DesignWithoutParts, 'ways'>): Quadrature =>
  ways.flatMap((lower) =>
    ways
      .filter((upper) => areInQuadrature(lower, upper))
      .map((upper) => [lower.id, upper.id] as const),
  );

/** Phase at which two ways are meant to meet, degrees. */
export const meantDeg = (quadrature: Quadrature, a: string, b: string): 0 | 90 =>
  quadrature.some(([x, y]) => (x === a && y === b) || (x === b && y === a)) ? 90 : 0;

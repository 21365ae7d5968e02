import { spinDirections } from './cta2034';

/** Steps from the axis to the rear. */
const steps = 18;

/**
 * Weights of the 70 directions for the mean over the whole sphere, with what lies between the two
 * orbits taken from the nearer of both in proportion (an estimate; exact for what is round about
 * the axis): Clenshaw and Curtis' quadrature (1960) over the angle off the axis, exact for
 * polynomials of its cosine up to degree 18; a quarter for each half orbit. The standard's own
 * weights (`cta2034.ts`) cut the sphere otherwise and tell 0.4 dB less of a dipole.
 */
export const sphereWeights: Float64Array = Float64Array.from(spinDirections, ({ degrees }) => {
  const k = Math.abs(degrees) / 10;
  const isPole = k === 0 || k === steps;
  let sum = 1;
  for (let j = 1; j <= steps / 2; j++)
    sum -= ((2 * j === steps ? 1 : 2) / (4 * j * j - 1)) * Math.cos((2 * j * k * Math.PI) / steps);
  const ring = ((isPole ? 1 : 2) * sum) / steps / 2;
  return isPole ? ring : ring / 4;
});

import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { impedanceOnGrid, responseOnGrid } from '@/core/measurement/onGrid';
import type { Samples } from '@/core/measurement/samples';
import { logGrid } from '@/core/grid/logGrid';
import { coneRadiusM, frequencyOfKa } from '@/core/radiation/piston';
import { coneResonances } from './motion';

/** How a response was taken that holds a driver's level. */
export interface LevelTaken {
  readonly response: Samples;
  readonly driveVolts: number;
  readonly distanceMm: number;
  readonly sdCm2: number;
  readonly temperatureC: number;
}

/** Above its resonance by this factor the mass alone counts. */
const massFrom = 2;
/** A stretch that is narrower, octaves, tells too little. */
const leastOctaves = 1 / 3;
/** Nearer than so many radii of the cone the level is none of a distance. */
const farFrom = 4;
/** Moving mass over cone area of drivers there are, kg/m²: outside of it the level has no reference. */
const massPerArea = [0.15, 8] as const;
const referencePa = 20e-6;

/**
 * Force factor of a driver whose sheet states none, from its measured level. Where its mass alone holds
 * it back, below ka = 1 and in half space, p = ρ·Sd·Bl·I/(2π·r·Mms) (Beranek 1954), and the impedance
 * shows Mms/Bl² as the capacitance of its resonance (Small 1972): so Bl = ρ·Sd·I/(2π·r·C·p). Where a
 * small front lets the level fall, Bl comes out too large and the excursion too small: so the loudest
 * third octave of the stretch counts. Within about 3 dB.
 *
 * @param impedance with phase, Ω
 * @returns T·m; null where impedance or level do not show it, the microphone was too near, or the level has
 *   no absolute reference
 */
export function forceFactorOf(
  impedance: Samples,
  { response, driveVolts, distanceMm, sdCm2, temperatureC }: LevelTaken,
): number | null {
  if (distanceMm / 1000 < farFrom * coneRadiusM(sdCm2)) return null;
  const peaks = coneResonances(impedance);
  if (!peaks || peaks.length === 0) return null;
  const farads = 1 / peaks.reduce((sum, one) => sum + 1 / one.farads, 0);
  const highestHz = Math.max(
    ...peaks.map((one) => 1 / (2 * Math.PI * Math.sqrt(one.henries * one.farads))),
  );
  const first = response.frequencyHz[0];
  const fromHz = Math.max(massFrom * highestHz, first);
  const toHz = frequencyOfKa(1, sdCm2, speedOfSoundMps(temperatureC));
  if (!(Math.log2(toHz / fromHz) >= leastOctaves)) return null;
  const grid = logGrid(fromHz, toHz, 24);
  const level = responseOnGrid(response, grid);
  const { re, im } = impedanceOnGrid(impedance, grid);
  const squares = level.re.map((x, i) => (x * x + level.im[i] ** 2) * (re[i] ** 2 + im[i] ** 2));
  // p·|Z| is even over such a stretch: its loudest third octave, energetically.
  const width = Math.min(8, squares.length);
  let most = 0;
  for (let i = 0; i + width <= squares.length; i++) {
    const mean = squares.slice(i, i + width).reduce((sum, one) => sum + one, 0) / width;
    if (mean > most) most = mean;
  }
  const pascalOhms = referencePa * Math.sqrt(most);
  const sdM2 = sdCm2 / 1e4;
  const bl =
    (airDensityKgpm3(temperatureC) * sdM2 * driveVolts) /
    (2 * Math.PI * (distanceMm / 1000) * farads * pascalOhms);
  const perArea = (farads * bl * bl) / sdM2;
  return perArea > massPerArea[0] && perArea < massPerArea[1] ? bl : null;
}

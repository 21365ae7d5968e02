import { seeded } from '@/core/spectrum/noise';
import type { DriverModel } from './models';

/** Sorts of drivers from which a seed chooses: ranges of their figures, made up but usual. */
const sorts = [
  {
    fc: [38, 60],
    mass: [0.02, 0.045],
    area: [0.015, 0.036],
    re: [5, 6.5],
    k: [0.008, 0.014],
    top: [1800, 3200],
    z: [-55, -35],
  },
  {
    fc: [75, 140],
    mass: [0.005, 0.012],
    area: [0.006, 0.012],
    re: [5, 6.5],
    k: [0.003, 0.006],
    top: [5000, 8000],
    z: [-30, -15],
  },
  {
    fc: [600, 1100],
    mass: [0.0003, 0.0005],
    area: [0.0006, 0.0008],
    re: [4.5, 6],
    k: [0.0008, 0.0014],
    top: [19_000, 24_000],
    z: [-8, 0],
  },
] as const;

/**
 * A driver made up from a seed: woofer, midrange or dome in turn. The same seed gives the same
 * driver.
 */
export function inventedDriver(seed: number): DriverModel {
  const { uniform } = seeded(1000 + seed);
  const between = ([low, high]: readonly [number, number]) => low * (high / low) ** uniform();
  const sort = sorts[((seed % sorts.length) + sorts.length) % sorts.length];
  const topHz = between(sort.top);
  return {
    fcHz: between(sort.fc),
    qmc: between([2, 5]),
    qec: between([0.45, 0.95]),
    movingMassKg: between(sort.mass),
    areaM2: between(sort.area),
    reOhm: between(sort.re),
    coilK: between(sort.k),
    coilN: between([0.65, 0.75]),
    rollOffHz: topHz,
    rollOffQ: between([0.7, 0.95]),
    resonances: [
      [topHz * between([0.35, 0.5]), between([3, 6]), -2 + 4 * uniform()],
      [topHz * between([0.8, 1.1]), between([4, 8]), 2 + 4 * uniform()],
    ],
    xMm: 0,
    yMm: Math.round(-200 + 300 * uniform()),
    zMm: Math.round(sort.z[0] + (sort.z[1] - sort.z[0]) * uniform()),
  };
}

import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { spacingOf, type Spacing } from '@/core/baffle/spacing';
import type { Design, Driver } from '@/core/document/schema';
import type { CrossoverReport } from './crossoverReports';

/** Nearer than this the drivers count as in one place, or nobody said where they are. */
const leastApartMm = 1;

const centreOf = ({ position: { xMm, yMm, zMm } }: Driver) => ({
  x: xMm / 1000,
  y: yMm / 1000,
  z: zMm / 1000,
});

/**
 * What the spacing of the drivers of two ways does at their crossover, heard from the design axis.
 *
 * @returns null when nothing is said of where they are, or a way has several drivers
 */
export function waySpacing(
  { ways, drivers, listeningDistanceMm, airTemperatureC }: Design,
  { lowerId, upperId, atHz, phaseDeg }: CrossoverReport,
): Spacing | null {
  const driverOf = (wayId: string): Driver | undefined => {
    const ends = ways.find(({ id }) => id === wayId)?.ends ?? [];
    return ends.length === 1 ? drivers.find(({ id }) => id === ends[0].driverId) : undefined;
  };
  const [lower, upper] = [driverOf(lowerId), driverOf(upperId)];
  if (!lower || !upper) return null;
  const spacing = spacingOf(
    {
      ...{ lower: centreOf(lower), upper: centreOf(upper) },
      ...{ crossoverHz: atHz, leadDeg: -phaseDeg },
    },
    { distanceM: listeningDistanceMm / 1000, heightM: 0 },
    speedOfSoundMps(airTemperatureC),
  );
  return spacing.apartM * 1000 < leastApartMm ? null : spacing;
}

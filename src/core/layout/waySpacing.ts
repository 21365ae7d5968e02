import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { groupSpacing } from '@/core/baffle/arraySpacing';
import type { Centre, Spacing } from '@/core/baffle/spacing';
import type { Design } from '@/core/document/schema';
import { earsAboveAxisMm } from '@/core/document/seats';
import type { CrossoverReport } from '@/core/insight/crossoverReports';

/** Spacing of two ways up and down, and across where they are not in one line. */
interface WaySpacing {
  readonly vertical: Spacing;
  /** Seen from above: heights are places to the right. Null for drivers above each other. */
  readonly horizontal: Spacing | null;
}

/** Nearer than this the drivers count as in one place, or nobody said where they are. */
const leastApartMm = 1;

/**
 * What the spacing of the drivers of two ways does at their crossover, heard where the seat is.
 *
 * @returns null when nothing is said of where the drivers are
 */
export function waySpacing(
  design: Design,
  {
    lowerId,
    upperId,
    atHz,
    phaseDeg,
  }: Pick<CrossoverReport, 'lowerId' | 'upperId' | 'atHz' | 'phaseDeg'>,
): WaySpacing | null {
  const { ways, drivers, listeningDistanceMm, airTemperatureC } = design;
  const centresOf = (wayId: string): Centre[] => {
    const ends = ways.find(({ id }) => id === wayId)?.ends ?? [];
    return drivers
      .filter(({ id }) => ends.some(({ driverId }) => driverId === id))
      .map(({ position: { xMm, yMm, zMm } }) => ({ x: xMm / 1000, y: yMm / 1000, z: zMm / 1000 }));
  };
  const [lower, upper] = [centresOf(lowerId), centresOf(upperId)];
  const all = [...lower, ...upper];
  const spread = (axis: 'x' | 'y') => {
    const places = all.map((centre) => centre[axis]);
    return 1000 * (Math.max(...places) - Math.min(...places));
  };
  if (lower.length === 0 || upper.length === 0) return null;
  if (Math.max(spread('x'), spread('y')) < leastApartMm) return null;
  const speed = speedOfSoundMps(airTemperatureC);
  const distanceM = listeningDistanceMm / 1000;
  const ears = earsAboveAxisMm(design) / 1000;
  // The phase between the ways holds on the design axis; the ears may be above or below it.
  const told = { crossoverHz: atHz, leadDeg: -phaseDeg };
  const turned = ({ x, y, z }: Centre): Centre => ({ x: y, y: x, z });
  return {
    vertical: {
      ...groupSpacing({ lower, upper, ...told }, { distanceM, heightM: 0 }, speed),
      pathM: groupSpacing({ lower, upper, ...told }, { distanceM, heightM: ears }, speed).pathM,
    },
    horizontal:
      spread('x') < leastApartMm
        ? null
        : groupSpacing(
            { lower: lower.map(turned), upper: upper.map(turned), ...told },
            { distanceM, heightM: 0 },
            speed,
          ),
  };
}

/** Heights at the seat between which every crossover loses at most 1 dB, mm against the design axis. */
export interface SeatWindow {
  readonly fromMm: number;
  readonly toMm: number;
}

/** Null where there is no such height, or no crossover. */
export function seatWindow(design: Design, reports: readonly CrossoverReport[]): SeatWindow | null {
  const windows = reports.flatMap((report) => waySpacing(design, report)?.vertical.window ?? []);
  if (windows.length === 0) return null;
  const fromMm = 1000 * Math.max(...windows.map(({ fromM }) => fromM));
  const toMm = 1000 * Math.min(...windows.map(({ toM }) => toM));
  return fromMm < toMm ? { fromMm, toMm } : null;
}

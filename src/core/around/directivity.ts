import type { Design } from '@/core/document/schema';
import type { MeasurementData } from '@/core/measurement/samples';
import { createHearing } from '@/core/prediction/hearing';
import { sumIn } from '@/core/prediction/offAxisLevels';
import { headingOf, type Direction, type RadiationSource } from '@/core/radiation/direction';
import { aroundGridHz, listen, orbitDegrees, planes } from './orbits';

/** Complex pressures of a speaker in all directions of both orbits. */
export interface Directivity {
  readonly frequencyHz: Float64Array;
  readonly directions: readonly Direction[];
  readonly sources: readonly RadiationSource[];
  /** Of direction d at frequency i at d · points + i; pascals at 1 m over 20 µPa, as levels are. */
  readonly re: Float64Array;
  readonly im: Float64Array;
  readonly distanceMm: number;
}

/** @returns null where it is not known of some driver what it does off its axis */
export function directivityOf(
  design: Design,
  data: MeasurementData,
  stepDeg: 5 | 10,
  distanceMm = design.listeningDistanceMm,
): Directivity | null {
  const frequencyHz = aroundGridHz();
  const points = frequencyHz.length;
  const found = listen(createHearing(frequencyHz), design, data);
  const directions = planes.flatMap((plane) =>
    orbitDegrees(stepDeg)
      .filter((degrees) => plane === 'horizontal' || (degrees !== 0 && degrees !== 180))
      .map((degrees): Direction => ({ plane, degrees })),
  );
  const rows = found?.sending.rowsAs(
    'directivity',
    directions.map((direction) => ({ heading: headingOf(direction), distanceMm })),
  );
  if (!found || !rows) return null;
  const re = new Float64Array(directions.length * points);
  const im = new Float64Array(directions.length * points);
  directions.forEach((_, d) => {
    const sum = sumIn(rows.pressures, found.heard, d, points);
    re.set(sum.re, d * points);
    im.set(sum.im, d * points);
  });
  return { frequencyHz, directions, sources: rows.sources, re, im, distanceMm };
}

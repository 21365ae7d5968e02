import type { Heading } from '@/core/radiation/direction';
import type { Design } from './schema';

/** A place at which somebody listens. */
export interface Seat {
  readonly id: string;
  /** “nearest row, left”. */
  readonly name: string;
  /** From the origin of the design's axes. */
  readonly heading: Heading;
  readonly distanceMm: number;
  /** To the right of the design axis, degrees. */
  readonly asideDeg: number;
}

/** Ears against the design axis, mm up; 0 while a height is open. */
export const earsAboveAxisMm = ({
  axisHeightMm,
  earHeightMm,
}: Pick<Design, 'axisHeightMm' | 'earHeightMm'>): number =>
  axisHeightMm === null || earHeightMm === null ? 0 : earHeightMm - axisHeightMm;

/**
 * The seats of the brief: its nearest and its farthest row, in the middle and at both ends of what
 * they spread, at the height of the ears.
 */
export function seatsOf(design: Pick<Design, 'brief' | 'axisHeightMm' | 'earHeightMm'>): Seat[] {
  const { nearestSeatMm, farthestSeatMm, spreadDeg } = design.brief;
  const rows = [
    { id: 'near', name: 'nearest row', distanceMm: nearestSeatMm },
    { id: 'far', name: 'farthest row', distanceMm: farthestSeatMm },
  ].flatMap(({ distanceMm, ...row }) => (distanceMm === null ? [] : [{ ...row, distanceMm }]));
  const distinct = rows.filter(({ distanceMm }, i) => i === 0 || distanceMm !== rows[0].distanceMm);
  const places = [
    { id: 'middle', name: 'middle', asideDeg: 0 },
    ...(spreadDeg === null
      ? []
      : [
          { id: 'left', name: 'left', asideDeg: -spreadDeg },
          { id: 'right', name: 'right', asideDeg: spreadDeg },
        ]),
  ];
  const up = earsAboveAxisMm(design);
  return distinct.flatMap((row) =>
    places.map(({ id, name, asideDeg }): Seat => {
      const aside = (asideDeg * Math.PI) / 180;
      const point = {
        x: row.distanceMm * Math.sin(aside),
        y: up,
        z: row.distanceMm * Math.cos(aside),
      };
      const length = Math.hypot(point.x, point.y, point.z);
      return {
        id: `${row.id}-${id}`,
        name: distinct.length === 1 ? name : `${row.name}, ${name}`,
        heading: { x: point.x / length, y: point.y / length, z: point.z / length },
        distanceMm: length,
        asideDeg,
      };
    }),
  );
}

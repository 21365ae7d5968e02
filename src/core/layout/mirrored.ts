import type { Boundary } from '@/core/document/surroundingsSchema';

/** A place on the design's axes, mm. */
export interface Point {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** Mirrors a point in the plane of a boundary. */
export function mirrored({ kind, distanceMm }: Boundary, { x, y, z }: Point): Point {
  switch (kind) {
    case 'floor':
    case 'desk':
      return { x, y: -2 * distanceMm - y, z };
    case 'front-wall':
      return { x, y, z: -2 * distanceMm - z };
    case 'left-wall':
      return { x: -2 * distanceMm - x, y, z };
    case 'right-wall':
      return { x: 2 * distanceMm - x, y, z };
  }
}

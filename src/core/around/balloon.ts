import { betweenOrbits, headingOf } from '@/core/radiation/direction';
import type { AroundView, OrbitMap } from './orbits';

/** A surface around the speaker that is farther away where it is louder. */
export interface Balloon {
  /** Corners x, y, z in rows from the axis to the rear, `columns` in each. */
  readonly corners: Float32Array;
  readonly levelDb: Float32Array;
  readonly rows: number;
  readonly columns: number;
  /** Loudest direction, dB. */
  readonly topDb: number;
}

const rows = 37;
const columns = 73;

/**
 * Levels over the whole sphere at one frequency, between the two orbits by their shares (an
 * estimate), as a surface: the loudest direction at 1, what is so far under it at 0.
 */
export function balloonOf({ frequencyHz, orbits }: AroundView, i: number, spanDb: number): Balloon {
  const points = frequencyHz.length;
  const levelAt = ({ degrees, levelDb }: OrbitMap, angle: number): number => {
    const step = degrees[1] - degrees[0];
    const at = (angle - degrees[0]) / step;
    const low = Math.floor(at);
    const share = at - low;
    // Below the lowest angle lies the rear, the highest.
    const level = (place: number) =>
      levelDb[((place + degrees.length) % degrees.length) * points + i];
    return level(low) + share * (level(low + 1) - level(low));
  };
  const levelDb = new Float32Array(rows * columns);
  const corners = new Float32Array(3 * rows * columns);
  let topDb = -Infinity;
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const heading = headingAt(row, column);
      const { horizontalShare, verticalShare, horizontalDeg, verticalDeg } = betweenOrbits(heading);
      const db =
        horizontalShare * levelAt(orbits.horizontal, horizontalDeg) +
        verticalShare * levelAt(orbits.vertical, verticalDeg);
      levelDb[row * columns + column] = db;
      topDb = Math.max(topDb, db);
    }
  levelDb.forEach((db, k) => {
    const radius = Math.max(0.02, 1 - (topDb - db) / spanDb);
    const { x, y, z } = headingAt(Math.floor(k / columns), k % columns);
    corners.set([radius * x, radius * y, radius * z], 3 * k);
  });
  return { corners, levelDb, rows, columns, topDb };
}

/** Rows go from the axis to the rear, columns around it. */
function headingAt(row: number, column: number) {
  const off = headingOf({ plane: 'horizontal', degrees: (180 * row) / (rows - 1) });
  const around = (2 * Math.PI * column) / (columns - 1);
  return { x: off.x * Math.cos(around), y: off.x * Math.sin(around), z: off.z };
}

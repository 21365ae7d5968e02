/**
 * A direction in which the speaker is heard, seen from its front: right of it and above it are
 * positive.
 */
export interface Direction {
  readonly plane: 'horizontal' | 'vertical';
  readonly degrees: number;
}

/** The listening window besides the axis itself, ANSI/CTA-2034-A. */
export const listeningWindow: readonly Direction[] = [
  ...[-30, -20, -10, 10, 20, 30].map((degrees) => ({ plane: 'horizontal', degrees }) as const),
  ...[-10, 10].map((degrees) => ({ plane: 'vertical', degrees }) as const),
];

/** Levels of one driver in one direction against its axis, dB, over frequency. */
export interface MeasuredDirection {
  readonly direction: Direction;
  readonly levelDb: Float64Array;
}

/** As far beyond the widest angle that was measured its level still holds, degrees. */
const slackDeg = 5;

/**
 * Level of a driver in a direction against its axis, by straight lines over angle between what was
 * measured. A side that was not measured is taken as the mirror of the other, a plane that was not
 * as the other plane: drivers are round.
 *
 * @param measured directions of one driver, the axis left out; over one frequency grid
 * @returns null when nothing was measured so far from the axis
 */
export function levelToward(
  { plane, degrees }: Direction,
  measured: readonly MeasuredDirection[],
): Float64Array | null {
  const inPlane = measured.filter(({ direction }) => direction.plane === plane);
  const known = inPlane.length > 0 ? inPlane : measured;
  const sameSide = known.filter(({ direction }) => direction.degrees * degrees > 0);
  const side = (sameSide.length > 0 ? sameSide : known)
    .map(({ direction, levelDb }) => ({ off: Math.abs(direction.degrees), levelDb }))
    .sort((a, b) => a.off - b.off);
  const off = Math.abs(degrees);
  const above = side.findIndex((one) => one.off >= off);
  if (above < 0) {
    const widest = side.at(-1);
    return widest && off - widest.off <= slackDeg ? widest.levelDb : null;
  }
  const high = side[above];
  const low = side.at(above - 1);
  if (above === 0 || !low) return high.levelDb.map((db) => (db * off) / high.off);
  const weight = (off - low.off) / (high.off - low.off);
  return high.levelDb.map((db, i) => weight * db + (1 - weight) * low.levelDb[i]);
}

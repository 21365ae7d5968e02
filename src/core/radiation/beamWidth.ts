/** Half of the level by which a beam's edge is told, dB. */
export const beamEdgeDb = -6;

/**
 * Angle between the directions on both sides at which the level has fallen by 6 dB under that on the
 * axis, straight lines between the angles.
 *
 * @param degrees rising, with 0 among them
 * @param levelDb of each angle
 * @returns degrees; 360 where it never falls that far on a side
 */
export function beamWidthDeg(
  degrees: ArrayLike<number>,
  levelDb: (place: number) => number,
): number {
  const axis = Array.from(degrees).indexOf(0);
  const edge = levelDb(axis) + beamEdgeDb;
  const side = (step: 1 | -1): number => {
    for (let k = axis; k + step >= 0 && k + step < degrees.length; k += step) {
      const [here, there] = [levelDb(k), levelDb(k + step)];
      if (there >= edge) continue;
      const share = (here - edge) / (here - there);
      return Math.abs(degrees[k] + share * (degrees[k + step] - degrees[k]));
    }
    return 180;
  };
  return side(1) + side(-1);
}

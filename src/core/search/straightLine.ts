/** The straight line of least squares through some points: y = start + slope·x. */
export interface StraightLine {
  readonly slope: number;
  /** Where it passes x = 0. */
  readonly start: number;
  /** The middle of the points, which it passes through. */
  readonly meanX: number;
  readonly meanY: number;
}

/**
 * @param x of each point
 * @param y of each point, as many
 * @param weights of the points; without them all count alike
 * @returns a level line through the mean when all points have one x
 */
export function straightLine(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  weights?: ArrayLike<number>,
): StraightLine {
  let [s, sx, sy] = [0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    const w = weights ? weights[i] : 1;
    s += w;
    sx += w * x[i];
    sy += w * y[i];
  }
  const [meanX, meanY] = [sx / s, sy / s];
  // Around the mean: sums of squares of large numbers would cancel.
  let [sxx, sxy] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    const w = weights ? weights[i] : 1;
    sxx += w * (x[i] - meanX) ** 2;
    sxy += w * (x[i] - meanX) * (y[i] - meanY);
  }
  const slope = sxx > 0 ? sxy / sxx : 0;
  return { slope, start: meanY - slope * meanX, meanX, meanY };
}

import { problem } from '@/core/problem';

/** A point of a picture, in its own pixels from the upper left corner. */
export interface PicturePoint {
  readonly x: number;
  readonly y: number;
}

/** Two points of an axis with what is written there. */
export interface AxisMarks {
  readonly isLogarithmic: boolean;
  readonly at: readonly [PicturePoint, PicturePoint];
  readonly values: readonly [number, number];
}

/** From a picture to values and back. */
export interface TracedAxes {
  readonly toValues: (point: PicturePoint) => { readonly x: number; readonly y: number };
  readonly toPicture: (values: { readonly x: number; readonly y: number }) => PicturePoint;
}

/** Marks this close together say nothing of a scale, pixels. */
const nearestPx = 5;

/**
 * Axes of a picture by two marks on each. The picture may lie crooked: a value is found by the lines
 * that run along the other axis.
 *
 * @throws ProblemError `axis_unusable`
 */
export function axesOf(across: AxisMarks, up: AxisMarks): TracedAxes {
  const [scaleX, scaleY] = [scaleOf('frequency', across), scaleOf('level', up)];
  // Directions of both axes in the picture; a value grows along its own.
  const a = minus(across.at[1], across.at[0]);
  const b = minus(up.at[1], up.at[0]);
  const area = a.x * b.y - a.y * b.x;
  if (Math.abs(area) < 0.2 * Math.hypot(a.x, a.y) * Math.hypot(b.x, b.y))
    throw unusable('axes', 'Both axes run in nearly the same direction.');
  /** Shares of both axes by which a point is away from the first mark of one of them. */
  const along = (point: PicturePoint, from: PicturePoint) => {
    const d = minus(point, from);
    return { u: (d.x * b.y - d.y * b.x) / area, v: (a.x * d.y - a.y * d.x) / area };
  };
  const offset = along(across.at[0], up.at[0]);
  return {
    toValues: (point) => ({
      x: scaleX.value(along(point, across.at[0]).u),
      y: scaleY.value(along(point, up.at[0]).v),
    }),
    toPicture({ x, y }) {
      const u = scaleX.share(x) + offset.u;
      const v = scaleY.share(y);
      return { x: up.at[0].x + u * a.x + v * b.x, y: up.at[0].y + u * a.y + v * b.y };
    },
  };
}

const minus = (a: PicturePoint, b: PicturePoint): PicturePoint => ({ x: a.x - b.x, y: a.y - b.y });

const unusable = (where: string, what: string) =>
  problem('axis_unusable', where, what, '', 'Set the two marks of each axis again.');

/** @throws ProblemError `axis_unusable` */
function scaleOf(name: string, { isLogarithmic, at, values: [from, to] }: AxisMarks) {
  const apart = minus(at[1], at[0]);
  if (Math.hypot(apart.x, apart.y) < nearestPx)
    throw unusable(name, `The two marks of the ${name} axis are in one place.`);
  if (from === to) throw unusable(name, `Both marks of the ${name} axis have the same value.`);
  if (isLogarithmic && (from <= 0 || to <= 0))
    throw unusable(name, `A logarithmic ${name} axis has values above 0 only.`);
  const [a, b] = isLogarithmic ? [Math.log(from), Math.log(to)] : [from, to];
  return {
    value: (share: number) => {
      const value = a + share * (b - a);
      return isLogarithmic ? Math.exp(value) : value;
    },
    share: (value: number) => ((isLogarithmic ? Math.log(value) : value) - a) / (b - a),
  };
}

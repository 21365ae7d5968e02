import type { Heading } from './direction';

/**
 * Axes: origin on the design axis in the plane of the baffle; x to the right as seen from the
 * listener, y up, z toward the listener. Millimetres.
 */
export interface Position {
  readonly xMm: number;
  readonly yMm: number;
  readonly zMm: number;
}

/** Where the microphone was when a response was measured, and what its phase refers to. */
export interface Microphone {
  /** On the axis of the driver itself, or on the design axis of the whole speaker. */
  readonly placement: 'own-axis' | 'design-axis';
  /** From the plane of the baffle to the microphone, mm. */
  readonly distanceMm: number;
  /**
   * True when all responses of the set share one time reference, so that flight times can be
   * compared.
   */
  readonly commonTiming: boolean;
}

/** What has to be done to a measured response to have it at the observation point. */
interface PathCorrection {
  /** Path that the data do not hold yet, mm; positive is later. */
  readonly addedPathMm: number;
  /**
   * Amplitude factor of the spherical wave, re 1 m: distance measured at over distance observed at.
   */
  readonly gain: number;
}

/** From an acoustic centre to a point on the design axis, mm. */
function toAxisPointMm({ xMm, yMm, zMm }: Position, distanceMm: number): number {
  return Math.hypot(xMm, yMm, distanceMm - zMm);
}

/** The point that far from the origin in a direction. */
export const pointAtMm = ({ x, y, z }: Heading, distanceMm: number): Position => ({
  xMm: distanceMm * x,
  yMm: distanceMm * y,
  zMm: distanceMm * z,
});

/** From an acoustic centre to a point, mm. */
export const pathToMm = ({ xMm, yMm, zMm }: Position, to: Position): number =>
  Math.hypot(to.xMm - xMm, to.yMm - yMm, to.zMm - zMm);

/**
 * The part of a driver's path to the observation point on the design axis which its measurement
 * does not hold. A path is counted once: with common timing the data already hold the way from
 * where the driver was to the microphone, and only the difference to the way from where it is to
 * the observation point is added; without it they hold none, and all of it is added, less the
 * distance from the origin which is common to all drivers. Levels are referred to 1 m from the
 * origin, as p·r is constant for a point source.
 *
 * @param position acoustic centre of the driver
 * @param measuredAt where it was when it was measured
 * @param microphone where the response was measured; `distanceMm` above `zMm`
 * @param observationDistanceMm on the design axis from the plane of the baffle, above `zMm`
 */
export function pathCorrection(
  position: Position,
  measuredAt: Position,
  microphone: Microphone,
  observationDistanceMm: number,
): PathCorrection {
  const observedMm = toAxisPointMm(position, observationDistanceMm);
  const measuredMm =
    microphone.placement === 'design-axis'
      ? toAxisPointMm(measuredAt, microphone.distanceMm)
      : microphone.distanceMm - measuredAt.zMm;
  return {
    addedPathMm: observedMm - (microphone.commonTiming ? measuredMm : observationDistanceMm),
    gain: (measuredMm / observedMm) * (observationDistanceMm / 1000),
  };
}

/**
 * How far forward a driver must lie for its path to the microphone to be longer than another's by a
 * given difference; its place across the baffle is known.
 *
 * @param position of the driver sought; its zMm does not matter
 * @param other driver whose place is known
 * @param pathDifferenceMm positive when the driver sought is farther from the microphone
 * @returns zMm; null when no depth makes such a path
 */
export function depthForPath(
  position: Position,
  other: Position,
  microphone: Pick<Microphone, 'placement' | 'distanceMm'>,
  pathDifferenceMm: number,
): number | null {
  if (microphone.placement === 'own-axis') return other.zMm - pathDifferenceMm;
  const pathMm = toAxisPointMm(other, microphone.distanceMm) + pathDifferenceMm;
  const alongSquare = pathMm ** 2 - position.xMm ** 2 - position.yMm ** 2;
  return pathMm > 0 && alongSquare > 0 ? microphone.distanceMm - Math.sqrt(alongSquare) : null;
}

/** How much farther from the microphone the second position is than the first, mm. */
export const pathDifferenceMm = (
  first: Position,
  second: Position,
  { placement, distanceMm }: Pick<Microphone, 'placement' | 'distanceMm'>,
): number =>
  placement === 'own-axis'
    ? first.zMm - second.zMm
    : toAxisPointMm(second, distanceMm) - toAxisPointMm(first, distanceMm);

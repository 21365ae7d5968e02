import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { pathCorrection } from '@/core/radiation/path';
import type { Design, Driver } from './schema';

/**
 * What a driver's move since its measurement does to its path to the point at which the sum is
 * predicted.
 */
export interface Move {
  /** To the right, up and toward the listener, mm. */
  readonly xMm: number;
  readonly yMm: number;
  readonly zMm: number;
  /** Longer path, mm, and the delay that it makes. */
  readonly addedPathMm: number;
  readonly delayMs: number;
}

/**
 * The move of a driver whose responses hold the place at which they were measured; null when there
 * is none.
 */
export function moveSinceMeasured(
  { measurements, listeningDistanceMm, airTemperatureC }: Design,
  { position, measuredAt, responseId }: Driver,
): Move | null {
  const response = measurements.find(({ id }) => id === responseId);
  if (measuredAt === null || !response?.microphone.commonTiming) return null;
  const [xMm, yMm, zMm] = (['xMm', 'yMm', 'zMm'] as const).map(
    (axis) => position[axis] - measuredAt[axis],
  );
  if (xMm === 0 && yMm === 0 && zMm === 0) return null;
  const { microphone } = response;
  const addedPathMm =
    pathCorrection(position, measuredAt, microphone, listeningDistanceMm).addedPathMm -
    pathCorrection(measuredAt, measuredAt, microphone, listeningDistanceMm).addedPathMm;
  return {
    ...{ xMm, yMm, zMm, addedPathMm },
    delayMs: addedPathMm / speedOfSoundMps(airTemperatureC),
  };
}

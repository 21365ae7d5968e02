import type { Direction } from '@/core/radiation/offAxis';

export type Plane = Direction['plane'];

/** Angles at which a driver on its front is shown. */
export const anglesDeg = [0, 30, 60, 90] as const;

export const directionsIn = (plane: Plane): Direction[] =>
  anglesDeg.map((degrees) => ({ plane, degrees }));

/** Both orbits in steps of 15°, for tables. */
export const orbitDirections: readonly Direction[] = (['horizontal', 'vertical'] as const).flatMap(
  (plane) => Array.from({ length: 24 }, (_, k): Direction => ({ plane, degrees: 15 * k - 165 })),
);

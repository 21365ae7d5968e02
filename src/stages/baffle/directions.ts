import type { Direction } from '@/core/radiation/direction';

export type Plane = Direction['plane'];

/** Sets of angles at which a driver on its front is shown. */
export const angleSets = [
  { id: 'wide', text: '0 to 90°', degrees: [0, 30, 60, 90] },
  { id: 'window', text: '0 to 30°', degrees: [0, 10, 20, 30] },
  { id: 'sides', text: '−30 to 30°', degrees: [-30, -15, 15, 30] },
  { id: 'around', text: '0 to 180°', degrees: [0, 90, 135, 180] },
] as const;
export type AngleSet = (typeof angleSets)[number];

export const directionsIn = (plane: Plane, { degrees }: AngleSet): Direction[] =>
  degrees.map((one) => ({ plane, degrees: one }));

/** Both orbits in steps of 15°, for tables. */
export const orbitDirections: readonly Direction[] = (['horizontal', 'vertical'] as const).flatMap(
  (plane) => Array.from({ length: 24 }, (_, k): Direction => ({ plane, degrees: 15 * k - 165 })),
);

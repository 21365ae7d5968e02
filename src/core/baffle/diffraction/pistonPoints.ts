/** A point of a piston with its share of the area. */
export interface PistonPoint {
  readonly x: number;
  readonly y: number;
  readonly share: number;
}

/** Gauss–Legendre nodes and weights on 0…1 for four rings, in the square of the radius. */
const rings = [
  { square: 0.0694318442029737, weight: 0.1739274225687269 },
  { square: 0.3300094782075719, weight: 0.3260725774312731 },
  { square: 0.6699905217924281, weight: 0.3260725774312731 },
  { square: 0.9305681557970263, weight: 0.1739274225687269 },
];
const perRing = 16;

/**
 * Points that stand for an even piston: exact for what changes over it like a polynomial of seventh
 * order, and no good where it is more than about three wavelengths around (ka > 16), where it hardly
 * reaches an edge any more.
 */
export function pistonPoints(x: number, y: number, radiusM: number): PistonPoint[] {
  if (radiusM <= 0) return [{ x, y, share: 1 }];
  return rings.flatMap(({ square, weight }, ring) => {
    const radius = radiusM * Math.sqrt(square);
    return Array.from({ length: perRing }, (_, k) => {
      const angle = (2 * Math.PI * (k + (ring % 2) / 2)) / perRing;
      return {
        x: x + radius * Math.cos(angle),
        y: y + radius * Math.sin(angle),
        share: weight / perRing,
      };
    });
  });
}

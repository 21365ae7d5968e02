/** Cross-section of a port: round, or a slot. */
export type PortMouth =
  | { readonly diameterM: number }
  | {
      readonly slot: {
        readonly widthM: number;
        readonly heightM: number;
        /** Whether one long side is a panel of the box that goes on beyond the port. */
        readonly isOnWall: boolean;
      };
    };

/** How the end of a port sits: in a large wall, in the open, or in a wall and rounded by a radius. */
export type PortEnd = 'flanged' | 'free' | { readonly flareM: number };

/** Area of one port, m². */
export const mouthAreaM2 = (mouth: PortMouth): number =>
  'slot' in mouth ? mouth.slot.widthM * mouth.slot.heightM : (Math.PI / 4) * mouth.diameterM ** 2;

/** Of a circle, over its radius: in a wall (Rayleigh); a thin tube (Levine and Schwinger 1948). */
const flangedCircle = 8 / (3 * Math.PI);
const freeCircle = 0.6133;

/**
 * What the air before an end adds to a port's length, m; below 0 where a flare takes away more than
 * the air before it adds.
 */
export function endCorrectionM(mouth: PortMouth, end: PortEnd): number {
  const areaM2 = mouthAreaM2(mouth);
  const radiusM = Math.sqrt(areaM2 / Math.PI);
  if (typeof end === 'object') return flaredM(radiusM, end.flareM);
  if (!('slot' in mouth)) return (end === 'flanged' ? flangedCircle : freeCircle) * radiusM;
  const { widthM, heightM, isOnWall } = mouth.slot;
  // A wall along the slot mirrors it: half of an opening twice as high.
  const flanged = flangedRectangleM(widthM, heightM * (isOnWall ? 2 : 1));
  return end === 'flanged' ? flanged : (flanged * freeCircle) / flangedCircle;
}

/**
 * Mass of the air before a rectangle that moves as one in a wall, over that of its area (Rayleigh's
 * ∬∬ dA dA′/(2π|r − r′|)/A, whose integral is known in closed form).
 */
export function flangedRectangleM(a: number, b: number): number {
  const across = Math.hypot(a, b);
  const selfPotential =
    (2 / 3) * (a ** 3 + b ** 3 - across ** 3) +
    2 * a * b * (a * Math.asinh(b / a) + b * Math.asinh(a / b));
  return selfPotential / (2 * Math.PI * a * b);
}

/**
 * An end rounded by a quarter circle in a wall: the air in the flare moves more slowly the wider it
 * is, ∫A/A(x) dx, and so does that before its mouth. The flare is part of the port's length.
 */
function flaredM(radiusM: number, flareM: number): number {
  const steps = 48;
  let inFlare = 0;
  for (let k = 0; k < steps; k++) {
    const x = ((k + 0.5) / steps) * flareM;
    const there = radiusM + flareM - Math.sqrt(flareM ** 2 - x ** 2);
    inFlare += ((radiusM / there) ** 2 * flareM) / steps;
  }
  const mouth = radiusM + flareM;
  return inFlare - flareM + flangedCircle * mouth * (radiusM / mouth) ** 2;
}

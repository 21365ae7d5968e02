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

/** An open tube in a wall, over its radius (Nomura, Yamamura and Inawashiro 1960): a piston has more. */
const openTube = 0.8217;
/** What rounding takes off, by the radius of the rounding over that of the tube, and by its square. */
const rounding = { linear: 0.19, square: 0.245, upTo: 0.86 };
/** Up to so little rounding the end goes over into that of a piston, which plain ends count as. */
const plainUpTo = 0.14;

/**
 * An end rounded by a quarter circle in a wall: the flow leaves the flare before it is through, so that it
 * acts longer than if it filled it. From a grid of Laplace's equation (`tests/references/box/flares.py`),
 * to 0.01 of the radius; a larger rounding adds no more than the flow that fills it would. The flare is
 * part of the port's length.
 */
function flaredM(radiusM: number, flareM: number): number {
  const share = flareM / radiusM;
  const x = Math.min(share, rounding.upTo);
  const plain = (flangedCircle - openTube) * Math.max(0, 1 - x / plainUpTo);
  const upTo = openTube + plain - rounding.linear * x - rounding.square * x * x;
  const beyond = filledFlare(share) - filledFlare(x);
  return radiusM * (upTo + beyond);
}

/** The same if the flow filled the flare, ∫A/A(x) dx, over the tube's radius: a lower bound (Rayleigh). */
function filledFlare(share: number): number {
  if (share === 0) return flangedCircle;
  const steps = 48;
  let inFlare = 0;
  for (let k = 0; k < steps; k++) {
    const x = ((k + 0.5) / steps) * share;
    const there = 1 + share - Math.sqrt(share ** 2 - x ** 2);
    inFlare += share / there ** 2 / steps;
  }
  return inFlare - share + flangedCircle / (1 + share);
}

import { dot, minus, type Edge, type EdgeSide, type Vector } from '@/core/baffle/solid';

/**
 * Diffraction of a wedge with rigid faces, for a source on one of them (Biot and Tolstoy 1957;
 * Medwin 1981; as line integral over edge sources: Svensson, Fred and Vanderkooy 1999). Of the four
 * terms those of the source and its mirror image are alike; what is told is relative to the
 * pressure on the face, which holds both.
 */
export interface Wedge {
  /** π over the angle of the air. */
  readonly index: number;
  /** Sines and cosines of index·(π ± angle of the receiver). */
  readonly sines: readonly [number, number];
  readonly cosines: readonly [number, number];
}

/** @param angle of the receiver from the face of the source, radians */
export function wedgeOf({ airAngle }: Edge, angle: number): Wedge {
  const index = Math.PI / airAngle;
  const phases = [index * (Math.PI + angle), index * (Math.PI - angle)];
  const [above, below] = phases.map((phase) => {
    const sine = Math.sin(phase);
    // On the very boundary of the shadow the term is an odd one around it: nothing.
    return Math.abs(sine) < 1e-9 ? 0 : sine;
  });
  return {
    index,
    sines: [above, below],
    cosines: [Math.cos(phases[0]), Math.cos(phases[1])],
  };
}

/**
 * Strength of an edge source, per length of edge, times both its distances.
 *
 * @param coshEta hyperbolic cosine of η, from where source, edge and receiver are
 */
export function edgeStrength({ index, sines, cosines }: Wedge, coshEta: number): number {
  const x = coshEta > 1 ? coshEta : 1;
  const t = Math.exp(index * Math.log(x + Math.sqrt(x * x - 1)));
  const c = (t + 1 / t) / 2;
  const above = sines[0] === 0 ? 0 : sines[0] / (c - cosines[0]);
  const below = sines[1] === 0 ? 0 : sines[1] / (c - cosines[1]);
  return (-index / (4 * Math.PI)) * (above + below);
}

/** Where a receiver is as an edge sees it. */
export interface AroundEdge {
  /** Place along the edge, m; of a direction its component. */
  readonly along: number;
  /** Distance from the line of the edge, m; of a direction its component across. */
  readonly across: number;
  /** From a face of the edge through the air, radians, 0…2π. */
  readonly angle: number;
}

export const pointAround = (edge: Edge, side: EdgeSide, point: Vector): AroundEdge =>
  directionAround(edge, side, minus(point, edge.from));

export function directionAround({ along }: Edge, side: EdgeSide, direction: Vector): AroundEdge {
  const into = dot(direction, side.into);
  const above = dot(direction, side.normal);
  return {
    along: dot(direction, along),
    across: Math.sqrt(into * into + above * above),
    angle: angleFrom(into, above),
  };
}

function angleFrom(across: number, above: number): number {
  const angle = Math.atan2(above, across);
  // What is a hair inside its own face is on it.
  return angle < -1e-9 ? angle + 2 * Math.PI : Math.max(0, angle);
}

/** A point or a direction in the axes of the baffle, metres. */
export interface Vector {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

export const dot = (a: Vector, b: Vector): number => a.x * b.x + a.y * b.y + a.z * b.z;
export const minus = (a: Vector, b: Vector): Vector => ({
  x: a.x - b.x,
  y: a.y - b.y,
  z: a.z - b.z,
});
export const cross = (a: Vector, b: Vector): Vector => ({
  x: a.y * b.z - a.z * b.y,
  y: a.z * b.x - a.x * b.z,
  z: a.x * b.y - a.y * b.x,
});
const over = ({ x, y, z }: Vector, length: number): Vector => ({
  x: x / length,
  y: y / length,
  z: z / length,
});
export const lengthOf = (a: Vector): number => Math.sqrt(dot(a, a));

/** A flat side of a solid; corners anticlockwise as seen from outside. */
export interface Face {
  readonly corners: readonly Vector[];
  /** Outward, of length 1. */
  readonly normal: Vector;
}

/** Where two faces meet: a wedge of air around a line. */
export interface Edge {
  readonly from: Vector;
  /** Along the edge, of length 1. */
  readonly along: Vector;
  readonly length: number;
  /** Angle through the air from one face to the other, radians: 3π/2 at the corner of a box. */
  readonly airAngle: number;
  readonly sides: readonly [EdgeSide, EdgeSide];
}

/** One face at an edge: angles around the edge are counted from it. */
export interface EdgeSide {
  /** Number of the face. */
  readonly face: number;
  readonly normal: Vector;
  /** Across the face, at right angles to the edge, of length 1. */
  readonly into: Vector;
}

/** A convex body with flat faces. */
export interface Solid {
  readonly faces: readonly Face[];
  readonly edges: readonly Edge[];
}

function faceOf(corners: readonly Vector[]): Face {
  const normal = cross(minus(corners[1], corners[0]), minus(corners[2], corners[1]));
  return { corners, normal: over(normal, lengthOf(normal)) };
}

/**
 * A convex solid from its faces.
 *
 * @param outlines corners of each face, anticlockwise as seen from outside, m
 */
export function solidOf(outlines: readonly (readonly Vector[])[]): Solid {
  const faces = outlines.map(faceOf);
  const edges: Edge[] = [];
  const keyOf = (a: Vector, b: Vector) => [a.x, a.y, a.z, b.x, b.y, b.z].join(' ');
  const known = new Map<string, number>();
  faces.forEach(({ corners }, face) => {
    corners.forEach((from, c) => {
      const to = corners[(c + 1) % corners.length];
      // The neighbour runs along the same edge the other way.
      const other = known.get(keyOf(to, from));
      if (other === undefined) known.set(keyOf(from, to), face);
      else edges.push(edgeBetween(to, from, faces, other, face));
    });
  });
  return { faces, edges };
}

function edgeBetween(from: Vector, to: Vector, faces: readonly Face[], a: number, b: number): Edge {
  const length = lengthOf(minus(to, from));
  const along = over(minus(to, from), length);
  const sideOf = (face: number, sign: number): EdgeSide => {
    const { normal } = faces[face];
    const into = cross(normal, along);
    return { face, normal, into: over(into, sign) };
  };
  // Face a runs along the edge with its inside to the left; face b against it.
  const sides = [sideOf(a, 1), sideOf(b, -1)] as const;
  const cosine = Math.max(-1, Math.min(1, dot(sides[0].normal, sides[1].normal)));
  return { from, along, length, airAngle: Math.PI + Math.acos(cosine), sides };
}

/**
 * A box with any convex front.
 *
 * @param outline corners of the front, anticlockwise as seen from in front, m; its plane is z = 0
 */
export function prism(
  outline: readonly { readonly x: number; readonly y: number }[],
  depthM: number,
): Solid {
  const front = outline.map(({ x, y }) => ({ x, y, z: 0 }));
  const back = outline.map(({ x, y }) => ({ x, y, z: -depthM }));
  const sides = front.map((_, c) => {
    const next = (c + 1) % front.length;
    return [front[next], front[c], back[c], back[next]];
  });
  return solidOf([front, [...back].reverse(), ...sides]);
}

/** Half of space: what lies below a plane. */
export interface HalfSpace {
  /** Outward, of length 1. */
  readonly normal: Vector;
  /** Of the plane from the origin along its normal, m. */
  readonly offset: number;
}

/** Points this close to a plane are on it, m. */
const onPlane = 1e-9;

/** What is left of a solid below a plane; the solid itself where nothing is cut off. */
export function cut(solid: Solid, { normal, offset }: HalfSpace): Solid {
  const above = (point: Vector) => dot(point, normal) - offset;
  if (!solid.faces.some(({ corners }) => corners.some((one) => above(one) > onPlane))) return solid;
  const rim: Vector[] = [];
  const outlines = solid.faces.flatMap(({ corners }) => {
    const kept: Vector[] = [];
    corners.forEach((corner, c) => {
      const next = corners[(c + 1) % corners.length];
      const [here, there] = [above(corner), above(next)];
      if (here <= onPlane) kept.push(corner);
      if (Math.abs(here) <= onPlane) rim.push(corner);
      if ((here > onPlane && there < -onPlane) || (here < -onPlane && there > onPlane)) {
        const met = between(corner, next, here / (here - there));
        kept.push(met);
        rim.push(met);
      }
    });
    return kept.length < 3 ? [] : [kept];
  });
  return solidOf([...outlines, aroundPlane(rim, normal)]);
}

/** A point of a line, the same whichever way the line is told. */
function between(a: Vector, b: Vector, share: number): Vector {
  const isTurned = a.x - b.x || a.y - b.y || a.z - b.z;
  if (isTurned > 0) return between(b, a, 1 - share);
  const at = (from: number, to: number) => Number((from + share * (to - from)).toFixed(9));
  return { x: at(a.x, b.x), y: at(a.y, b.y), z: at(a.z, b.z) };
}

/** Points of a plane, each once, anticlockwise as seen from above it. */
function aroundPlane(points: readonly Vector[], normal: Vector): Vector[] {
  const once = points.filter(
    (one, i) => points.findIndex((other) => lengthOf(minus(one, other)) < 1e-7) === i,
  );
  const middle = over(
    once.reduce((sum, { x, y, z }) => ({ x: sum.x + x, y: sum.y + y, z: sum.z + z }), {
      ...{ x: 0, y: 0, z: 0 },
    }),
    once.length,
  );
  const right = minus(once[0], middle);
  const up = cross(normal, right);
  const angle = (point: Vector) =>
    Math.atan2(dot(minus(point, middle), up), dot(minus(point, middle), right));
  return once.sort((a, b) => angle(a) - angle(b));
}

import type { BaffleShape } from './shape';
import { sharpEdge } from './shape';
import { prism, type Edge, type Solid } from './solid';

interface Place {
  readonly x: number;
  readonly y: number;
}

type Outline = readonly Place[];

/** On which side of the line from a to b a place lies: above 0 on its left. */
const sideOf = (a: Place, b: Place, { x, y }: Place): number =>
  (b.x - a.x) * (y - a.y) - (b.y - a.y) * (x - a.x);

const next = (outline: Outline, i: number) => outline[(i + 1) % outline.length];

/** Whether an outline that goes anticlockwise only turns outward. */
export const isConvex = (outline: Outline): boolean =>
  outline.every((a, i) => sideOf(a, next(outline, i), next(outline, i + 1)) > 0);

/** Whether two lines meet between their ends. */
const doCross = (a: Place, b: Place, c: Place, d: Place): boolean =>
  sideOf(a, b, c) * sideOf(a, b, d) < 0 && sideOf(c, d, a) * sideOf(c, d, b) < 0;

/** Area within an outline, above 0 where it goes anticlockwise, m². */
const areaWithin = (outline: Outline): number =>
  outline.reduce((sum, a, i) => {
    const b = next(outline, i);
    return sum + (a.x * b.y - b.x * a.y) / 2;
  }, 0);

/** Whether an outline encloses a front: no edge crosses another, none is without length. */
export const isSimple = (outline: Outline): boolean =>
  areaWithin(outline) > 0 &&
  outline.every((a, i) => {
    const b = next(outline, i);
    return (
      Math.hypot(b.x - a.x, b.y - a.y) > 1e-6 &&
      outline.every((c, k) => !doCross(a, b, c, next(outline, k)))
    );
  });

/** Whether a place lies within an outline, or on it; by how often a ray to the right leaves it. */
export function isWithin(outline: Outline, place: Place): boolean {
  let isInside = false;
  for (const [i, a] of outline.entries()) {
    const b = next(outline, i);
    const along = (place.x - a.x) * (b.x - a.x) + (place.y - a.y) * (b.y - a.y);
    const square = (b.x - a.x) ** 2 + (b.y - a.y) ** 2;
    if (Math.abs(sideOf(a, b, place)) < 1e-12 && along >= 0 && along <= square) return true;
    if (a.y > place.y !== b.y > place.y) {
      const x = a.x + ((place.y - a.y) / (b.y - a.y)) * (b.x - a.x);
      if (place.x < x) isInside = !isInside;
    }
  }
  return isInside;
}

/**
 * The shape with its dents filled: its convex hull (Andrew's monotone chain, 1979). Where a dent was,
 * the edge is sharp.
 */
export function filled({ outline, edges, depthM }: BaffleShape): BaffleShape {
  const order = [...outline.keys()].sort(
    (a, b) => outline[a].x - outline[b].x || outline[a].y - outline[b].y,
  );
  const chain = (places: readonly number[]) => {
    const kept: number[] = [];
    for (const i of places) {
      while (
        kept.length > 1 &&
        sideOf(outline[kept[kept.length - 2]], outline[kept[kept.length - 1]], outline[i]) <= 0
      )
        kept.pop();
      kept.push(i);
    }
    return kept.slice(0, -1);
  };
  const corners = [...chain(order), ...chain(order.toReversed())];
  return {
    depthM,
    outline: corners.map((i) => outline[i]),
    edges: corners.map((i, c) => {
      const isOwn = corners[(c + 1) % corners.length] === (i + 1) % outline.length;
      return isOwn ? edges[i] : sharpEdge;
    }),
  };
}

/** Pieces in which edges are looked at. */
const looks = 48;

/** A front's edges as they are seen from one place of it. */
interface SeenFront {
  /** The body with nothing but those edges of its front, whole or in pieces. */
  readonly solid: Solid;
  /** Number of the outline's edge that each of them is of. */
  readonly edgeOf: readonly number[];
}

/**
 * What of the edges of a front, dented or not, sound comes to along the front from a place: what lies
 * behind a dent is hidden. Edges are sharp.
 */
export function frontSeenFrom({ outline, depthM }: BaffleShape, at: Place): SeenFront {
  // The first three corners say which way a face looks: they must turn outward.
  const first = outline.findIndex((a, i) => sideOf(a, next(outline, i), next(outline, i + 1)) > 0);
  const turned = outline.map((_, i) => outline[(i + first) % outline.length]);
  const whole = prism(turned, depthM);
  const front = whole.edges.filter(({ sides }) => sides.some(({ face }) => face === 0));
  const seen = front.flatMap((edge) => {
    const own = turned.findIndex(
      (a, i) => isAt(edge, a, next(turned, i)) || isAt(edge, next(turned, i), a),
    );
    const edgeNumber = (own + first) % outline.length;
    return piecesSeen(edge, turned, own, at).map((piece) => ({ piece, edgeNumber }));
  });
  return {
    solid: { faces: whole.faces, edges: seen.map(({ piece }) => piece) },
    edgeOf: seen.map(({ edgeNumber }) => edgeNumber),
  };
}

const isAt = ({ from, along, length }: Edge, a: Place, b: Place): boolean =>
  Math.hypot(from.x - a.x, from.y - a.y) < 1e-9 &&
  Math.hypot(from.x + length * along.x - b.x, from.y + length * along.y - b.y) < 1e-9;

function piecesSeen(edge: Edge, outline: Outline, own: number, at: Place): Edge[] {
  if (sideOf(outline[own], next(outline, own), at) <= 0) return [];
  const isSeen = (share: number) => {
    const z = share * edge.length;
    const there = { x: edge.from.x + z * edge.along.x, y: edge.from.y + z * edge.along.y };
    return outline.every((a, i) => i === own || !doCross(at, there, a, next(outline, i)));
  };
  const pieces: { from: number; to: number }[] = [];
  for (let k = 0; k < looks; k++) {
    if (!isSeen((k + 0.5) / looks)) continue;
    const last = pieces.at(-1);
    if (last?.to === k) last.to = k + 1;
    else pieces.push({ from: k, to: k + 1 });
  }
  return pieces.map(({ from, to }) => {
    const z = (from / looks) * edge.length;
    const { x, y } = edge.along;
    return {
      ...edge,
      from: { x: edge.from.x + z * x, y: edge.from.y + z * y, z: 0 },
      length: ((to - from) / looks) * edge.length,
    };
  });
}

import {
  lengthOf,
  minus,
  type Edge,
  type EdgeSide,
  type Solid,
  type Vector,
} from '@/core/baffle/solid';
import { edgeStrength, pointAround, wedgeOf, type Wedge } from './wedge';

/**
 * Pieces of the edges that a piston's sound has come to, whatever way: what each sends on depends on
 * where it is heard, the rest is worked out once.
 */
export interface EdgeCells {
  readonly edge: Edge;
  /** The face along which the sound came. */
  readonly side: EdgeSide;
  readonly count: number;
  /** Begin, middle and end of each piece along the edge, m. */
  readonly from: Float64Array;
  readonly to: Float64Array;
  /** Where the sound came from, as the edge sees it: place along it and distance from its line, m. */
  readonly place: Float64Array;
  readonly distance: Float64Array;
  /** Path from the piston's centre to there, m. */
  readonly path: Float64Array;
  /** Strength of what comes, times the width of the piece; not yet over the distance. */
  readonly strength: Float64Array;
}

/** How finely edges are cut. */
export interface Fineness {
  /** Step over the distance to where the sound comes from. */
  readonly share: number;
  /** Longest step along an edge from which sound goes on to another, m. */
  readonly longestM: number;
}

/** Where sound comes from that reaches an edge along a face. */
interface Emitter {
  readonly at: Vector;
  readonly path: number;
  readonly strength: number;
  /**
   * The edge that it comes over, with where that saw it come from; null for the piston itself.
   */
  readonly over: {
    readonly edge: Edge;
    readonly side: EdgeSide;
    readonly wedge: Wedge;
    readonly place: number;
    readonly distance: number;
  } | null;
}

interface CellList {
  readonly edge: Edge;
  readonly side: EdgeSide;
  readonly rows: number[];
}

const columns = 6;

/** Cuts an edge as an emitter reaches it, and adds the pieces. */
function reach(
  { edge, side, rows }: CellList,
  { at, path, strength, over }: Emitter,
  { share, longestM }: Fineness,
): void {
  const { along: place, across: distance } = pointAround(edge, side, at);
  // On the line of the edge itself nothing is bent.
  if (distance < 1e-7) return;
  const piece = (from: number, to: number) => {
    const bent = over ? bentBy(over, at, pointOn(edge, (from + to) / 2)) : 1;
    rows.push(from, to, place, distance, path, strength * bent * (to - from));
  };
  // From what is nearest to both ends, so that what is mirrored is cut alike.
  const nearest = Math.max(0, Math.min(edge.length, place));
  const stepAt = (z: number) =>
    Math.min(longestM, share * Math.sqrt((z - place) ** 2 + distance * distance));
  for (let z = nearest; z < edge.length - 1e-6;) {
    const next = z + stepAt(z);
    const end = next > edge.length - 1e-6 ? edge.length : next;
    piece(z, end);
    z = end;
  }
  for (let z = nearest; z > 1e-6;) {
    const next = z - stepAt(z);
    const end = next < 1e-6 ? 0 : next;
    piece(end, z);
    z = end;
  }
}

/** What the wedge that sound comes over makes of it toward a point. */
function bentBy(
  { edge, side, wedge, place, distance }: NonNullable<Emitter['over']>,
  at: Vector,
  toward: Vector,
): number {
  const { along, across } = pointAround(edge, side, toward);
  // In line with the edge nothing is sent.
  if (across < 1e-7) return 0;
  const z = pointAround(edge, side, at).along;
  const m = Math.sqrt((z - place) ** 2 + distance * distance);
  const l = Math.sqrt((z - along) ** 2 + across * across);
  return edgeStrength(wedge, (m * l + (z - place) * (z - along)) / (distance * across));
}

export const pointOn = ({ from, along }: Edge, z: number): Vector => ({
  x: from.x + z * along.x,
  y: from.y + z * along.y,
  z: from.z + z * along.z,
});

function sealed({ edge, side, rows }: CellList): EdgeCells {
  const count = rows.length / columns;
  const [from, to, place, distance, path, strength] = Array.from(
    { length: columns },
    () => new Float64Array(count),
  );
  for (let k = 0, r = 0; k < count; k++, r += columns) {
    from[k] = rows[r];
    to[k] = rows[r + 1];
    place[k] = rows[r + 2];
    distance[k] = rows[r + 3];
    path[k] = rows[r + 4];
    strength[k] = rows[r + 5];
  }
  return { edge, side, count, from, to, place, distance, path, strength };
}

/** Edges of a face, each with the side that it has there. */
const edgesOf = (solid: Solid, face: number) =>
  solid.edges.flatMap((edge) =>
    edge.sides.flatMap((side) => (side.face === face ? [{ edge, side }] : [])),
  );

/**
 * The edges of a face as points of it reach them.
 *
 * @param points with their share of the piston
 */
export const reachedFrom = (
  solid: Solid,
  face: number,
  points: readonly { readonly at: Vector; readonly share: number }[],
  fineness: Fineness,
): EdgeCells[] =>
  edgesOf(solid, face).map(({ edge, side }) => {
    const list: CellList = { edge, side, rows: [] };
    for (const { at, share } of points)
      reach(list, { at, path: 0, strength: share, over: null }, fineness);
    return sealed(list);
  });

/** The edges that sound comes to from edges that it has come to: along both faces of each. */
export function reachedOver(
  solid: Solid,
  before: readonly EdgeCells[],
  fineness: Fineness,
): EdgeCells[] {
  const lists = new Map<EdgeSide, CellList>();
  for (const cells of before)
    for (const across of cells.edge.sides) {
      const wedge = wedgeOf(cells.edge, across === cells.side ? 0 : cells.edge.airAngle);
      for (const { edge, side } of edgesOf(solid, across.face)) {
        if (edge === cells.edge) continue;
        const list = lists.get(side) ?? { edge, side, rows: [] };
        lists.set(side, list);
        for (let k = 0; k < cells.count; k++) {
          const middle = (cells.from[k] + cells.to[k]) / 2;
          const [place, distance] = [cells.place[k], cells.distance[k]];
          const m = Math.sqrt((middle - place) ** 2 + distance * distance);
          reach(
            list,
            {
              at: pointOn(cells.edge, middle),
              path: cells.path[k] + m,
              strength: cells.strength[k] / m,
              over: { edge: cells.edge, side: cells.side, wedge, place, distance },
            },
            fineness,
          );
        }
      }
    }
  return [...lists.values()].map(sealed);
}

/** Longest distance between two corners, m. */
export function sizeOf(solid: Solid): number {
  const corners = solid.faces.flatMap((face) => face.corners);
  return Math.max(...corners.flatMap((a) => corners.map((b) => lengthOf(minus(a, b)))));
}

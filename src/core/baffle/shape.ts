import { cut, prism, type Solid } from './solid';

interface Corner {
  readonly x: number;
  readonly y: number;
}

/** What was done to an edge of the front. */
export interface EdgeTreatment {
  readonly kind: 'sharp' | 'round' | 'chamfer';
  /** Radius, or width of what is cut off either side, m. */
  readonly sizeM: number;
}

export const sharpEdge: EdgeTreatment = { kind: 'sharp', sizeM: 0 };

/** A box with a flat front. */
export interface BaffleShape {
  /** Corners of the front, anticlockwise as seen from in front, m. */
  readonly outline: readonly Corner[];
  /** Of the edge from each corner to the next. */
  readonly edges: readonly EdgeTreatment[];
  readonly depthM: number;
}

/** A rectangle with its lower left corner at the origin, edges from below anticlockwise. */
export const rectangle = (widthM: number, heightM: number): Corner[] => [
  { x: 0, y: 0 },
  { x: widthM, y: 0 },
  { x: widthM, y: heightM },
  { x: 0, y: heightM },
];

/**
 * Planes that stand for a rounded edge: with more of them sound would have to be followed over more
 * edges than it is.
 */
const planesOfRound = 2;

/** Outward normal of an edge of an outline, in its plane, and the edge's distance from the origin. */
function outward(outline: readonly Corner[], e: number) {
  const a = outline[e];
  const b = outline[(e + 1) % outline.length];
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  const normal = { x: (b.y - a.y) / length, y: (a.x - b.x) / length };
  return { normal, offset: normal.x * a.x + normal.y * a.y };
}

/**
 * The body with its edges cut as they were treated; its outline must turn outward only.
 */
export function solidOfShape({ outline, edges, depthM }: BaffleShape): Solid {
  return edges.reduce(
    (solid, { kind, sizeM }, e) => {
      if (kind === 'sharp' || sizeM <= 0) return solid;
      const { normal, offset } = outward(outline, e);
      const turns =
        kind === 'chamfer'
          ? [Math.PI / 4]
          : Array.from(
              { length: planesOfRound },
              (_, k) => ((k + 1) / (planesOfRound + 1)) * (Math.PI / 2),
            );
      return turns.reduce((left, turn) => {
        const [sine, cosine] = [Math.sin(turn), Math.cos(turn)];
        return cut(left, {
          normal: { x: normal.x * sine, y: normal.y * sine, z: cosine },
          // A chamfer goes through its two lines; planes of a round edge touch its cylinder.
          offset:
            kind === 'chamfer'
              ? (offset - sizeM) * sine
              : (offset - sizeM) * sine + sizeM * (1 - cosine),
        });
      }, solid);
    },
    prism(outline, depthM),
  );
}

/**
 * Of the size of a treated edge, what the front of its sharp likeness is smaller by: 0.10 to 0.17 by
 * boundary elements of bodies whose edges are rounded by 20 to 40 mm, on the axis below 500 Hz
 * (`tests/references/diffraction/blunt.csv`).
 */
const bluntShare = 0.15;

/**
 * The sharp body that the treated one is like where its edges are small against the wave: a little
 * of the edge is taken off its front.
 */
export function bluntAlike({ outline, edges, depthM }: BaffleShape): Solid {
  return edges.reduce(
    (solid, { kind, sizeM }, e) => {
      if (kind === 'sharp' || sizeM <= 0) return solid;
      const { normal, offset } = outward(outline, e);
      return cut(solid, { normal: { ...normal, z: 0 }, offset: offset - bluntShare * sizeM });
    },
    prism(outline, depthM),
  );
}

/** Whether every edge is as it was cut. */
export const isSharp = ({ edges }: BaffleShape): boolean =>
  edges.every(({ kind, sizeM }) => kind === 'sharp' || sizeM <= 0);

/** Area of the front, m². */
export const areaOf = ({ outline }: BaffleShape): number =>
  outline.reduce((sum, a, i) => {
    const b = outline[(i + 1) % outline.length];
    return sum + (a.x * b.y - b.x * a.y) / 2;
  }, 0);

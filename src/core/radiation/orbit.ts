import type { Direction } from './direction';

/** What a driver sends in one direction against its axis, the path there taken out. */
export interface MeasuredDirection {
  readonly direction: Direction;
  readonly levelDb: Float64Array;
  /** Radians; 0 where the measurements share no time reference. */
  readonly phase: Float64Array;
}

/** A direction as measurements tell it. */
interface FromOrbit {
  readonly levelDb: Float64Array;
  readonly phase: Float64Array;
  /** Whether it was measured there, or lies between what was, or mirrors it. */
  readonly isMeasured: boolean;
  /**
   * The direction that was measured and is nearest, where nothing was measured so far off the axis
   * or in this plane; null where the measurements cover it.
   */
  readonly standsFor: Direction | null;
}

/** Angles this close are the same, degrees. */
const sameDeg = 0.5;

interface Node {
  readonly degrees: number;
  readonly levelDb: Float64Array;
  readonly phase: Float64Array;
  readonly isMirrored: boolean;
}

/** The orbits of one driver, as far as they were measured. */
export interface MeasuredOrbits {
  toward(direction: Direction): FromOrbit | null;
}

/**
 * Between the angles that were measured, level and phase follow cubics through their neighbours
 * (Catmull and Rom 1974, for uneven steps). A side that was not measured is the mirror of the other;
 * a plane that was not is taken to be like the other one: drivers are round.
 *
 * @param measured over one frequency grid; the axis may be left out
 */
export function createOrbits(
  measured: readonly MeasuredDirection[],
  points: number,
): MeasuredOrbits {
  const nodes = {
    horizontal: nodesOf(measured, 'horizontal', points),
    vertical: nodesOf(measured, 'vertical', points),
  };
  return {
    toward({ plane, degrees }) {
      const other = plane === 'horizontal' ? 'vertical' : 'horizontal';
      // The axis alone says nothing of a plane.
      const hasPlane = nodes[plane].length > 1;
      const known = hasPlane ? plane : other;
      const own = nodes[known];
      if (own.length < 2) return null;
      const inside = Math.max(own[0].degrees, Math.min(own[own.length - 1].degrees, degrees));
      const isCovered = hasPlane && Math.abs(inside - degrees) < sameDeg;
      const standsFor = isCovered ? null : { plane: known, degrees: inside };
      const at = own.find((node) => Math.abs(node.degrees - inside) < sameDeg);
      if (at)
        return {
          ...{ levelDb: at.levelDb, phase: at.phase, standsFor },
          isMeasured: isCovered && !at.isMirrored,
        };
      return { ...between(own, inside, points), isMeasured: false, standsFor };
    },
  };
}

/** What was measured in a plane from one side to the other, and what mirrors it. */
function nodesOf(
  measured: readonly MeasuredDirection[],
  plane: Direction['plane'],
  points: number,
): Node[] {
  const off = measured.filter(
    ({ direction }) => direction.plane === plane && Math.abs(direction.degrees) >= sameDeg,
  );
  const [left, right] = [-1, 1].map((side) =>
    off.filter(({ direction: { degrees } }) => degrees * side > 0 && Math.abs(degrees) < 180),
  );
  const nodeAt = (one: MeasuredDirection, degrees: number, isMirrored: boolean): Node => ({
    ...{ degrees, isMirrored },
    ...{ levelDb: one.levelDb, phase: one.phase },
  });
  const own = off.map((one) => nodeAt(one, one.direction.degrees, false));
  const mirrored = [
    ...(left.length === 0 ? right : right.length === 0 ? left : []),
    // Behind is behind on both sides.
    ...off.filter(({ direction }) => Math.abs(direction.degrees) === 180),
  ].map((one) => nodeAt(one, -one.direction.degrees, Math.abs(one.direction.degrees) !== 180));
  const none = new Float64Array(points);
  const axis: Node = { degrees: 0, levelDb: none, phase: none, isMirrored: false };
  return [...own, ...mirrored, axis]
    .sort((a, b) => a.degrees - b.degrees)
    .filter(({ degrees }, k, all) => k === 0 || degrees - all[k - 1].degrees >= sameDeg);
}

const turn = (from: number, to: number): number => {
  const difference = to - from;
  return difference - 2 * Math.PI * Math.round(difference / (2 * Math.PI));
};

/** Weights of four neighbours for an angle between the second and the third. */
function cubicWeights(
  [a, b, c, d]: readonly [number | null, number, number, number | null],
  x: number,
): [number, number, number, number] {
  const width = c - b;
  const t = (x - b) / width;
  const fromB = width * (t ** 3 - 2 * t ** 2 + t);
  const fromC = width * (t ** 3 - t ** 2);
  const share = 3 * t ** 2 - 2 * t ** 3;
  const weights: [number, number, number, number] = [0, 1 - share, share, 0];
  /** Slope at a node: the line through its neighbours, or to the only one. */
  const slope = (low: readonly [number, number], high: readonly [number, number], by: number) => {
    weights[high[0]] += by / (high[1] - low[1]);
    weights[low[0]] -= by / (high[1] - low[1]);
  };
  slope(a === null ? [1, b] : [0, a], [2, c], fromB);
  slope([1, b], d === null ? [2, c] : [3, d], fromC);
  return weights;
}

function between(nodes: readonly Node[], degrees: number, points: number) {
  const k = nodes.findIndex((node) => node.degrees > degrees) - 1;
  const [b, c] = [nodes[k], nodes[k + 1]];
  const [a, d] = [nodes.at(k - 1 < 0 ? nodes.length : k - 1), nodes.at(k + 2)];
  const weights = cubicWeights(
    [a?.degrees ?? null, b.degrees, c.degrees, d?.degrees ?? null],
    degrees,
  );
  const [before, after] = [a ?? b, d ?? c];
  const levelDb = new Float64Array(points);
  const phase = new Float64Array(points);
  for (let i = 0; i < points; i++) {
    const ahead = turn(b.phase[i], c.phase[i]);
    phase[i] =
      b.phase[i] -
      weights[0] * turn(before.phase[i], b.phase[i]) +
      weights[2] * ahead +
      weights[3] * (ahead + turn(c.phase[i], after.phase[i]));
    const level =
      weights[0] * before.levelDb[i] +
      weights[1] * b.levelDb[i] +
      weights[2] * c.levelDb[i] +
      weights[3] * after.levelDb[i];
    // Beside a null a cubic would swing out.
    const low = Math.min(b.levelDb[i], c.levelDb[i]) - swingDb;
    const high = Math.max(b.levelDb[i], c.levelDb[i]) + swingDb;
    levelDb[i] = Math.max(low, Math.min(high, level));
  }
  return { levelDb, phase };
}

/** What a level between two angles may lie outside of theirs, dB. */
const swingDb = 1;

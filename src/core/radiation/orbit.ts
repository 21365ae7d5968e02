import type { Direction } from './direction';

/** What a driver sends in one direction against its axis, the path there taken out. */
export interface MeasuredDirection {
  readonly direction: Direction;
  readonly levelDb: Float64Array;
  /** Radians; 0 where the measurements share no time reference. */
  readonly phase: Float64Array;
  readonly isTimed: boolean;
}

/** Level and phase over frequency. */
export interface OrbitCurve {
  readonly levelDb: Float64Array;
  /** Radians. */
  readonly phase: Float64Array;
}

/** A direction as measurements tell it. */
interface FromOrbit extends OrbitCurve {
  /** Whether it was measured there, or lies between what was, or mirrors it. */
  readonly isMeasured: boolean;
  /** Whether some of what it rests on was measured on the other side. */
  readonly isMirrored: boolean;
  /** Whether all that it rests on share a time reference. */
  readonly isTimed: boolean;
  /** Between the two angles around it, degrees; 0 at one that was measured. */
  readonly gapDeg: number;
  /**
   * The direction that was measured and is nearest, where nothing was measured so far off the axis
   * or in this plane; null where the measurements cover it.
   */
  readonly standsFor: Direction | null;
}

/** Angles this close are the same, degrees. */
const sameDeg = 0.5;

/** A place on an orbit at which something is known. */
export interface OrbitNode extends OrbitCurve {
  readonly degrees: number;
  /** Where it was measured: on the other side where it is mirrored. */
  readonly measured: Direction;
  readonly isMirrored: boolean;
  readonly isTimed: boolean;
}

/** The orbits of one driver, as far as they were measured. */
export interface MeasuredOrbits {
  /**
   * @param curveOf what is interpolated in the place of a node's own level and phase, between nodes:
   *   such as what was measured over what a model says there
   */
  toward(direction: Direction, curveOf?: (node: OrbitNode) => OrbitCurve): FromOrbit | null;
  /** The place at which something was measured in a direction itself; null elsewhere. */
  at(direction: Direction): OrbitNode | null;
}

/**
 * Between the angles that were measured, level and phase follow cubics through their neighbours
 * (Catmull and Rom 1974, for uneven steps). A side that was not measured is the mirror of the other;
 * a plane that was not is taken to be like the other one: drivers are round. What is behind is behind
 * in both planes.
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
    at({ plane, degrees }) {
      const node = nodes[plane].find((one) => Math.abs(one.degrees - degrees) < sameDeg);
      return node && !node.isMirrored && nodes[plane].length > 1 ? node : null;
    },
    toward({ plane, degrees }, curveOf = (node) => node) {
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
      if (at) {
        const { levelDb, phase } = curveOf(at);
        const { isMirrored, isTimed } = at;
        const isMeasured = isCovered && !isMirrored;
        return { levelDb, phase, standsFor, isMeasured, isMirrored, isTimed, gapDeg: 0 };
      }
      return { ...between(own, inside, points, curveOf), isMeasured: false, standsFor };
    },
  };
}

/** What was measured in a plane from one side to the other, and what mirrors it. */
function nodesOf(
  measured: readonly MeasuredDirection[],
  plane: Direction['plane'],
  points: number,
): OrbitNode[] {
  const own = measured.filter(
    ({ direction }) => direction.plane === plane && Math.abs(direction.degrees) >= sameDeg,
  );
  const isBehind = ({ direction }: MeasuredDirection) => Math.abs(direction.degrees) === 180;
  // A plane of its own may lack the rear that the other one has.
  const rear = own.length === 0 || own.some(isBehind) ? [] : measured.filter(isBehind).slice(0, 1);
  const off = [...own, ...rear];
  const [left, right] = [-1, 1].map((side) =>
    off.filter(({ direction: { degrees } }) => degrees * side > 0 && Math.abs(degrees) < 180),
  );
  const nodeAt = (
    { direction, levelDb, phase, isTimed }: MeasuredDirection,
    degrees: number,
    isMirrored: boolean,
  ): OrbitNode => ({ degrees, measured: direction, levelDb, phase, isMirrored, isTimed });
  const asMeasured = off.map((one) => nodeAt(one, one.direction.degrees, false));
  const mirrored = [
    ...(left.length === 0 ? right : right.length === 0 ? left : []),
    // Behind is behind on both sides.
    ...off.filter(isBehind),
  ].map((one) => nodeAt(one, -one.direction.degrees, Math.abs(one.direction.degrees) !== 180));
  const none = new Float64Array(points);
  const axis: OrbitNode = {
    ...{ degrees: 0, measured: { plane, degrees: 0 }, levelDb: none, phase: none },
    ...{ isMirrored: false, isTimed: true },
  };
  return [...asMeasured, ...mirrored, axis]
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

function between(
  nodes: readonly OrbitNode[],
  degrees: number,
  points: number,
  curveOf: (node: OrbitNode) => OrbitCurve,
) {
  const k = nodes.findIndex((node) => node.degrees > degrees) - 1;
  const around = [nodes[k - 1], nodes[k], nodes[k + 1], nodes[k + 2]] as const;
  const [nodeB, nodeC] = [nodes[k], nodes[k + 1]];
  const weights = cubicWeights(
    [around[0]?.degrees ?? null, nodeB.degrees, nodeC.degrees, around[3]?.degrees ?? null],
    degrees,
  );
  const [b, c] = [curveOf(nodeB), curveOf(nodeC)];
  const [before, after] = [
    around[0] === undefined ? b : curveOf(around[0]),
    around[3] === undefined ? c : curveOf(around[3]),
  ];
  const used = around.filter((node) => node !== undefined);
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
  return {
    ...{ levelDb, phase },
    gapDeg: nodeC.degrees - nodeB.degrees,
    isMirrored: used.some(({ isMirrored }) => isMirrored),
    isTimed: used.every(({ isTimed }) => isTimed),
  };
}

/** What a level between two angles may lie outside of theirs, dB. */
const swingDb = 1;

/** A corner of an outline; the line to the next one is an arc where it bulges. */
export interface OutlinePoint {
  readonly x: number;
  readonly y: number;
  /** Tangent of a quarter of the arc's angle, as DXF has it, to the left of the way; 0 for a straight line. */
  readonly bulge?: number;
}

interface Point {
  readonly x: number;
  readonly y: number;
}

/** Turns that are sharper than this are corners, not pieces of an arc, radians. */
const mostTurn = Math.PI / 6;
const leastTurn = Math.PI / 180;
/** Pieces of one arc are alike but for rounding to a tenth of a millimetre: radians, and a share. */
const alike = { turn: 0.025, length: 0.02 };
const fewestPieces = 3;

/**
 * Outline in which runs of short, equal lines that a rounded corner is drawn in are the arcs that they
 * stand for: their ends lie on it, and it leaves the straight lines before and after without a kink.
 */
export function withArcs(corners: readonly Point[]): OutlinePoint[] {
  const count = corners.length;
  const at = (c: number) => corners[((c % count) + count) % count];
  const angle = (c: number) => Math.atan2(at(c + 1).y - at(c).y, at(c + 1).x - at(c).x);
  const length = (c: number) => Math.hypot(at(c + 1).x - at(c).x, at(c + 1).y - at(c).y);
  /** How far the way turns to the left at a corner. */
  const turn = (c: number) => {
    const by = angle(c) - angle(c - 1);
    return Math.atan2(Math.sin(by), Math.cos(by));
  };
  const bulges = new Array<number>(count).fill(0);
  for (let first = 0; first < count; first++) {
    const by = turn(first + 1);
    if (Math.abs(by) > mostTurn || Math.abs(by) < leastTurn) continue;
    // The way enters an arc by half of what it turns in it.
    if (Math.abs(turn(first) - by / 2) > alike.turn) continue;
    let pieces = 1;
    while (
      pieces < count &&
      Math.abs(turn(first + pieces) - by) < alike.turn &&
      Math.abs(length(first + pieces) / length(first) - 1) < alike.length
    )
      pieces++;
    if (pieces < fewestPieces || Math.abs(turn(first + pieces) - by / 2) > alike.turn) continue;
    // What the straight lines before and after turn by is the whole arc.
    const whole = Math.atan2(
      Math.sin(angle(first + pieces) - angle(first - 1)),
      Math.cos(angle(first + pieces) - angle(first - 1)),
    );
    for (let k = 0; k < pieces; k++) bulges[(first + k) % count] = Math.tan(whole / pieces / 4);
  }
  return corners.map(({ x, y }, c) => (bulges[c] === 0 ? { x, y } : { x, y, bulge: bulges[c] }));
}

/** Radius of the arc from one point to the next, mm. */
export function arcRadiusMm(from: OutlinePoint, to: Point): number {
  const bulge = from.bulge ?? 0;
  return (Math.hypot(to.x - from.x, to.y - from.y) * (1 + bulge * bulge)) / (4 * Math.abs(bulge));
}

/** Radii of the arcs of an outline, each once, to half a millimetre. */
export function arcRadiiMm(outline: readonly OutlinePoint[]): number[] {
  const radii = outline.flatMap((point, c) =>
    point.bulge ? [Math.round(2 * arcRadiusMm(point, outline[(c + 1) % outline.length])) / 2] : [],
  );
  return [...new Set(radii)];
}

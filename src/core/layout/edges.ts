import { isWithin } from '@/core/baffle/dents';
import type { PanelCorner } from '@/core/document/baffleSchema';

interface Place {
  readonly xMm: number;
  readonly yMm: number;
}

/** How far a place is from one edge of an outline. */
interface EdgeDistance {
  /** Number of the corner that the edge begins at. */
  readonly edge: number;
  /** From the place to its nearest point, mm; negative where the place is outside, beyond it. */
  readonly mm: number;
  /** That point. */
  readonly nearest: Place;
}

/** Distances of a place from all edges, in their order. */
export function edgeDistances(
  corners: readonly PanelCorner[],
  { xMm, yMm }: Place,
): EdgeDistance[] {
  const outline = corners.map((corner) => ({ x: corner.xMm, y: corner.yMm }));
  const isInside = isWithin(outline, { x: xMm, y: yMm });
  return corners.map((a, edge) => {
    const b = corners[(edge + 1) % corners.length];
    const [dx, dy] = [b.xMm - a.xMm, b.yMm - a.yMm];
    const length = Math.hypot(dx, dy);
    const along = ((xMm - a.xMm) * dx + (yMm - a.yMm) * dy) / (length * length);
    const share = Math.max(0, Math.min(1, along));
    const nearest = { xMm: a.xMm + share * dx, yMm: a.yMm + share * dy };
    const away = Math.hypot(xMm - nearest.xMm, yMm - nearest.yMm);
    // Anticlockwise outlines have their inside on the left; of a dent's edge that may be the right.
    const isLeft = dx * (yMm - a.yMm) - dy * (xMm - a.xMm) >= 0;
    return { edge, nearest, mm: isInside || isLeft ? away : -away };
  });
}

/** An edge of an outline as a straight line. */
export interface EdgeLine {
  readonly a: PanelCorner;
  readonly b: PanelCorner;
  /** Outward, of length 1. */
  readonly normal: { readonly x: number; readonly y: number };
  readonly middle: Place;
}

/** @param edge number of the corner that it begins at */
export function edgeLine(corners: readonly PanelCorner[], edge: number): EdgeLine {
  const a = corners[edge];
  const b = corners[(edge + 1) % corners.length];
  const lengthMm = Math.hypot(b.xMm - a.xMm, b.yMm - a.yMm);
  return {
    ...{ a, b },
    normal: { x: (b.yMm - a.yMm) / lengthMm, y: (a.xMm - b.xMm) / lengthMm },
    middle: { xMm: (a.xMm + b.xMm) / 2, yMm: (a.yMm + b.yMm) / 2 },
  };
}

/** What an edge is called by the way it looks: “left edge”, “upper right edge”. */
export function edgeName(corners: readonly PanelCorner[], edge: number): string {
  const { x, y } = edgeLine(corners, edge).normal;
  // Within 20° of level or upright it is one side.
  const slight = Math.sin((20 * Math.PI) / 180);
  if (Math.abs(x) < slight) return y > 0 ? 'top edge' : 'bottom edge';
  const side = x > 0 ? 'right' : 'left';
  if (Math.abs(y) < slight) return `${side} edge`;
  return `${y > 0 ? 'upper' : 'lower'} ${side} edge`;
}

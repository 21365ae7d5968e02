import {
  boundsOf,
  rectangularCorners,
  sharp,
  type Panel,
  type PanelCorner,
  type PanelEdge,
} from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { edgeLine } from './edges';

/* Fronts drawn anew: each function gives a front, and the one given stays as it was. */

const tidy = (mm: number): number => Number(mm.toFixed(2));

type Side = 'left' | 'right' | 'bottom' | 'top';

/** Stretches a front to another width or height; the side named stays where it is, or the middle. */
export function resized(
  panel: Panel,
  size: { readonly widthMm?: number; readonly heightMm?: number },
  stays: Side | 'middle' = 'middle',
): Panel {
  const { leftMm, rightMm, bottomMm, topMm, widthMm, heightMm } = boundsOf(panel.corners);
  const fixedX = stays === 'left' ? leftMm : stays === 'right' ? rightMm : (leftMm + rightMm) / 2;
  // A speaker stands on its bottom: unless the top is held it grows upward.
  const fixedY = stays === 'top' ? topMm : bottomMm;
  const x = (size.widthMm ?? widthMm) / widthMm;
  const y = (size.heightMm ?? heightMm) / heightMm;
  return {
    ...panel,
    corners: panel.corners.map((corner) => ({
      ...corner,
      xMm: tidy(fixedX + (corner.xMm - fixedX) * x),
      yMm: tidy(fixedY + (corner.yMm - fixedY) * y),
    })),
  };
}

/** Moves a whole front against the design axis. */
export const shifted = (panel: Panel, byXMm: number, byYMm: number): Panel => ({
  ...panel,
  corners: panel.corners.map((corner) => ({
    ...corner,
    xMm: tidy(corner.xMm + byXMm),
    yMm: tidy(corner.yMm + byYMm),
  })),
  ports: panel.ports.map((port) => ({
    ...port,
    xMm: tidy(port.xMm + byXMm),
    yMm: tidy(port.yMm + byYMm),
  })),
});

/** Moves one edge along its outward normal. */
export function withEdgeMoved(panel: Panel, edge: number, outwardMm: number): Panel {
  const { corners } = panel;
  const next = (edge + 1) % corners.length;
  const { normal } = edgeLine(corners, edge);
  return {
    ...panel,
    corners: corners.map((corner, c) =>
      c === edge || c === next
        ? {
            ...corner,
            xMm: tidy(corner.xMm + outwardMm * normal.x),
            yMm: tidy(corner.yMm + outwardMm * normal.y),
          }
        : corner,
    ),
  };
}

export const withCorner = (
  panel: Panel,
  index: number,
  set: Partial<Pick<PanelCorner, 'xMm' | 'yMm'>>,
): Panel => ({
  ...panel,
  corners: panel.corners.map((corner, c) => (c === index ? { ...corner, ...set } : corner)),
});

/** Puts a corner into the middle of an edge. */
export function withCornerAdded(panel: Panel, edge: number): Panel {
  const { a, middle } = edgeLine(panel.corners, edge);
  const corner = { xMm: tidy(middle.xMm), yMm: tidy(middle.yMm), edge: a.edge };
  return { ...panel, corners: panel.corners.toSpliced(edge + 1, 0, corner) };
}

export const withoutCorner = (panel: Panel, index: number): Panel =>
  panel.corners.length <= 3 ? panel : { ...panel, corners: panel.corners.toSpliced(index, 1) };

export const withPort = (
  panel: Panel,
  index: number,
  set: Partial<Panel['ports'][number]>,
): Panel => ({
  ...panel,
  ports: panel.ports.map((port, p) => (p === index ? { ...port, ...set } : port)),
});

/** Treats some edges, or all of them. */
export const withEdges = (panel: Panel, edge: PanelEdge, which?: readonly number[]): Panel => ({
  ...panel,
  corners: panel.corners.map((corner, c) =>
    which === undefined || which.includes(c) ? { ...corner, edge } : corner,
  ),
});

/** Outlines that a front can be made into; sizes in mm. */
export type OutlineShape =
  | { readonly kind: 'rectangle' }
  | { readonly kind: 'trapezoid'; readonly topWidthMm: number }
  /** All four corners, or the upper two, cut off straight. */
  | { readonly kind: 'clipped'; readonly byMm: number; readonly isTopOnly: boolean }
  /** Corners of a radius, in short straight pieces. */
  | { readonly kind: 'rounded'; readonly byMm: number; readonly isTopOnly: boolean };

/** Straight pieces that a rounded corner is drawn in. */
const piecesPerCorner = 4;

/** A front of the same size in another outline; its edges are treated as the first was. */
export function outlined(panel: Panel, shape: OutlineShape): Panel {
  const { leftMm, rightMm, bottomMm, topMm, widthMm, heightMm } = boundsOf(panel.corners);
  const edge = panel.corners[0]?.edge ?? sharp;
  const at = (xMm: number, yMm: number): PanelCorner => ({ xMm: tidy(xMm), yMm: tidy(yMm), edge });
  const middle = (leftMm + rightMm) / 2;
  if (shape.kind === 'rectangle')
    return {
      ...panel,
      corners: rectangularCorners(leftMm, bottomMm, widthMm, heightMm).map((corner) => ({
        ...corner,
        edge,
      })),
    };
  if (shape.kind === 'trapezoid') {
    const half = Math.min(shape.topWidthMm, widthMm) / 2;
    return {
      ...panel,
      corners: [
        at(leftMm, bottomMm),
        at(rightMm, bottomMm),
        at(middle + half, topMm),
        at(middle - half, topMm),
      ],
    };
  }
  const by = Math.min(shape.byMm, 0.49 * widthMm, 0.49 * heightMm);
  // Each corner with the direction in which it is reached and left, anticlockwise.
  const turns = [
    { x: leftMm, y: bottomMm, fromDeg: 180, isTop: false },
    { x: rightMm, y: bottomMm, fromDeg: 270, isTop: false },
    { x: rightMm, y: topMm, fromDeg: 0, isTop: true },
    { x: leftMm, y: topMm, fromDeg: 90, isTop: true },
  ];
  const pieces = shape.kind === 'clipped' ? 1 : piecesPerCorner;
  const corners = turns.flatMap(({ x, y, fromDeg, isTop }) => {
    if (shape.isTopOnly && !isTop) return [at(x, y)];
    const centreX = x === leftMm ? x + by : x - by;
    const centreY = y === bottomMm ? y + by : y - by;
    return Array.from({ length: pieces + 1 }, (_, k) => {
      const angle = ((fromDeg + (90 * k) / pieces) * Math.PI) / 180;
      return at(centreX + by * Math.cos(angle), centreY + by * Math.sin(angle));
    });
  });
  return { ...panel, corners };
}

/** Sizes of a front that nothing is known of, mm. */
const usual = { widthMm: 260, heightMm: 420, depthMm: 300, thicknessMm: 19 };
/** Half of what a driver of which nothing is known takes, mm. */
const usualRadiusMm = 50;
/** Room between frames and to the edge on a new front, mm. */
const marginMm = 15;

/**
 * A front as large as the brief allows, around the drivers; where some lie on one point all are put above
 * each other, the one that resonates highest on top.
 */
export function firstFront(
  { brief, drivers }: Pick<Design, 'brief' | 'drivers'>,
  id: string,
  frameRadiusMm: (driver: Driver) => number,
): { readonly panel: Panel; readonly places: ReadonlyMap<string, { xMm: number; yMm: number }> } {
  const widthMm = brief.widthMm ?? usual.widthMm;
  const heightMm = brief.heightMm ?? usual.heightMm;
  /** What a driver takes: its frame, or as much as such a driver usually does. */
  const radiusMm = (driver: Driver) => Math.max(frameRadiusMm(driver), usualRadiusMm);
  const isHeaped = drivers.some((one, i) =>
    drivers
      .slice(i + 1)
      .some(({ position: { xMm, yMm } }) => xMm === one.position.xMm && yMm === one.position.yMm),
  );
  const places = new Map<string, { xMm: number; yMm: number }>();
  // The highest resonance on top, and what is not known by its size.
  const height = ({ sheet }: Driver) => sheet.fsHz ?? 0;
  const bySize = [...drivers].sort(
    (a, b) => height(b) - height(a) || frameRadiusMm(a) - frameRadiusMm(b),
  );
  if (isHeaped && drivers.length > 1) {
    let y = 0;
    bySize.forEach((driver, d) => {
      if (d > 0) y -= radiusMm(bySize[d - 1]) + radiusMm(driver) + marginMm;
      places.set(driver.id, { xMm: 0, yMm: Math.round(y) });
    });
  } else
    for (const { id: driverId, position } of drivers)
      places.set(driverId, { xMm: position.xMm, yMm: position.yMm });
  const tops = drivers.map((driver) => places.get(driver.id)!.yMm + radiusMm(driver));
  const topMm = drivers.length === 0 ? heightMm / 2 : Math.max(...tops) + 2 * marginMm;
  const panel: Panel = {
    id,
    name: 'Front',
    kind: 'box',
    corners: rectangularCorners(-widthMm / 2, tidy(topMm - heightMm), widthMm, heightMm),
    depthMm: brief.depthMm ?? usual.depthMm,
    wingsMm: 0,
    thicknessMm: usual.thicknessMm,
    setBackMm: 0,
    ports: [],
  };
  return { panel, places };
}

/** Share of a front that a panel set back from it begins with. */
const subShare = 0.5;
const subSetBackMm = 30;

/** A smaller panel on top of a front, set back from it. */
export function setBackPanel({ corners, depthMm, thicknessMm }: Panel, id: string): Panel {
  const { leftMm, topMm, widthMm, heightMm } = boundsOf(corners);
  const [width, height] = [widthMm * subShare, heightMm * subShare];
  return {
    id,
    name: 'Set-back panel',
    kind: 'box',
    corners: rectangularCorners(
      tidy(leftMm + (widthMm - width) / 2),
      tidy(topMm),
      tidy(width),
      tidy(height),
    ),
    ...{ depthMm, thicknessMm, wingsMm: 0, setBackMm: subSetBackMm, ports: [] },
  };
}

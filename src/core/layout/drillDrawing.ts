import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import { halvesMm, panelHoles, type BoardHole } from '@/core/cabinet/holes';
import type { Design } from '@/core/document/schema';
import { arcRadiiMm, withArcs, type OutlinePoint } from './arcs';
import { formatNumber } from '@/core/units/quantity';
import { edgeName } from './edges';

/** What a line of a drawing is for; each is a layer of its own in files that have layers. */
type DrawingLayer = 'outline' | 'cut' | 'recess' | 'frame' | 'centre' | 'text';

/** A front as it is drilled, or a sheet as it is cut; mm from its lower left corner, up is up. */
export interface DrillDrawing {
  readonly title: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly outline: readonly OutlinePoint[];
  /** Boards on a sheet that is to be cut, with the sheet; slots. */
  readonly rectangles: readonly {
    readonly layer: 'cut' | 'frame';
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
  }[];
  readonly circles: readonly {
    readonly layer: Exclude<DrawingLayer, 'outline' | 'text' | 'centre'>;
    readonly x: number;
    readonly y: number;
    readonly diameter: number;
  }[];
  /** Middles to drill, with what belongs there. */
  readonly centres: readonly {
    readonly x: number;
    readonly y: number;
    readonly lines: readonly string[];
  }[];
  /** What the lines do not say. */
  readonly notes: readonly string[];
}

const mm = (value: number) => `${formatNumber(Number(value.toFixed(2)))} mm`;

/**
 * Holes, recesses and middles of a front. What is not known of a driver is not drawn, and the notes
 * say so.
 */
export function drillDrawingOf(
  { name, drivers, boxes }: Pick<Design, 'name' | 'drivers' | 'boxes'>,
  panel: Panel,
): DrillDrawing {
  const { leftMm, bottomMm, widthMm, heightMm } = boundsOf(panel.corners);
  const holes = panelHoles({ drivers, boxes }, panel);
  const isFromBehind = (what: string) =>
    drivers.some((driver) => driver.name === what && driver.mounting.kind === 'behind');
  const linesOf = ({ what, kind, xMm, yMm, diameterMm, slotMm, recess }: BoardHole): string[] => [
    capital(what),
    `${mm(xMm)} from the left, ${mm(heightMm - yMm)} from the top`,
    slotMm !== null
      ? `hole ${mm(slotMm.width)} × ${mm(slotMm.height)}`
      : diameterMm === null
        ? 'hole not known'
        : `hole ${mm(diameterMm)}`,
    ...(recess === null ? [] : [`recess ${mm(recess.diameterMm)}, ${mm(recess.depthMm)} deep`]),
    ...(kind === 'driver' && isFromBehind(what) ? ['from behind'] : []),
  ];
  const outline = panel.corners.map(({ xMm, yMm }) => ({ x: xMm - leftMm, y: yMm - bottomMm }));
  const bulged = withArcs(outline);
  const radii = arcRadiiMm(bulged);
  return {
    title: `${name}: ${panel.name}`,
    ...{ widthMm, heightMm },
    outline: bulged,
    rectangles: holes.flatMap(({ xMm, yMm, slotMm }) =>
      slotMm === null
        ? []
        : [
            {
              layer: 'cut' as const,
              ...{ x: xMm - slotMm.width / 2, y: yMm - slotMm.height / 2 },
              ...slotMm,
            },
          ],
    ),
    circles: holes.flatMap(({ xMm, yMm, diameterMm, recess, frameMm }) => [
      ...(diameterMm === null
        ? []
        : [{ layer: 'cut' as const, x: xMm, y: yMm, diameter: diameterMm }]),
      ...(recess === null
        ? []
        : [{ layer: 'recess' as const, x: xMm, y: yMm, diameter: recess.diameterMm }]),
      ...(frameMm === null ? [] : [{ layer: 'frame' as const, x: xMm, y: yMm, diameter: frameMm }]),
    ]),
    centres: holes.map((hole) => ({ x: hole.xMm, y: hole.yMm, lines: linesOf(hole) })),
    notes: [
      `${mm(widthMm)} × ${mm(heightMm)}, board ${mm(panel.thicknessMm)}. Seen from the front.`,
      ...(radii.length === 0
        ? []
        : [`Corners rounded with a radius of ${radii.map(mm).join(', ')}.`]),
      ...treatments(panel),
      ...holes.flatMap((hole) => beyondFront(hole, widthMm, heightMm)),
      'Check holes against the drivers at hand before cutting. Clamp the work; wear eye and hearing protection and a dust mask; keep to the tool maker’s and local rules.',
    ],
  };
}

/** A hole that its front is too small for, loudly. */
function beyondFront(hole: BoardHole, widthMm: number, heightMm: number): string[] {
  const { x, y } = halvesMm(hole);
  const { xMm, yMm, what } = hole;
  const isInside = xMm >= x && xMm + x <= widthMm && yMm >= y && yMm + y <= heightMm;
  return isInside ? [] : [`DO NOT CUT: ${what} reaches over the edge of this front.`];
}

const capital = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}`;

function treatments({ corners }: Panel): string[] {
  const told = corners.flatMap(({ edge }, c) =>
    edge.kind === 'sharp'
      ? []
      : [
          `${edgeName(corners, c)} ${edge.kind === 'round' ? 'rounded' : 'chamfered'} by ${mm(edge.sizeMm)}`,
        ],
  );
  return told.length === 0 ? [] : [`${capital([...new Set(told)].join('; '))}.`];
}

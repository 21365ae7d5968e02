import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { formatNumber } from '@/core/units/quantity';
import { edgeName } from './edges';

/** What a line of a drawing is for; each is a layer of its own in files that have layers. */
type DrawingLayer = 'outline' | 'cut' | 'recess' | 'frame' | 'centre' | 'text';

/** A front as it is drilled, or a sheet as it is cut; mm from its lower left corner, up is up. */
export interface DrillDrawing {
  readonly title: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly outline: readonly { readonly x: number; readonly y: number }[];
  /** Boards on a sheet that is to be cut. */
  readonly rectangles: readonly {
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

const mm = (value: number) => `${formatNumber(Number(value.toFixed(1)))} mm`;

/** How deep the recess of a driver is, mm; null where there is none, or not enough is known. */
export function recessDepthMm({
  mounting: { kind, byMm, flangeMm },
}: Pick<Driver, 'mounting'>): number | null {
  if (kind === 'recessed') return byMm + (flangeMm ?? 0);
  if (flangeMm === null) return null;
  const depth = kind === 'proud' ? flangeMm - byMm : kind === 'behind' ? 0 : flangeMm;
  return depth > 0 ? depth : null;
}

/**
 * Holes, recesses and middles of a front. What is not known of a driver is not drawn, and the notes
 * say so.
 */
export function drillDrawingOf(
  { name, drivers }: Pick<Design, 'name' | 'drivers'>,
  panel: Panel,
): DrillDrawing {
  const { leftMm, bottomMm, widthMm, heightMm } = boundsOf(panel.corners);
  const at = ({ xMm, yMm }: { readonly xMm: number; readonly yMm: number }) => ({
    x: xMm - leftMm,
    y: yMm - bottomMm,
  });
  const own = drivers.filter(({ mounting }) => mounting.panelId === panel.id);
  const circlesOf = (driver: Driver): DrillDrawing['circles'] => {
    const { cutoutMm, frameMm } = driver.mounting;
    const place = at(driver.position);
    const recess = recessDepthMm(driver);
    return [
      ...(cutoutMm === null ? [] : [{ layer: 'cut' as const, ...place, diameter: cutoutMm }]),
      ...(frameMm === null
        ? []
        : [
            {
              layer: recess === null ? ('frame' as const) : ('recess' as const),
              ...place,
              diameter: frameMm,
            },
          ]),
    ];
  };
  const linesOf = (driver: Driver): string[] => {
    const { cutoutMm, frameMm, kind } = driver.mounting;
    const recess = recessDepthMm(driver);
    return [
      driver.name,
      `${mm(at(driver.position).x)} from the left, ${mm(heightMm - at(driver.position).y)} from the top`,
      cutoutMm === null ? 'hole not known' : `hole ${mm(cutoutMm)}`,
      ...(recess !== null && frameMm !== null ? [`recess ${mm(frameMm)}, ${mm(recess)} deep`] : []),
      ...(kind === 'behind' ? ['from behind'] : []),
    ];
  };
  return {
    title: `${name}: ${panel.name}`,
    ...{ widthMm, heightMm },
    outline: panel.corners.map(at),
    rectangles: [],
    circles: [
      ...own.flatMap(circlesOf),
      ...panel.ports.map((port) => ({
        layer: 'cut' as const,
        ...at(port),
        diameter: port.diameterMm,
      })),
    ],
    centres: [
      ...own.map((driver) => ({ ...at(driver.position), lines: linesOf(driver) })),
      ...panel.ports.map((port, p) => ({
        ...at(port),
        lines: [`Port ${p + 1}`, `hole ${mm(port.diameterMm)}`],
      })),
    ],
    notes: [
      `${mm(widthMm)} × ${mm(heightMm)}, board ${mm(panel.thicknessMm)}. Seen from the front.`,
      ...treatments(panel),
      'Check holes against the drivers at hand before cutting. Clamp the work; wear eye and hearing protection and a dust mask; keep to the tool maker’s and local rules.',
    ],
  };
}

function treatments({ corners }: Panel): string[] {
  const told = corners.flatMap(({ edge }, c) =>
    edge.kind === 'sharp'
      ? []
      : [
          `${edgeName(corners, c)} ${edge.kind === 'round' ? 'rounded' : 'chamfered'} by ${mm(edge.sizeMm)}`,
        ],
  );
  return told.length === 0 ? [] : [`${[...new Set(told)].join('; ')}.`];
}

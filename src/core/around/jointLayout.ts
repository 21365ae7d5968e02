import type { DriverId, PanelId } from '@/core/fields';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Design } from '@/core/document/schema';
import type { Change } from '@/core/editing/change';
import { resized } from '@/core/layout/reshape';

/** What may be moved, and how far. */
export interface JointWish {
  readonly panelId: PanelId;
  /** How far each driver may go to either side, up or down, and forward or back; mm. */
  readonly moves: readonly {
    readonly driverId: DriverId;
    readonly asideMm: number;
    readonly upMm: number;
    readonly depthMm: number;
  }[];
  readonly narrowestMm: number;
  readonly widestMm: number;
  /** Largest radius of all edges; 0 leaves them as they are. */
  readonly largestRadiusMm: number;
  readonly seed: number;
}

/** One dimension that is searched, mm. */
export interface JointVariable {
  readonly what: 'aside' | 'up' | 'depth' | 'width' | 'radius';
  readonly driverId: DriverId | null;
  readonly start: number;
  readonly least: number;
  readonly most: number;
}

/** Dimensions that a wish lets move, in the order of a point. */
export function jointVariables(design: Design, wish: JointWish): JointVariable[] {
  const panel = design.panels.find(({ id }) => id === wish.panelId);
  if (!panel) return [];
  const { widthMm } = boundsOf(panel.corners);
  const radius = Math.max(
    0,
    ...panel.corners.map(({ edge }) => (edge.kind === 'round' ? edge.sizeMm : 0)),
  );
  const around = (
    what: JointVariable['what'],
    driverId: DriverId,
    start: number,
    byMm: number,
  ): JointVariable[] =>
    byMm <= 0 ? [] : [{ what, driverId, start, least: start - byMm, most: start + byMm }];
  return [
    ...wish.moves.flatMap(({ driverId, asideMm, upMm, depthMm }) => {
      const driver = design.drivers.find(({ id }) => id === driverId);
      if (!driver) return [];
      const { xMm, yMm, zMm } = driver.position;
      return [
        ...around('aside', driverId, xMm, asideMm),
        ...around('up', driverId, yMm, upMm),
        ...around('depth', driverId, zMm, depthMm),
      ];
    }),
    ...(wish.narrowestMm < wish.widestMm
      ? [
          {
            ...({ what: 'width', driverId: null, start: widthMm } as const),
            least: Math.min(widthMm, wish.narrowestMm),
            most: Math.max(widthMm, wish.widestMm),
          },
        ]
      : []),
    ...(wish.largestRadiusMm > radius
      ? [
          {
            ...({ what: 'radius', driverId: null, start: radius } as const),
            ...{ least: radius, most: wish.largestRadiusMm },
          },
        ]
      : []),
  ];
}

/** The change that lays a design out as a point says. */
export function jointLayout(
  design: Design,
  panelId: PanelId,
  variables: readonly JointVariable[],
  point: ArrayLike<number>,
): Change {
  let panel = design.panels.find(({ id }) => id === panelId)!;
  const places = new Map(design.drivers.map(({ id, position }) => [id, { ...position }]));
  variables.forEach(({ what, driverId }, v) => {
    const mm = Number(point[v].toFixed(1));
    const place = driverId === null ? undefined : places.get(driverId);
    if (what === 'width') panel = resized(panel, { widthMm: mm });
    if (what === 'radius' && mm > 0)
      panel = {
        ...panel,
        corners: panel.corners.map((corner) => ({
          ...corner,
          edge: { kind: 'round', sizeMm: mm },
        })),
      };
    if (place && driverId !== null) {
      if (what === 'aside') places.set(driverId, { ...place, xMm: mm });
      if (what === 'up') places.set(driverId, { ...place, yMm: mm });
      if (what === 'depth') places.set(driverId, { ...place, zMm: mm });
    }
  });
  const moved = new Set(variables.flatMap(({ driverId }) => driverId ?? []));
  return {
    type: 'layOutBaffle',
    panels: design.panels.map((one) => (one.id === panelId ? panel : one)),
    places: new Map([...places].filter(([id]) => moved.has(id))),
  };
}

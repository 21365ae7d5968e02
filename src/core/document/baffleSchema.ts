import { z } from 'zod';
import { millimetres, name, panelId, positive } from '@/core/fields';

/** What was done to an edge of a front: its radius, or the width of what a chamfer takes off. */
const edgeSchema = z.strictObject({
  kind: z.enum(['sharp', 'round', 'chamfer']),
  sizeMm: z.number().min(0).max(300),
});

/** A corner of a front, with the edge from there to the next corner, anticlockwise. */
const cornerSchema = z.strictObject({ xMm: millimetres, yMm: millimetres, edge: edgeSchema });

/** What of a baffle sound is bent by: its front and how deep it is. */
const bodyFields = {
  /** An open baffle has no box: what the rear of a driver radiates is heard. */
  kind: z.enum(['box', 'open']),
  /** Seen from the listener, anticlockwise, on the design's axes. */
  corners: z.array(cornerSchema).min(3).max(24),
  /** Of the box, its front included; kept while the baffle is an open one. */
  depthMm: positive.max(3000),
  /** Of the front: for recesses, drivers mounted from behind, and all there is of an open baffle. */
  thicknessMm: positive.max(200),
  /** How far wings at both sides of an open baffle reach back; 0 for none. */
  wingsMm: z.number().min(0).max(1000),
};
const bodySchema = z.strictObject(bodyFields);

const portSchema = z.strictObject({
  xMm: millimetres,
  yMm: millimetres,
  diameterMm: positive.max(1000),
});

/** A front on which drivers are mounted: the baffle, or a smaller one set back from it. */
export const panelSchema = z.strictObject({
  id: panelId,
  name,
  ...bodyFields,
  /** How far its front is behind the plane z = 0 of the design's axes. */
  setBackMm: z.number().min(0).max(2000),
  ports: z.array(portSchema).max(12),
});

const mountingKind = z.enum(['flush', 'proud', 'recessed', 'waveguide', 'behind']);

/** How a driver is mounted on its panel. */
export const mountingSchema = z.strictObject({
  /** Null while it is on none: nothing is said of what its surroundings do. */
  panelId: panelId.nullable(),
  kind: mountingKind,
  /**
   * How far the frame stands proud or lies below the front; depth of a waveguide; how thick the
   * front is that a driver lies behind.
   */
  byMm: z.number().min(0).max(300),
  /** Outside of the frame; null while it is not known. */
  frameMm: positive.max(1000).nullable(),
  /** Thickness of the frame, and the hole that the driver goes through. */
  flangeMm: positive.max(100).nullable(),
  cutoutMm: positive.max(1000).nullable(),
  /** How far it reaches behind the front; null while it is not known. */
  builtDepthMm: positive.max(1000).nullable(),
  /** Mouth of a waveguide. */
  mouthMm: positive.max(1000).nullable(),
});

/** The baffle that a measured response holds already. */
export const measuredOnSchema = z.discriminatedUnion('kind', [
  /** Nobody said: nothing is added to it. */
  z.strictObject({ kind: z.literal('unknown') }),
  /** A wall that has no edges as far as it matters: baffle step and edges are to be added. */
  z.strictObject({ kind: z.literal('wall') }),
  /** So near to the cone that no edge is heard. */
  z.strictObject({ kind: z.literal('near-field') }),
  z.strictObject({
    kind: z.literal('baffle'),
    body: bodySchema,
    /** Of the front from the plane z = 0. */
    setBackMm: z.number().min(0).max(2000),
    /** Middle of the driver. */
    xMm: millimetres,
    yMm: millimetres,
    mounting: mountingSchema.pick({ kind: true, byMm: true, frameMm: true, mouthMm: true }),
  }),
]);

export type Panel = z.infer<typeof panelSchema>;
export type PanelCorner = Panel['corners'][number];
export type PanelEdge = PanelCorner['edge'];
export type PanelBody = z.infer<typeof bodySchema>;
export type Mounting = z.infer<typeof mountingSchema>;
export type MountingKind = Mounting['kind'];
export type MeasuredOn = z.infer<typeof measuredOnSchema>;

export const sharp: PanelEdge = { kind: 'sharp', sizeMm: 0 };

/** A driver that is on no panel. */
export const notMounted: Mounting = {
  panelId: null,
  kind: 'flush',
  byMm: 0,
  frameMm: null,
  flangeMm: null,
  cutoutMm: null,
  builtDepthMm: null,
  mouthMm: null,
};

export const onUnknownBaffle: MeasuredOn = { kind: 'unknown' };

/** Corners of a rectangle with sharp edges, from below on the left. */
export const rectangularCorners = (
  leftMm: number,
  bottomMm: number,
  widthMm: number,
  heightMm: number,
): PanelCorner[] =>
  [
    [leftMm, bottomMm],
    [leftMm + widthMm, bottomMm],
    [leftMm + widthMm, bottomMm + heightMm],
    [leftMm, bottomMm + heightMm],
  ].map(([xMm, yMm]) => ({ xMm, yMm, edge: sharp }));

/** How deep a body is: a box as a whole, an open baffle its panel. */
export const bodyDepthMm = ({ kind, depthMm, thicknessMm }: PanelBody): number =>
  kind === 'open' ? thicknessMm : depthMm;

/** Smallest upright rectangle around an outline, mm. */
export function boundsOf(corners: readonly Pick<PanelCorner, 'xMm' | 'yMm'>[]) {
  const x = corners.map(({ xMm }) => xMm);
  const y = corners.map(({ yMm }) => yMm);
  const [leftMm, rightMm] = [Math.min(...x), Math.max(...x)];
  const [bottomMm, topMm] = [Math.min(...y), Math.max(...y)];
  return {
    ...{ leftMm, rightMm, bottomMm, topMm },
    ...{ widthMm: rightMm - leftMm, heightMm: topMm - bottomMm },
  };
}

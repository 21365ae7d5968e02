import { z } from 'zod';
import { fills } from '@/core/box/fill';
import { boxId, driverId, hertz, name, positive } from '@/core/fields';

const quality = positive.max(1000);
const litres = positive.max(5000);

export const boxKinds = ['sealed', 'vented', 'passive-radiator', 'open-baffle', 'line'] as const;
const boxKind = z.enum(boxKinds);

/** Ports, all alike. */
const boxPortSchema = z.strictObject({
  count: z.int().min(1).max(4),
  shape: z.enum(['round', 'slot']),
  /** Of a round one; kept while it is a slot, as the slot's sides are while it is round. */
  diameterMm: positive.max(500),
  slotWidthMm: positive.max(2000),
  slotHeightMm: positive.max(500),
  /** One long side of the slot is a wall of the box. */
  isOnWall: z.boolean(),
  /** Along its middle, flares and bends included. */
  lengthMm: z.number().min(0).max(3000),
  innerEnd: z.enum(['flanged', 'free', 'flared']),
  outerEnd: z.enum(['flanged', 'free', 'flared']),
  /** Of its flares. */
  flareMm: z.number().min(0).max(100),
  /** Of a round tube, or of the board that divides a slot from the box. */
  wallMm: z.number().min(0).max(50),
  /** Right-angled. */
  bends: z.int().min(0).max(3),
  /** The whole of it outside of the box: it takes no room in it. */
  isOutside: z.boolean(),
  side: z.enum(['front', 'rear']),
  /** Of its middle above the bottom of the inside. */
  heightMm: z.number().min(0).max(5000),
});

/** Cones without a motor, all alike. */
const passiveSchema = z.strictObject({
  count: z.int().min(1).max(2),
  fsHz: hertz,
  qms: quality,
  vasLitres: litres,
  sdCm2: positive.max(10_000),
  addedMassG: z.number().min(0).max(10_000),
  xmaxMm: positive.max(200),
});

/** A lined pipe, from its closed end. */
const pipeSchema = z.strictObject({
  segments: z
    .array(
      z.strictObject({
        lengthMm: positive.max(10_000),
        areaCm2: positive.max(20_000),
        /** Flow resistivity of what it is filled with, Pa·s/m²; 0 for nothing. */
        flowResistivity: z.number().min(0).max(100_000),
      }),
    )
    .min(1)
    .max(12),
  driverAtMm: z.number().min(0).max(50_000),
  end: z.enum(['open', 'closed']),
});

/** A board between two walls, with openings. */
const braceSchema = z.strictObject({
  /** What it lies across: a shelf across the height, a window across the depth. */
  across: z.enum(['width', 'height', 'depth']),
  /** Of its middle from the bottom, the left or the front of the inside. */
  atMm: z.number().min(0).max(5000),
  thicknessMm: positive.max(100),
  /** Share of its area that is open. */
  openShare: z.number().min(0).max(0.95),
});

export const materials = [
  'birch-plywood',
  'poplar-plywood',
  'mdf',
  'particle-board',
  'solid-oak',
  'solid-spruce',
  'bamboo',
] as const;
export type MaterialId = (typeof materials)[number];

/** Walls of a box and what is in it. */
const shellSchema = z.strictObject({
  widthMm: positive.max(3000),
  heightMm: positive.max(3000),
  depthMm: positive.max(3000),
  wallMm: positive.max(200),
  /** Of the front, all its boards together. */
  frontMm: positive.max(200),
  material: z.enum(materials),
  /** Of a square metre as thick as the walls; null for what such boards usually cost. */
  boardPrice: z.number().min(0).max(1e5).nullable(),
  joint: z.enum(['butt', 'mitre', 'rebate']),
  braces: z.array(braceSchema).max(12),
  /** What else takes room: the network's board, stuffing boards, chambers that are not drawn. */
  takenLitres: z.number().min(0).max(1000),
});

/** Boxes that a design may have. */
export const mostBoxes = 24;

/** A box for some drivers: the one in use, or a candidate beside it. */
export const boxSchema = z.strictObject({
  id: boxId,
  name,
  /** In use: its low end is that of its drivers. One box in use for each driver. */
  isUsed: z.boolean(),
  /** Drivers that are alike and share it. */
  driverIds: z.array(driverId).max(8),
  kind: boxKind,
  shell: shellSchema,
  /** It is inside another one and takes its room there. */
  insideId: boxId.nullable(),
  fill: z.enum(fills),
  /** Leakage as a Q at the tuning, or at the resonance of a sealed box; null for a tight one. */
  ql: quality.nullable(),
  port: boxPortSchema,
  passive: passiveSchema,
  pipe: pipeSchema,
  /** Of an open baffle: how much longer the way from the rear is. */
  pathMm: positive.max(20_000),
  /** Below this the box is heard in the place of a response whose box is not known. */
  spliceHz: hertz,
});

/** Net volume, fill and leakage of a box that a measurement holds, as a box states them. */
const heldBox = { litres, fill: z.enum(fills), ql: quality.nullable() };

/** The box that is in a measurement already. */
export const inBoxSchema = z.discriminatedUnion('kind', [
  /** Nobody said. */
  z.strictObject({ kind: z.literal('unknown') }),
  /** In no box: in the open for an impedance, in a large wall for a response. */
  z.strictObject({ kind: z.literal('free') }),
  z.strictObject({ kind: z.literal('sealed'), ...heldBox }),
  z.strictObject({ kind: z.literal('vented'), ...heldBox, tunedHz: hertz }),
]);

export type Box = z.infer<typeof boxSchema>;
export type BoxKind = Box['kind'];
export type BoxShell = Box['shell'];
export type BoxBrace = BoxShell['braces'][number];
export type BoxPort = Box['port'];
export type BoxPipe = Box['pipe'];
export type InBox = z.infer<typeof inBoxSchema>;

export const inUnknownBox: InBox = { kind: 'unknown' };

export const usualPort: BoxPort = {
  count: 1,
  shape: 'round',
  diameterMm: 70,
  slotWidthMm: 200,
  slotHeightMm: 25,
  isOnWall: true,
  lengthMm: 150,
  innerEnd: 'free',
  outerEnd: 'flanged',
  flareMm: 12,
  wallMm: 3,
  bends: 0,
  isOutside: false,
  side: 'front',
  heightMm: 100,
};

export const usualPassive: Box['passive'] = {
  count: 1,
  fsHz: 22,
  qms: 7,
  vasLitres: 100,
  sdCm2: 340,
  addedMassG: 0,
  xmaxMm: 12,
};

export const usualPipe: BoxPipe = {
  segments: [{ lengthMm: 1700, areaCm2: 400, flowResistivity: 2000 }],
  driverAtMm: 570,
  end: 'open',
};

export const usualShell: BoxShell = {
  widthMm: 300,
  heightMm: 700,
  depthMm: 350,
  wallMm: 19,
  frontMm: 19,
  material: 'birch-plywood',
  boardPrice: null,
  joint: 'butt',
  braces: [],
  takenLitres: 0.5,
};

/** Why some boxes do not go together, or null. */
export function boxTrouble(boxes: readonly Box[], drivers: ReadonlySet<string>): string | null {
  const used = boxes.filter(({ isUsed }) => isUsed).flatMap(({ driverIds }) => driverIds);
  if (boxes.some(({ driverIds }) => driverIds.some((id) => !drivers.has(id))))
    return 'A box holds a driver that is not of the design.';
  if (boxes.some(({ driverIds }) => new Set(driverIds).size < driverIds.length))
    return 'A box holds a driver twice.';
  if (new Set(used).size < used.length) return 'A driver is in two boxes that are in use.';
  const ids = new Set(boxes.map(({ id }) => id));
  if (
    boxes.some(({ id, insideId }) => insideId !== null && (insideId === id || !ids.has(insideId)))
  )
    return 'A box is inside one that is not there.';
  // One level: a chamber in a chamber is no cabinet that anybody builds.
  const hosts = new Set(boxes.flatMap(({ insideId }) => insideId ?? []));
  if (boxes.some(({ id, insideId }) => insideId !== null && hosts.has(id)))
    return 'A box that is inside another holds a third.';
  return null;
}

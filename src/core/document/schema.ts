import { z } from 'zod';
import {
  briefSchema,
  emptyBrief,
  emptySheet,
  flatTarget,
  promiseEntrySchema,
  sheetSchema,
  targetSchema,
} from './briefSchema';
import {
  measuredOnSchema,
  mountingSchema,
  notMounted,
  onUnknownBaffle,
  panelSchema,
} from './baffleSchema';
import { boxSchema, boxTrouble, inBoxSchema, inUnknownBox, mostBoxes } from './boxSchema';
import { freeField, surroundingsSchema } from './surroundingsSchema';
import { fingerprint, millimetres, name, positive, type DriverId, driverId } from '@/core/fields';
import type {
  endSchema,
  groupSchema,
  nodeSchema,
  partSchema,
  settingSchema,
} from './networkSchema';
import {
  bridgeSchema,
  couplingSchema,
  couplingTrouble,
  groupTrouble,
  mirrorTrouble,
  nodeTrouble,
  pairSchema,
  switchSchema,
  switchTrouble,
  tieTrouble,
  waySchema,
} from './networkSchema';
import { stepSchema } from '@/core/measurement/steps/kinds';

/**
 * The design document: what is stored, exported, imported and versioned. Everything the user
 * decided is in it; nothing computed is. Measurements are named here and kept beside it, by the
 * fingerprint of their numbers. Numbers carry their unit in the name; ohms, henries, farads and
 * volts are SI.
 */

/** Where an imported curve came from and how it was understood. */
const originSchema = z.strictObject({
  fileName: z.string().max(255),
  /** SHA-256 of the file's bytes. */
  fileSha256: z.string().regex(/^[0-9a-f]{64}$/),
  /** ISO 8601. */
  importedAt: z.iso.datetime(),
  rowCount: z.int().min(2).max(200_000),
  /** One sentence: encoding, delimiter, decimal mark. */
  readAs: z.string().max(200),
  /** Why it was taken for a response or an impedance, or that the user said so. */
  kindReason: z.string().max(300),
  /** Lines above the table, shortened. */
  header: z.array(z.string().max(200)).max(8),
  warnings: z.array(z.string().max(400)).max(20),
});

const microphoneSchema = z.strictObject({
  placement: z.enum(['own-axis', 'design-axis']),
  distanceMm: positive.max(20_000),
  commonTiming: z.boolean(),
});

const measurementSchema = z.strictObject({
  id: fingerprint,
  name,
  kind: z.enum(['response', 'impedance']),
  origin: originSchema,
  /** Used for responses; kept for impedances, so that changing the kind loses nothing. */
  microphone: microphoneSchema,
  /** Voltage at the driver's terminals while it was measured. */
  driveVolts: positive.max(100),
  /** Direction from which a response was measured, seen from the driver; null when nobody said. */
  angle: z
    .strictObject({
      plane: z.enum(['horizontal', 'vertical']),
      degrees: z.number().min(-180).max(180),
    })
    .nullable(),
  /** The baffle that a response holds already. */
  measuredOn: measuredOnSchema,
  /** The box that a response or an impedance holds already. */
  inBox: inBoxSchema,
  /** What is done to a response before the design uses it. */
  recipe: z.array(stepSchema).max(20),
  /**
   * Harmonics of a sweep, stored like measurements: level and noise floor against the frequency
   * played.
   */
  harmonics: z
    .array(
      z.strictObject({
        order: z.int().min(2).max(9),
        levelId: fingerprint,
        floorId: fingerprint,
      }),
    )
    .max(8),
});

/** Second impedance of a driver and what was done to it, from which its parameters are fitted. */
const fittingSchema = z.strictObject({
  second: z.enum(['none', 'added-mass', 'known-box']),
  secondId: fingerprint.nullable(),
  addedMassG: positive.max(10_000).nullable(),
  boxLitres: positive.max(10_000).nullable(),
  /** Measured with direct current; null to fit it. */
  reOhm: positive.max(1000).nullable(),
  leadOhm: z.number().min(0).max(10),
});

const placeSchema = z.strictObject({ xMm: millimetres, yMm: millimetres, zMm: millimetres });

const driverSchema = z.strictObject({
  id: driverId,
  name,
  responseId: fingerprint.nullable(),
  impedanceId: fingerprint.nullable(),
  /** Acoustic centre: x right and y up as seen from the listener, z toward the listener. */
  position: placeSchema,
  /**
   * Where that centre was while its responses were measured; null when the driver has not been
   * moved since.
   */
  measuredAt: placeSchema.nullable(),
  mounting: mountingSchema,
  /** Where it points, from the design axis to the right and up: 0 for the front, 180 for the rear. */
  aim: z.strictObject({
    yawDeg: z.number().min(-180).max(180),
    pitchDeg: z.number().min(-90).max(90),
  }),
  sheet: sheetSchema,
  /** Responses off its axis, each with its angle. */
  offAxisIds: z.array(fingerprint).max(200),
  fitting: fittingSchema,
});

export const designSchema = z
  .strictObject({
    format: z.literal('fair-voicing'),
    version: z.literal(13),
    name,
    /**
     * The line of work that this state belongs to: the main line, or an alternative tried beside
     * it.
     */
    variant: z.string().trim().min(1).max(40),
    brief: briefSchema,
    /** Shape that the response on axis shall have. */
    target: targetSchema,
    /** What differs from the promises that follow from the brief, and promises made by hand. */
    promises: z.array(promiseEntrySchema).max(60),
    airTemperatureC: z.number().min(-30).max(60),
    amplifier: z.strictObject({
      volts: positive.max(200),
      outputOhms: z.number().min(0).max(100),
      /** Both conductors of the cable. */
      cableOhms: z.number().min(0).max(100),
    }),
    terminals: z.array(pairSchema).min(1).max(6),
    /**
     * Links between the pairs: one amplifier drives all of them, at the gain and polarity of the
     * first.
     */
    isJoined: z.boolean(),
    /** Where the sum is predicted: on the design axis, this far from the plane of the baffle. */
    listeningDistanceMm: positive.min(100).max(100_000),
    /** Height of the design axis and of the listener's ears above the floor; null while open. */
    axisHeightMm: positive.max(5000).nullable(),
    earHeightMm: positive.max(5000).nullable(),
    surroundings: surroundingsSchema,
    measurements: z.array(measurementSchema).max(500),
    drivers: z.array(driverSchema).max(40),
    /** Fronts that drivers are mounted on; the first is the baffle itself. */
    panels: z.array(panelSchema).max(8),
    /** Boxes in use, and candidates beside them. */
    boxes: z.array(boxSchema).max(mostBoxes),
    ways: z.array(waySchema).max(24),
    bridges: z.array(bridgeSchema).max(60),
    switches: z.array(switchSchema).max(8),
    couplings: z.array(couplingSchema).max(60),
  })
  .superRefine((design, context) => {
    const complain = (message: string, ...path: (string | number)[]) =>
      context.addIssue({ code: 'custom', message, path });
    const repeated = (ids: readonly string[]) => ids.find((id, i) => ids.indexOf(id) !== i);
    const parts = [
      ...design.ways.flatMap((way) => way.parts),
      ...design.bridges.map(({ part }) => part),
    ];
    for (const [what, items] of [
      ['measurements', design.measurements],
      ['drivers', design.drivers],
      ['promises', design.promises],
      ['panels', design.panels],
      ['boxes', design.boxes],
      ['terminals', design.terminals],
      ['switches', design.switches.flatMap((one) => [one, ...one.positions])],
      ['ways', [...design.ways, ...design.ways.flatMap((way) => way.groups), ...parts]],
    ] as const) {
      const twice = repeated(items.map((item) => item.id));
      if (twice !== undefined) complain(`The id ${twice} is used twice.`, what);
    }
    const sameName = repeated(parts.map((part) => part.name));
    if (sameName !== undefined) complain(`Two parts are called ${sameName}.`, 'ways');
    const measured = new Map(design.measurements.map((m) => [m.id, m.kind]));
    design.drivers.forEach(({ responseId, impedanceId }, i) => {
      if (responseId !== null && measured.get(responseId) !== 'response')
        complain('This is not a response measurement of the design.', 'drivers', i, 'responseId');
      if (impedanceId !== null && measured.get(impedanceId) !== 'impedance')
        complain(
          'This is not an impedance measurement of the design.',
          'drivers',
          i,
          'impedanceId',
        );
    });
    design.drivers.forEach(({ offAxisIds, fitting }, i) => {
      if (offAxisIds.some((id) => measured.get(id) !== 'response'))
        complain('This is not a response measurement of the design.', 'drivers', i, 'offAxisIds');
      if (fitting.secondId !== null && measured.get(fitting.secondId) !== 'impedance')
        complain('This is not an impedance measurement of the design.', 'drivers', i, 'fitting');
    });
    const panels = new Set(design.panels.map(({ id }) => id));
    design.drivers.forEach(({ mounting }, i) => {
      if (mounting.panelId !== null && !panels.has(mounting.panelId))
        complain('This is not a panel of the design.', 'drivers', i, 'mounting', 'panelId');
    });
    const drivers = new Set(design.drivers.map((d) => d.id));
    const trouble = boxTrouble(design.boxes, drivers);
    if (trouble !== null) complain(trouble, 'boxes');
    design.ways.forEach((way, i) => {
      way.ends.forEach(({ driverId }, e) => {
        if (!drivers.has(driverId))
          complain('This is not a driver of the design.', 'ways', i, 'ends', e, 'driverId');
      });
      const grouped = groupTrouble(way);
      if (grouped !== null) complain(grouped, 'ways', i, 'groups');
    });
    const mirrors = mirrorTrouble(design.ways);
    if (mirrors !== null) complain(mirrors, 'ways');
    const placed = nodeTrouble(design);
    if (placed !== null) complain(placed, 'ways');
    const switched = switchTrouble(design, parts);
    if (switched !== null) complain(switched, 'switches');
    const coupled = couplingTrouble(design.couplings, parts);
    if (coupled !== null) complain(coupled, 'couplings');
    const tieTroubles = parts.flatMap(tieTrouble(parts));
    if (tieTroubles.length > 0) complain(tieTroubles[0], 'ways');
  });

export type Design = z.infer<typeof designSchema>;
export type Measurement = z.infer<typeof measurementSchema>;
export type Driver = z.infer<typeof driverSchema>;
export type Way = z.infer<typeof waySchema>;
export type Part = z.infer<typeof partSchema>;
export type Group = z.infer<typeof groupSchema>;
export type WayTarget = NonNullable<Way['target']>;
export type NodeRef = z.infer<typeof nodeSchema>;
export type WayEnd = z.infer<typeof endSchema>;
export type Bridge = z.infer<typeof bridgeSchema>;
export type TerminalPair = z.infer<typeof pairSchema>;
export type DesignSwitch = z.infer<typeof switchSchema>;
export type SwitchSetting = z.infer<typeof settingSchema>;
export type PartKind = Part['kind'];
export type Place = Part['place'];

/** What is said of a new part besides its kind, value and place. */
export const plainPart = {
  groupId: null,
  isOff: false,
  isLocked: false,
  fit: { isFree: false, lowest: null, highest: null, tie: null },
} as const satisfies Partial<Part>;

/** The pair that every design begins with. */
export const firstPair = {
  id: 'terminals',
  name: 'Terminals',
  gainDb: 0,
  polarity: 'normal',
} as const satisfies TerminalPair;

/** A way from the first pair, without drivers and parts. */
export const plainWay = {
  from: { kind: 'terminals', pairId: firstPair.id },
  ends: [],
  endsJoin: 'parallel',
  polarity: 'normal',
  target: null,
  parts: [],
  groups: [],
} satisfies Partial<Way>;

/** The end of a way with one driver in its polarity. */
export const endAt = (driverId: DriverId): WayEnd => ({ driverId, polarity: 'normal' });

/** All parts of the network: those on rails, and bridges. */
export const partsOf = ({ ways, bridges }: Pick<Design, 'ways' | 'bridges'>): Part[] => [
  ...ways.flatMap((way) => way.parts),
  ...bridges.map(({ part }) => part),
];

/** Name of the line that every project begins with. */
export const mainLine = 'main line';

export const emptyFitting: Driver['fitting'] = {
  second: 'none',
  secondId: null,
  addedMassG: null,
  boxLitres: null,
  reOhm: null,
  leadOhm: 0,
};

/** Toward the listener. */
export const ahead: Driver['aim'] = { yawDeg: 0, pitchDeg: 0 };

/** A driver without measurements, at the middle of the design axis. */
export const emptyDriver = (id: string, driverName: string): Driver => ({
  id,
  name: driverName,
  responseId: null,
  impedanceId: null,
  position: { xMm: 0, yMm: 0, zMm: 0 },
  measuredAt: null,
  mounting: notMounted,
  aim: ahead,
  sheet: emptySheet,
  offAxisIds: [],
  fitting: emptyFitting,
});

/** A driver taken off its panel, for a document that has not got it. */
export const offPanel = (driver: Driver): Driver => ({
  ...driver,
  mounting: { ...driver.mounting, panelId: null },
});

/** What is kept beside the numbers of a measurement when nothing was said yet. */
export const plainStatement = {
  angle: null,
  measuredOn: onUnknownBaffle,
  inBox: inUnknownBox,
  recipe: [],
  harmonics: [],
} as const satisfies Partial<Measurement>;

/** Ids of all numbers that belong to a measurement: its own and its harmonics'. */
export const numberIds = ({ id, harmonics }: Measurement): string[] => [
  id,
  ...harmonics.flatMap(({ levelId, floorId }) => [levelId, floorId]),
];

/** A design with nothing in it. */
export function emptyDesign(designName: string): Design {
  return {
    format: 'fair-voicing',
    version: 13,
    name: designName,
    variant: mainLine,
    brief: emptyBrief,
    target: flatTarget,
    promises: [],
    airTemperatureC: 20,
    amplifier: { volts: 2.83, outputOhms: 0.05, cableOhms: 0 },
    terminals: [firstPair],
    isJoined: false,
    listeningDistanceMm: 1000,
    axisHeightMm: null,
    earHeightMm: null,
    surroundings: freeField,
    measurements: [],
    drivers: [],
    panels: [],
    boxes: [],
    ways: [],
    bridges: [],
    switches: [],
    couplings: [],
  };
}

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
import { fingerprint, identifier, millimetres, name, positive } from './fields';
import { stepSchema } from './recipeSchema';

/**
 * The design document: what is stored, exported, imported and versioned. Everything the user decided is in it;
 * nothing computed is. Measurements are named here and kept beside it, by the fingerprint of their numbers.
 * Numbers carry their unit in the name; ohms, henries, farads and volts are SI.
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
  /** What is done to a response before the design uses it. */
  recipe: z.array(stepSchema).max(20),
  /** Harmonics of a sweep, stored like measurements: level and noise floor against the frequency played. */
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

const driverSchema = z.strictObject({
  id: identifier,
  name,
  responseId: fingerprint.nullable(),
  impedanceId: fingerprint.nullable(),
  /** Acoustic centre: x right and y up as seen from the listener, z toward the listener. */
  position: z.strictObject({ xMm: millimetres, yMm: millimetres, zMm: millimetres }),
  sheet: sheetSchema,
  /** Responses off its axis, each with its angle. */
  offAxisIds: z.array(fingerprint).max(200),
  fitting: fittingSchema,
});

/** Reference designation such as C4, unique in the design. */
const designation = z.string().regex(/^[A-Z]{1,3}\d{1,3}$/);

/** What a fit may do with a part's value. */
const fitSchema = z.strictObject({
  isFree: z.boolean(),
  /** Bounds in the value's unit; null for a decade to each side of where the fit begins. */
  lowest: positive.nullable(),
  highest: positive.nullable(),
  /** Its value is always this many times another part's of the same kind. */
  tie: z.strictObject({ partId: identifier, ratio: positive.max(1000) }).nullable(),
});

const partBase = {
  id: identifier,
  name: designation,
  place: z.enum(['series', 'shunt']),
  /** Group of the way that it belongs to; null when it stands on the rail by itself. */
  groupId: identifier.nullable(),
  /** Left out of the prediction: a series part is a wire, a shunt part is taken away. */
  isOff: z.boolean(),
  /** Its value is not changed by arrow keys or by a fit. */
  isLocked: z.boolean(),
  fit: fitSchema,
};

const partSchema = z.discriminatedUnion('kind', [
  z.strictObject({ ...partBase, kind: z.literal('resistor'), ohms: positive.max(1e6) }),
  z.strictObject({
    ...partBase,
    kind: z.literal('coil'),
    henries: positive.max(10),
    seriesOhms: z.number().min(0).max(1000),
  }),
  z.strictObject({
    ...partBase,
    kind: z.literal('capacitor'),
    farads: positive.max(1),
    seriesOhms: z.number().min(0).max(1000),
  }),
]);

/** Parts, and groups within it, that are joined to one two-pole: a trap, a damped coil. */
const groupSchema = z.strictObject({
  id: identifier,
  join: z.enum(['series', 'parallel']),
  /** Group that this one is a member of. */
  parentId: identifier.nullable(),
});

/**
 * A rail from the amplifier to one driver. Parts stand in order from the amplifier; the parts of a group stand together
 * and in the same place.
 */
const waySchema = z.strictObject({
  id: identifier,
  name,
  driverId: identifier.nullable(),
  polarity: z.enum(['normal', 'reversed']),
  parts: z.array(partSchema).max(60),
  groups: z.array(groupSchema).max(40),
});

type RawPart = z.infer<typeof partSchema>;

/** What is wrong with the groups of a way; null when nothing is. */
function groupTrouble({ parts, groups }: z.infer<typeof waySchema>): string | null {
  const byId = new Map(groups.map((group) => [group.id, group]));
  const chainOf = (part: RawPart): string[] => {
    const chain: string[] = [];
    for (let id = part.groupId; id !== null && !chain.includes(id);)
      id = (chain.push(id), byId.get(id)?.parentId ?? null);
    return chain;
  };
  for (const { id, parentId } of groups) {
    if (parentId !== null && !byId.has(parentId))
      return `Group ${id} is in a group that is not there.`;
    const members = parts.flatMap((part, at) => (chainOf(part).includes(id) ? [{ part, at }] : []));
    if (members.length === 0) return `Group ${id} is empty.`;
    if (members[members.length - 1].at - members[0].at !== members.length - 1)
      return `The parts of group ${id} do not stand together.`;
    if (members.some(({ part }) => part.place !== members[0].part.place))
      return `The parts of group ${id} stand in different places.`;
  }
  const stray = parts.find(({ groupId }) => groupId !== null && !byId.has(groupId));
  return stray ? `${stray.name} is in a group that is not there.` : null;
}

const tieTrouble = ({ ways }: { readonly ways: readonly z.infer<typeof waySchema>[] }) => {
  const all = new Map(ways.flatMap((way) => way.parts).map((part) => [part.id, part]));
  return ({ id, name: partName, kind, fit: { tie } }: RawPart): string[] => {
    if (tie === null) return [];
    const other = all.get(tie.partId);
    if (!other) return [`${partName} is tied to a part that is not there.`];
    if (other.kind !== kind)
      return [`${partName} is tied to ${other.name}, which is of another kind.`];
    return other.id === id || other.fit.tie !== null
      ? [`${partName} is tied to ${other.name}, whose value is not its own.`]
      : [];
  };
};

/** Two coils that hear each other. */
const couplingSchema = z.strictObject({
  partA: identifier,
  partB: identifier,
  /** M/√(L₁L₂); positive when the starts of both windings point toward the amplifier or the rail. */
  coefficient: z.number().gt(-1).lt(1),
});

/** What is wrong with the couplings; null when nothing is. */
function couplingTrouble(
  couplings: readonly z.infer<typeof couplingSchema>[],
  ways: readonly z.infer<typeof waySchema>[],
): string | null {
  const coils = new Set(
    ways.flatMap(({ parts }) => parts.filter(({ kind }) => kind === 'coil').map(({ id }) => id)),
  );
  const seen = new Set<string>();
  for (const { partA, partB } of couplings) {
    const pair = [partA, partB].sort().join(' ');
    if (!coils.has(partA) || !coils.has(partB))
      return 'A coupling names something that is no coil.';
    if (partA === partB) return 'A coil is coupled to itself.';
    if (seen.has(pair)) return 'Two coils are coupled twice.';
    seen.add(pair);
  }
  return null;
}

export const designSchema = z
  .strictObject({
    format: z.literal('fair-voicing'),
    version: z.literal(4),
    name,
    /** The line of work that this state belongs to: the main line, or an alternative tried beside it. */
    variant: z.string().trim().min(1).max(40),
    brief: briefSchema,
    /** Shape that the response on axis shall have. */
    target: targetSchema,
    /** What differs from the promises that follow from the brief, and promises made by hand. */
    promises: z.array(promiseEntrySchema).max(60),
    airTemperatureC: z.number().min(-30).max(60),
    amplifier: z.strictObject({
      volts: positive.max(200),
      /** Output resistance of the amplifier and the cable together. */
      outputOhms: z.number().min(0).max(100),
    }),
    /** Where the sum is predicted: on the design axis, this far from the plane of the baffle. */
    listeningDistanceMm: positive.min(100).max(100_000),
    measurements: z.array(measurementSchema).max(500),
    drivers: z.array(driverSchema).max(40),
    ways: z.array(waySchema).max(12),
    couplings: z.array(couplingSchema).max(60),
  })
  .superRefine((design, context) => {
    const complain = (message: string, ...path: (string | number)[]) =>
      context.addIssue({ code: 'custom', message, path });
    const repeated = (ids: readonly string[]) => ids.find((id, i) => ids.indexOf(id) !== i);
    for (const [what, items] of [
      ['measurements', design.measurements],
      ['drivers', design.drivers],
      ['promises', design.promises],
      ['ways', [...design.ways, ...design.ways.flatMap((way) => [...way.parts, ...way.groups])]],
    ] as const) {
      const twice = repeated(items.map((item) => item.id));
      if (twice !== undefined) complain(`The id ${twice} is used twice.`, what);
    }
    const sameName = repeated(design.ways.flatMap((way) => way.parts.map((part) => part.name)));
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
    const drivers = new Set(design.drivers.map((d) => d.id));
    design.ways.forEach((way, i) => {
      if (way.driverId !== null && !drivers.has(way.driverId))
        complain('This is not a driver of the design.', 'ways', i, 'driverId');
      const trouble = groupTrouble(way);
      if (trouble !== null) complain(trouble, 'ways', i, 'groups');
    });
    const coupled = couplingTrouble(design.couplings, design.ways);
    if (coupled !== null) complain(coupled, 'couplings');
    const tieTroubles = design.ways.flatMap((way) => way.parts).flatMap(tieTrouble(design));
    if (tieTroubles.length > 0) complain(tieTroubles[0], 'ways');
  });

export type Design = z.infer<typeof designSchema>;
export type Measurement = z.infer<typeof measurementSchema>;
export type Driver = z.infer<typeof driverSchema>;
export type Way = z.infer<typeof waySchema>;
export type Part = z.infer<typeof partSchema>;
export type Group = z.infer<typeof groupSchema>;
export type PartKind = Part['kind'];
export type Place = Part['place'];

/** What is said of a new part besides its kind, value and place. */
export const plainPart = {
  groupId: null,
  isOff: false,
  isLocked: false,
  fit: { isFree: false, lowest: null, highest: null, tie: null },
} as const satisfies Partial<Part>;

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

/** A driver without measurements, at the middle of the design axis. */
export const emptyDriver = (id: string, driverName: string): Driver => ({
  id,
  name: driverName,
  responseId: null,
  impedanceId: null,
  position: { xMm: 0, yMm: 0, zMm: 0 },
  sheet: emptySheet,
  offAxisIds: [],
  fitting: emptyFitting,
});

/** What is kept beside the numbers of a measurement when nothing was said yet. */
export const plainStatement = {
  angle: null,
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
    version: 4,
    name: designName,
    variant: mainLine,
    brief: emptyBrief,
    target: flatTarget,
    promises: [],
    airTemperatureC: 20,
    amplifier: { volts: 2.83, outputOhms: 0.05 },
    listeningDistanceMm: 1000,
    measurements: [],
    drivers: [],
    ways: [],
    couplings: [],
  };
}

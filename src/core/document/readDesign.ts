import { problem } from '@/core/problem';
import { cleaned } from '@/core/text';
import { notMounted, onUnknownBaffle } from './baffleSchema';
import { emptyBrief, emptySheet } from './briefSchema';
import { inUnknownBox } from './boxSchema';
import { freeField } from './surroundingsSchema';
import {
  ahead,
  designSchema,
  emptyDesign,
  emptyFitting,
  endAt,
  plainPart,
  plainStatement,
  plainWay,
  type Design,
} from './schema';

const newestVersion = 13;

/**
 * Checks a document of unknown origin and gives it as the newest version of the schema.
 *
 * @param value parsed JSON
 * @param where file or request it came from, for messages
 * @throws ProblemError `not_a_design`, `design_too_new` or `design_invalid` naming the place in the
 *   document
 */
export function readDesign(value: unknown, where: string): Design {
  const { format, version } = (typeof value === 'object' && value !== null ? value : {}) as Record<
    string,
    unknown
  >;
  if (format !== 'fair-voicing')
    throw problem(
      'not_a_design',
      where,
      'This is not a Fair Voicing design.',
      'Its format is not named “fair-voicing”.',
      'Give a project file or a design.json.',
    );
  if (typeof version === 'number' && version > newestVersion)
    throw problem(
      'design_too_new',
      where,
      `This design has schema version ${version}.`,
      `This program reads versions up to ${newestVersion}.`,
      'Open it with a newer Fair Voicing.',
    );
  const result = designSchema.safeParse(migrated(cleaned(value as object), version));
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw problem(
    'design_invalid',
    `${where}: ${issue.path.join('.') || 'document'}`,
    issue.message,
    '',
    'Correct this place, or export the project again.',
  );
}

/**
 * A document from our own store. It was checked when it was stored, so that only one of an older
 * version is looked at.
 *
 * @throws ProblemError as {@link readDesign}
 */
export const upToDate = (stored: Design, where: string): Design =>
  (stored.version as number) === newestVersion ? stored : readDesign(stored, where);

/** The document as the newest version has it. */
function migrated(value: object, version: unknown): unknown {
  const steps: ((value: Unchecked) => object)[] = [
    fromVersion1,
    fromVersion2,
    fromVersion3,
    fromVersion4,
    fromVersion5,
    fromVersion6,
    fromVersion7,
    fromVersion8,
    fromVersion9,
    fromVersion10,
    fromVersion11,
    fromVersion12,
  ];
  return typeof version === 'number'
    ? steps.slice(version - 1).reduce<object>((document, step) => step(document), value)
    : value;
}

/** Lists of anything but objects are left for the schema to refuse. */
const mapEach = (items: unknown, edit: (item: object) => unknown): unknown =>
  Array.isArray(items) && items.every((item) => typeof item === 'object' && item !== null)
    ? (items as object[]).map(edit)
    : items;

const withEach = (items: unknown, more: object): unknown =>
  mapEach(items, (item) => ({ ...item, ...more }));

interface Unchecked {
  readonly drivers?: unknown;
  readonly measurements?: unknown;
  readonly ways?: unknown;
  readonly amplifier?: unknown;
  readonly brief?: unknown;
  readonly promises?: unknown;
}

/** Version 1 knew neither brief, target nor promises, and drivers had no data sheet. */
function fromVersion1(value: Unchecked): Unchecked & object {
  const { brief, target, promises, variant } = emptyDesign('');
  const drivers = withEach(value.drivers, { sheet: emptySheet });
  const more = { brief, target, promises, variant, drivers };
  return { ...value, ...more };
}

/** Version 2 used responses as they were measured, on one axis; drivers were not fitted. */
function fromVersion2(value: Unchecked): Unchecked & object {
  return {
    ...value,
    measurements: withEach(value.measurements, plainStatement),
    drivers: withEach(value.drivers, { offAxisIds: [], fitting: emptyFitting }),
  };
}

/** Version 3 had neither groups of parts, coupled coils nor anything to fit. */
function fromVersion3(value: Unchecked): Unchecked & object {
  return {
    ...value,
    couplings: [],
    ways: mapEach(value.ways, (way: { parts?: unknown }) => ({
      ...way,
      parts: withEach(way.parts, plainPart),
      groups: [],
    })),
  } as Unchecked & object;
}

/**
 * Version 4 had one driver at the end of each way, all ways at one pair of terminals, and the cable
 * in the amplifier.
 */
function fromVersion4(value: Unchecked): Unchecked & object {
  const { terminals, isJoined, bridges, switches } = emptyDesign('');
  const ways = mapEach(value.ways, ({ driverId, ...way }: { driverId?: unknown }) => ({
    ...way,
    from: plainWay.from,
    ends: typeof driverId === 'string' ? [endAt(driverId)] : [],
    endsJoin: plainWay.endsJoin,
    target: plainWay.target,
  }));
  const amplifier = { ...(value.amplifier as object), cableOhms: 0 };
  const more = { terminals, isJoined, bridges, switches };
  return { ...value, ...more, amplifier, ways };
}

/** Version 5 took a driver to be where it was measured, wherever it was put later. */
function fromVersion5(value: Unchecked): Unchecked & object {
  const drivers = mapEach(value.drivers, (driver: { position?: unknown }) => ({
    ...driver,
    measuredAt: driver.position,
  }));
  return { ...value, drivers };
}

/**
 * Version 6 asked neither what a driver's power means nor how large the room is and how the
 * amplifier is driven.
 */
function fromVersion6(value: Unchecked): Unchecked & object {
  /** What is no object is left for the schema to refuse. */
  const filled = (given: unknown, whole: object) =>
    typeof given === 'object' && given !== null ? { ...whole, ...given } : given;
  const drivers = mapEach(value.drivers, (driver: { sheet?: unknown }) => ({
    ...driver,
    sheet: filled(driver.sheet, emptySheet),
  }));
  const brief = filled(value.brief, emptyBrief);
  return { ...value, brief, drivers };
}

/**
 * Version 7 told the phase between neighbours in degrees; what two alike lose by such an angle is
 * −20·log(cos(angle/2)).
 */
function fromVersion7(value: Unchecked): Unchecked & object {
  const decibels = (degrees: unknown) =>
    typeof degrees === 'number' && degrees > 0
      ? Number((-20 * Math.log10(Math.cos((Math.min(degrees, 170) * Math.PI) / 360))).toFixed(3))
      : degrees;
  const promises = mapEach(value.promises, (entry: { kind?: unknown; atMost?: unknown }) =>
    entry.kind === 'phase-tracking'
      ? { ...entry, atMost: decibels(entry.atMost), atLeast: null }
      : entry,
  );
  return { ...value, promises };
}

/** Version 8 knew neither a baffle, nor which one a response was measured on, nor a coil’s inductance. */
function fromVersion8(value: Unchecked): object {
  const drivers = mapEach(value.drivers, (driver: { sheet?: unknown }) => ({
    ...driver,
    mounting: notMounted,
    sheet:
      typeof driver.sheet === 'object' && driver.sheet !== null
        ? { ...emptySheet, ...driver.sheet }
        : driver.sheet,
  }));
  const measurements = withEach(value.measurements, { measuredOn: onUnknownBaffle });
  const heights = { axisHeightMm: null, earHeightMm: null };
  return { ...value, panels: [], ...heights, drivers, measurements };
}

/** Version 9 knew neither where drivers point, nor what is around a speaker, nor promises by angle. */
function fromVersion9(value: Unchecked): Unchecked & object {
  const more = { surroundings: freeField };
  return {
    ...value,
    ...more,
    drivers: withEach(value.drivers, { aim: ahead }),
    promises: withEach(value.promises, { angle: null }),
  };
}

/** Version 10 knew no boxes. */
function fromVersion10(value: Unchecked): object {
  return {
    ...value,
    boxes: [],
    measurements: withEach(value.measurements, { inBox: inUnknownBox }),
  };
}

/** Version 11 did not say what fibre was in the box that a measurement holds. */
function fromVersion11(value: Unchecked): object {
  const measurements = mapEach(value.measurements, (measurement: { inBox?: unknown }) => {
    const { inBox } = measurement;
    return typeof inBox === 'object' && inBox !== null && 'litres' in inBox
      ? { ...measurement, inBox: { fill: 'none', ...inBox } }
      : measurement;
  });
  return { ...value, version: 12, measurements };
}

/** Version 12 had one output resistance for all amplifiers, which is what a pair without its own says. */
const fromVersion12 = (value: Unchecked): object => ({ ...value, version: newestVersion });

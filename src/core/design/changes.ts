import type { Brief, DriverSheet, PromiseEntry, Target } from './briefSchema';
import { inserted, tidied, type Standing } from './arrange';
import { withSoundPlaces } from './places';
import { withPartValue } from './partValue';
import { turned, withoutLooseSettings, withoutMember } from './switches';
import {
  partsOf,
  plainPart,
  type Bridge,
  type Design,
  type DesignSwitch,
  type Driver,
  type Measurement,
  type Part,
  type PartKind,
  type Place,
  type Way,
} from './schema';

/** Everything that can be done to a design, as data. Nothing else changes one. */
export type Change =
  | { readonly type: 'renameDesign'; readonly name: string }
  | { readonly type: 'addMeasurements'; readonly measurements: readonly Measurement[] }
  | { readonly type: 'removeMeasurement'; readonly id: string }
  | {
      readonly type: 'editMeasurement';
      readonly id: string;
      readonly set: Partial<
        Pick<Measurement, 'name' | 'kind' | 'microphone' | 'driveVolts' | 'angle' | 'recipe'>
      >;
    }
  /** The same edit to many: a recipe copied, a folder's microphone stated. */
  | {
      readonly type: 'editMeasurements';
      readonly ids: readonly string[];
      readonly set: Partial<Pick<Measurement, 'microphone' | 'driveVolts' | 'recipe'>>;
    }
  | { readonly type: 'addDriver'; readonly driver: Driver }
  /** Drivers from elsewhere, with the measurements that they name. */
  | {
      readonly type: 'bringDrivers';
      readonly drivers: readonly Driver[];
      readonly measurements: readonly Measurement[];
    }
  | { readonly type: 'removeDriver'; readonly id: string }
  | { readonly type: 'editDriver'; readonly id: string; readonly set: Partial<Omit<Driver, 'id'>> }
  | { readonly type: 'addWay'; readonly way: Way }
  | { readonly type: 'removeWay'; readonly id: string }
  | {
      readonly type: 'editWay';
      readonly id: string;
      readonly set: Partial<
        Pick<Way, 'name' | 'from' | 'ends' | 'endsJoin' | 'polarity' | 'target'>
      >;
    }
  | {
      readonly type: 'addPart';
      readonly wayId: string;
      readonly index: number;
      readonly part: Part;
    }
  | { readonly type: 'removePart'; readonly id: string }
  | { readonly type: 'replacePart'; readonly part: Part }
  /** What stands on some ways, arranged anew (`arrange.ts`), by the ids of these. */
  | { readonly type: 'arrangeWays'; readonly standings: ReadonlyMap<string, Standing> }
  | { readonly type: 'addBridge'; readonly bridge: Bridge }
  | {
      readonly type: 'moveBridge';
      readonly partId: string;
      readonly set: Partial<Pick<Bridge, 'a' | 'b'>>;
    }
  /** Two parts change places; each keeps its value and its name. */
  | { readonly type: 'swapParts'; readonly partA: string; readonly partB: string }
  | {
      readonly type: 'editPart';
      readonly id: string;
      readonly set: Partial<Pick<Part, 'isOff' | 'isLocked' | 'fit'>>;
    }
  /** Values of several parts at once, by id, with their losses where these follow: what a fit found. */
  | { readonly type: 'setPartValues'; readonly values: ReadonlyMap<string, PartSetting> }
  | { readonly type: 'setPartValue'; readonly id: string; readonly value: number }
  | { readonly type: 'setPartLoss'; readonly id: string; readonly seriesOhms: number }
  | { readonly type: 'setCore'; readonly id: string; readonly isMagnetic: boolean }
  /** Couples two coils, or changes how strongly; a coefficient of 0 parts them. */
  | {
      readonly type: 'coupleCoils';
      readonly partA: string;
      readonly partB: string;
      readonly coefficient: number;
    }
  | { readonly type: 'setAmplifier'; readonly amplifier: Design['amplifier'] }
  /** The last pair can't be taken away. */
  | {
      readonly type: 'setTerminals';
      readonly terminals: Design['terminals'];
      readonly isJoined: boolean;
    }
  /** Puts a switch in the place of the one with the same id, or adds it. */
  | { readonly type: 'setSwitch'; readonly switch: DesignSwitch }
  | { readonly type: 'removeSwitch'; readonly id: string }
  | { readonly type: 'turnSwitch'; readonly id: string; readonly positionId: string }
  | { readonly type: 'setListeningDistance'; readonly distanceMm: number }
  | { readonly type: 'answer'; readonly set: Partial<Brief> }
  | { readonly type: 'setTarget'; readonly target: Target }
  | { readonly type: 'setDriverSheet'; readonly id: string; readonly set: Partial<DriverSheet> }
  /** Puts an entry in the place of the one with the same id, or adds it. */
  | { readonly type: 'setPromise'; readonly entry: PromiseEntry }
  | { readonly type: 'removePromise'; readonly id: string }
  /** Goes on with this state on another line of work. */
  | { readonly type: 'setVariant'; readonly variant: string }
  /** Puts another state in the place of this one: a version gone back to, a variant taken up. */
  | { readonly type: 'replaceDesign'; readonly design: Design };

/** What stands on one way, arranged anew. */
export const arrangeWay = (wayId: string, standing: Standing): Change => ({
  type: 'arrangeWays',
  standings: new Map([[wayId, standing]]),
});

/** A part's value with its loss; null leaves the loss as it is. */
export interface PartSetting {
  readonly value: number;
  readonly seriesOhms: number | null;
}

const edited = <T extends { readonly id: string }>(
  items: readonly T[],
  id: string,
  edit: (item: T) => T,
): T[] => items.map((item) => (item.id === id ? edit(item) : item));

const without = <T extends { readonly id: string }>(items: readonly T[], id: string): T[] =>
  items.filter((item) => item.id !== id);

/** The first, and those of the second that are not among them. */
function joined<T extends { readonly id: string }>(items: readonly T[], more: readonly T[]): T[] {
  const known = new Set(items.map(({ id }) => id));
  return [...items, ...more.filter(({ id }) => !known.has(id))];
}

/** The design with every part edited; ways and bridges whose parts stay the same are shared. */
function editedParts(design: Design, edit: (part: Part) => Part): Design {
  const each = (parts: readonly Part[]): Part[] | null => {
    const next = parts.map(edit);
    return next.some((part, i) => part !== parts[i]) ? next : null;
  };
  const bridges = each(design.bridges.map(({ part }) => part));
  return {
    ...design,
    ways: design.ways.map((way) => {
      const parts = each(way.parts);
      return parts ? { ...way, parts } : way;
    }),
    bridges: bridges
      ? design.bridges.map((bridge, i) => ({ ...bridge, part: bridges[i] }))
      : design.bridges,
  };
}

const editedPart = (design: Design, id: string, edit: (part: Part) => Part): Design =>
  editedParts(design, (part) => (part.id === id ? edit(part) : part));

/**
 * The design after a change; the one given stays as it was, and unchanged branches are shared.
 * A change that names something that isn't there changes nothing.
 */
export function applyChange(design: Design, change: Change): Design {
  const next = withoutLooseTies(withoutLooseCouplings(changed(design, change)));
  return change.type === 'replaceDesign'
    ? next
    : withoutLooseSettings(withSoundPlaces(design, next));
}

/** Couplings go with their coils. */
function withoutLooseCouplings(design: Design): Design {
  if (design.couplings.length === 0) return design;
  const coils = new Set(
    partsOf(design)
      .filter(({ kind }) => kind === 'coil')
      .map(({ id }) => id),
  );
  const kept = design.couplings.filter(({ partA, partB }) => coils.has(partA) && coils.has(partB));
  return kept.length === design.couplings.length ? design : { ...design, couplings: kept };
}

/** A tie goes with the part that it follows, and when that part becomes another kind or is tied itself. */
function withoutLooseTies(design: Design): Design {
  const parts = partsOf(design);
  const isLoose = ({ kind, fit: { tie } }: Part) => {
    if (tie === null) return false;
    const other = parts.find(({ id }) => id === tie.partId);
    return other?.kind !== kind || other.fit.tie !== null;
  };
  if (!parts.some(isLoose)) return design;
  return editedParts(design, (part) =>
    isLoose(part) ? { ...part, fit: { ...part.fit, tie: null } } : part,
  );
}

function changed(design: Design, change: Change): Design {
  switch (change.type) {
    case 'renameDesign':
      return { ...design, name: change.name };
    case 'addMeasurements':
      return { ...design, measurements: joined(design.measurements, change.measurements) };
    case 'removeMeasurement':
      return {
        ...detached(design, change.id),
        measurements: without(design.measurements, change.id),
      };
    case 'editMeasurement': {
      const before = design.measurements.find((m) => m.id === change.id);
      const kindChanges = change.set.kind !== undefined && change.set.kind !== before?.kind;
      const base = kindChanges ? detached(design, change.id) : design;
      return {
        ...base,
        measurements: edited(base.measurements, change.id, (m) => ({ ...m, ...change.set })),
      };
    }
    case 'editMeasurements':
      return {
        ...design,
        measurements: design.measurements.map((m) =>
          change.ids.includes(m.id) ? { ...m, ...change.set } : m,
        ),
      };
    case 'addDriver':
      return { ...design, drivers: [...design.drivers, change.driver] };
    case 'bringDrivers':
      return {
        ...design,
        measurements: joined(design.measurements, change.measurements),
        drivers: [...design.drivers, ...change.drivers],
      };
    case 'removeDriver':
      return {
        ...design,
        drivers: without(design.drivers, change.id),
        ways: design.ways.map((way) =>
          way.ends.some(({ driverId }) => driverId === change.id)
            ? { ...way, ends: way.ends.filter(({ driverId }) => driverId !== change.id) }
            : way,
        ),
      };
    case 'editDriver':
      return {
        ...design,
        drivers: edited(design.drivers, change.id, (d) => ({ ...d, ...change.set })),
      };
    case 'addWay':
      return { ...design, ways: [...design.ways, change.way] };
    case 'removeWay':
      return { ...design, ways: without(design.ways, change.id) };
    case 'editWay':
      return {
        ...design,
        ways: edited(design.ways, change.id, (way) => ({ ...way, ...change.set })),
      };
    case 'addPart':
      return {
        ...design,
        ways: edited(design.ways, change.wayId, (way) => ({
          ...way,
          ...inserted(way, change.index, change.part),
        })),
      };
    case 'removePart':
      return {
        ...design,
        ways: design.ways.map((way) =>
          way.parts.some(({ id }) => id === change.id)
            ? {
                ...way,
                ...tidied({ parts: without(way.parts, change.id), groups: way.groups }),
              }
            : way,
        ),
        bridges: design.bridges.filter(({ part }) => part.id !== change.id),
      };
    case 'addBridge':
      return { ...design, bridges: [...design.bridges, change.bridge] };
    case 'moveBridge':
      return {
        ...design,
        bridges: design.bridges.map((bridge) =>
          bridge.part.id === change.partId ? { ...bridge, ...change.set } : bridge,
        ),
      };
    case 'replacePart':
      return replaced(design, change.part);
    case 'arrangeWays':
      return {
        ...design,
        ways: design.ways.map((way) => {
          const standing = change.standings.get(way.id);
          return standing ? { ...way, ...standing } : way;
        }),
      };
    case 'swapParts': {
      const [a, b] = [change.partA, change.partB].map((id) =>
        partsOf(design).find((part) => part.id === id),
      );
      if (!a || !b) return design;
      const inPlaceOf = (part: Part, { place, groupId }: Part): Part => ({
        ...part,
        place,
        groupId,
      });
      return editedParts(design, (part) =>
        part.id === a.id ? inPlaceOf(b, a) : part.id === b.id ? inPlaceOf(a, b) : part,
      );
    }
    case 'editPart':
      return editedPart(design, change.id, (part) => ({ ...part, ...change.set }));
    case 'setPartValues':
      return withValues(design, change.values);
    case 'setPartValue':
      return withValues(design, new Map([[change.id, { value: change.value, seriesOhms: null }]]));
    case 'setPartLoss':
      return editedPart(design, change.id, (part) =>
        part.kind === 'resistor' ? part : { ...part, seriesOhms: change.seriesOhms },
      );
    case 'setCore':
      return editedPart(design, change.id, (part) => {
        if (part.kind !== 'coil') return part;
        const wound = { ...part };
        if (change.isMagnetic) wound.core = 'magnetic';
        else delete wound.core;
        return wound;
      });
    case 'coupleCoils': {
      const { partA, partB, coefficient } = change;
      const others = design.couplings.filter(
        (one) => ![one.partA, one.partB].every((id) => id === partA || id === partB),
      );
      return {
        ...design,
        couplings: coefficient === 0 ? others : [...others, { partA, partB, coefficient }],
      };
    }
    case 'setAmplifier':
      return { ...design, amplifier: change.amplifier };
    case 'setTerminals':
      return change.terminals.length === 0
        ? design
        : { ...design, terminals: change.terminals, isJoined: change.isJoined };
    case 'setSwitch':
      return {
        ...design,
        switches: design.switches.some(({ id }) => id === change.switch.id)
          ? edited(design.switches, change.switch.id, () => change.switch)
          : [...design.switches, change.switch],
      };
    case 'removeSwitch':
      return { ...design, switches: without(design.switches, change.id) };
    case 'turnSwitch':
      return turned(design, change.id, change.positionId);
    case 'setListeningDistance':
      return { ...design, listeningDistanceMm: change.distanceMm };
    case 'answer':
      return { ...design, brief: { ...design.brief, ...change.set } };
    case 'setTarget':
      return { ...design, target: change.target };
    case 'setDriverSheet':
      return {
        ...design,
        drivers: edited(design.drivers, change.id, (driver) => ({
          ...driver,
          sheet: { ...driver.sheet, ...change.set },
        })),
      };
    case 'setPromise': {
      const { entry } = change;
      return design.promises.some(({ id }) => id === entry.id)
        ? { ...design, promises: edited(design.promises, entry.id, () => entry) }
        : { ...design, promises: [...design.promises, entry] };
    }
    case 'removePromise':
      return { ...design, promises: without(design.promises, change.id) };
    case 'setVariant':
      return { ...design, variant: change.variant };
    case 'replaceDesign':
      return change.design;
  }
}

/** The design with another part in the place of one; a switch lets go of one that becomes another kind. */
function replaced(design: Design, part: Part): Design {
  const next = editedPart(design, part.id, () => part);
  const before = partsOf(design).find(({ id }) => id === part.id);
  return before?.kind === part.kind
    ? next
    : { ...next, switches: next.switches.map((one) => withoutMember(one, 'part', part.id)) };
}

/** The design with new values; parts that are tied to one of them follow. */
function withValues(design: Design, values: ReadonlyMap<string, PartSetting>): Design {
  const settingOf = ({ id, fit: { tie } }: Part): PartSetting | undefined => {
    const own = values.get(id);
    if (tie === null || own) return own;
    const other = values.get(tie.partId);
    return other && { value: other.value * tie.ratio, seriesOhms: null };
  };
  return editedParts(design, (part) => {
    const setting = settingOf(part);
    return setting ? withSetting(part, setting) : part;
  });
}

function withSetting(part: Part, { value, seriesOhms }: PartSetting): Part {
  const set = withPartValue(part, value);
  return seriesOhms === null || set.kind === 'resistor' ? set : { ...set, seriesOhms };
}

/** The design with no driver using a measurement. */
const detached = (design: Design, measurementId: string): Design => ({
  ...design,
  drivers: design.drivers.map((driver) => ({
    ...driver,
    responseId: driver.responseId === measurementId ? null : driver.responseId,
    impedanceId: driver.impedanceId === measurementId ? null : driver.impedanceId,
    offAxisIds: driver.offAxisIds.filter((id) => id !== measurementId),
    fitting:
      driver.fitting.secondId === measurementId
        ? { ...driver.fitting, secondId: null }
        : driver.fitting,
  })),
});

/** Letters of the reference designation, IEC 81346-2 practice for these three: R, L, C. */
const letters: Readonly<Record<PartKind, string>> = { resistor: 'R', coil: 'L', capacitor: 'C' };

/**
 * A new part with the lowest free number for its letter, and a middling value to begin from:
 * 4.7 Ω, 0.47 mH, 10 µF. A coil starts with the resistance that an air coil of that size has (about 0.3 Ω).
 */
export function newPart(design: Design, kind: PartKind, place: Place, id: string): Part {
  const used = new Set(partsOf(design).map((part) => part.name));
  let number = 1;
  while (used.has(`${letters[kind]}${number}`)) number++;
  const base = { ...plainPart, id, name: `${letters[kind]}${number}`, place };
  if (kind === 'resistor') return { ...base, kind, ohms: 4.7 };
  return kind === 'coil'
    ? { ...base, kind, henries: 0.47e-3, seriesOhms: 0.3 }
    : { ...base, kind, farads: 10e-6, seriesOhms: 0 };
}

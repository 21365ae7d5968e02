import type { MeasurementId } from '@/core/fields';
import type { Box } from '@/core/document/boxSchema';
import { withStatedLoss } from '@/core/document/partKinds';
import { inserted, tidied } from './arrange';
import type { Change } from './change';
import { mirroredBack, mirroring, withMirrors } from './mirror';
import {
  editedPart,
  replaced,
  swapped,
  withoutLooseCouplings,
  withoutLooseTies,
  withValues,
} from './partChanges';
import { withSoundPlaces } from '@/core/document/places';
import { offPanel, type Design, type Driver } from '@/core/document/schema';
import { turned, withoutLooseSettings } from './switches';

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

/**
 * The design after a change; the one given stays as it was, and unchanged branches are shared.
 * A change that names something that isn't there changes nothing.
 */
export function applyChange(design: Design, change: Change): Design {
  const sound = (next: Design) => withoutLooseTies(withoutLooseCouplings(next));
  if (change.type === 'replaceDesign') return sound(change.design);
  const next = withMirrors(design, changed(design, mirroredBack(design, change)));
  return withoutLooseSettings(withSoundPlaces(design, sound(next)));
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
        drivers: [...design.drivers, ...change.drivers.map(onPanelsOf(design))],
      };
    case 'removeDriver':
      return {
        ...design,
        drivers: without(design.drivers, change.id),
        boxes: design.boxes.map((box) =>
          box.driverIds.includes(change.id)
            ? { ...box, driverIds: box.driverIds.filter((id) => id !== change.id) }
            : box,
        ),
        ways: design.ways.map((way) =>
          way.ends.some(({ driverId }) => driverId === change.id)
            ? { ...way, ends: way.ends.filter(({ driverId }) => driverId !== change.id) }
            : way,
        ),
      };
    case 'editDriver':
      return {
        ...design,
        drivers: edited(design.drivers, change.id, (d) => editedDriver(design, d, change.set)),
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
    case 'mirrorWay':
      return {
        ...design,
        ways: edited(design.ways, change.id, (way) => mirroring(way, change.ofId)),
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
          const contents = change.contents.get(way.id);
          return contents ? { ...way, ...contents } : way;
        }),
      };
    case 'swapParts':
      return swapped(design, change.partA, change.partB);
    case 'editPart':
      return editedPart(design, change.id, (part) => ({ ...part, ...change.set }));
    case 'setPartValues':
      return withValues(design, change.values);
    case 'setPartValue':
      return withValues(design, new Map([[change.id, { value: change.value, seriesOhms: null }]]));
    case 'setPartLoss':
      return editedPart(design, change.id, (part) => withStatedLoss(part, change.seriesOhms));
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
        : {
            ...design,
            // A lone amplifier is the design's: nothing of its own is left to be overlooked.
            terminals:
              change.terminals.length > 1
                ? change.terminals
                : change.terminals.map((pair) => ({ ...pair, outputOhms: undefined })),
            isJoined: change.isJoined,
          };
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
    case 'setPanel': {
      const { panel } = change;
      return design.panels.some(({ id }) => id === panel.id)
        ? { ...design, panels: edited(design.panels, panel.id, () => panel) }
        : { ...design, panels: [...design.panels, panel] };
    }
    case 'removePanel':
      return {
        ...design,
        panels: without(design.panels, change.id),
        drivers: design.drivers.map((driver) =>
          driver.mounting.panelId === change.id ? offPanel(driver) : driver,
        ),
      };
    case 'setBox':
      return withBox(design, change.box);
    case 'removeBox':
      return {
        ...design,
        boxes: without(design.boxes, change.id).map((box) =>
          box.insideId === change.id ? { ...box, insideId: null } : box,
        ),
      };
    case 'layOutBaffle':
      return {
        ...design,
        panels: [...change.panels],
        drivers: design.drivers.map((driver) => {
          const place = change.places.get(driver.id);
          return place
            ? editedDriver(design, driver, { position: { ...driver.position, ...place } })
            : driver;
        }),
      };
    case 'setListeningDistance':
      return { ...design, listeningDistanceMm: change.distanceMm };
    case 'setHeights':
      return { ...design, ...change.set };
    case 'setSurroundings':
      return { ...design, surroundings: change.surroundings };
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

/** A box among the others: a driver is in one box that is in use. */
function withBox(design: Design, box: Box): Design {
  const rivals = design.boxes.map((other) =>
    other.isUsed && box.isUsed && other.driverIds.some((id) => box.driverIds.includes(id))
      ? { ...other, isUsed: false }
      : other,
  );
  return {
    ...design,
    boxes: design.boxes.some(({ id }) => id === box.id)
      ? edited(rivals, box.id, () => box)
      : [...rivals, box],
  };
}

/**
 * A driver after an edit. What is timed in common holds the depth at which it was measured: a
 * change of depth is a move away from there, and remembered as one. Its place across the baffle is
 * a statement until it was moved once, or is known with the baffle that it was measured on. Another
 * response was measured where the driver is.
 */
function editedDriver(design: Design, driver: Driver, set: Partial<Omit<Driver, 'id'>>): Driver {
  const next = { ...driver, ...set };
  if (set.measuredAt !== undefined) return next;
  if (set.responseId !== undefined && set.responseId !== driver.responseId)
    return { ...next, measuredAt: null };
  const response = design.measurements.find(({ id }) => id === driver.responseId);
  const isOnKnownBaffle = response?.measuredOn.kind === 'baffle';
  const isElsewhere = (['xMm', 'yMm', 'zMm'] as const).some(
    (axis) => (axis === 'zMm' || isOnKnownBaffle) && next.position[axis] !== driver.position[axis],
  );
  const isMoved =
    driver.measuredAt === null && isElsewhere && response?.microphone.commonTiming === true;
  return isMoved ? { ...next, measuredAt: driver.position } : next;
}

/** Takes drivers from elsewhere off panels that are not here. */
const onPanelsOf =
  ({ panels }: Design) =>
  (driver: Driver): Driver =>
    panels.some(({ id }) => id === driver.mounting.panelId) ? driver : offPanel(driver);

/** The design with no driver using a measurement. */
const detached = (design: Design, measurementId: MeasurementId): Design => ({
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

import type { BoxId, DriverId, MeasurementId, PanelId, PartId, WayId } from '@/core/fields';
import type { RailContents } from './arrange';
import type { Surroundings } from '@/core/document/surroundingsSchema';
import type { Panel } from '@/core/document/baffleSchema';
import type { Box } from '@/core/document/boxSchema';
import type { Brief, DriverSheet, PromiseEntry, Target } from '@/core/document/briefSchema';
import type {
  Bridge,
  Design,
  DesignSwitch,
  Driver,
  Measurement,
  Part,
  Way,
} from '@/core/document/schema';

/** Everything that can be done to a design, as data. Nothing else changes one. */
export type Change =
  | { readonly type: 'renameDesign'; readonly name: string }
  | { readonly type: 'addMeasurements'; readonly measurements: readonly Measurement[] }
  | { readonly type: 'removeMeasurement'; readonly id: MeasurementId }
  | {
      readonly type: 'editMeasurement';
      readonly id: MeasurementId;
      readonly set: Partial<
        Pick<
          Measurement,
          | 'name'
          | 'kind'
          | 'microphone'
          | 'driveVolts'
          | 'angle'
          | 'measuredOn'
          | 'inBox'
          | 'recipe'
        >
      >;
    }
  /** The same edit to many: a recipe copied, a folder's microphone stated. */
  | {
      readonly type: 'editMeasurements';
      readonly ids: readonly MeasurementId[];
      readonly set: Partial<
        Pick<Measurement, 'microphone' | 'driveVolts' | 'measuredOn' | 'inBox' | 'recipe'>
      >;
    }
  | { readonly type: 'addDriver'; readonly driver: Driver }
  /** Drivers from elsewhere, with the measurements that they name. */
  | {
      readonly type: 'bringDrivers';
      readonly drivers: readonly Driver[];
      readonly measurements: readonly Measurement[];
    }
  | { readonly type: 'removeDriver'; readonly id: DriverId }
  | {
      readonly type: 'editDriver';
      readonly id: DriverId;
      readonly set: Partial<Omit<Driver, 'id'>>;
    }
  | { readonly type: 'addWay'; readonly way: Way }
  | { readonly type: 'removeWay'; readonly id: WayId }
  | {
      readonly type: 'editWay';
      readonly id: WayId;
      readonly set: Partial<
        Pick<Way, 'name' | 'from' | 'ends' | 'endsJoin' | 'polarity' | 'target'>
      >;
    }
  /** Makes a way's parts always those of another; null lets it be independent with what it has. */
  | { readonly type: 'mirrorWay'; readonly id: WayId; readonly ofId: WayId | null }
  | {
      readonly type: 'addPart';
      readonly wayId: WayId;
      readonly index: number;
      readonly part: Part;
    }
  | { readonly type: 'removePart'; readonly id: PartId }
  | { readonly type: 'replacePart'; readonly part: Part }
  /** What is connected to some ways, arranged anew (`arrange.ts`), by the ids of these. */
  | { readonly type: 'arrangeWays'; readonly contents: ReadonlyMap<WayId, RailContents> }
  | { readonly type: 'addBridge'; readonly bridge: Bridge }
  | {
      readonly type: 'moveBridge';
      readonly partId: PartId;
      readonly set: Partial<Pick<Bridge, 'a' | 'b'>>;
    }
  /** Two parts change places; each keeps its value and its name. */
  | { readonly type: 'swapParts'; readonly partA: PartId; readonly partB: PartId }
  | {
      readonly type: 'editPart';
      readonly id: PartId;
      readonly set: Partial<Pick<Part, 'isOff' | 'isLocked' | 'fit'>>;
    }
  /**
   * Values of several parts at once, by id, with their losses where these follow: what a fit found.
   */
  | { readonly type: 'setPartValues'; readonly values: ReadonlyMap<PartId, PartSetting> }
  | { readonly type: 'setPartValue'; readonly id: PartId; readonly value: number }
  /** States a part's loss by hand; null lets it follow the value again, from what it is. */
  | { readonly type: 'setPartLoss'; readonly id: PartId; readonly seriesOhms: number | null }
  | { readonly type: 'setCore'; readonly id: PartId; readonly isMagnetic: boolean }
  /** Couples two coils, or changes how strongly; a coefficient of 0 parts them. */
  | {
      readonly type: 'coupleCoils';
      readonly partA: PartId;
      readonly partB: PartId;
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
  /** Puts a panel in the place of the one with the same id, or adds it. */
  | { readonly type: 'setPanel'; readonly panel: Panel }
  /** Drivers that are on it are on none then. */
  | { readonly type: 'removePanel'; readonly id: PanelId }
  /**
   * Puts a box in the place of the one with the same id, or adds it. In use, it takes the place of all
   * others that hold a driver of its own.
   */
  | { readonly type: 'setBox'; readonly box: Box }
  /** Those inside it are free-standing then. */
  | { readonly type: 'removeBox'; readonly id: BoxId }
  /** Places of several drivers and panels at once: what a search found. */
  | {
      readonly type: 'layOutBaffle';
      readonly panels: readonly Panel[];
      readonly places: ReadonlyMap<
        DriverId,
        { readonly xMm: number; readonly yMm: number; readonly zMm?: number }
      >;
    }
  | { readonly type: 'setListeningDistance'; readonly distanceMm: number }
  /** Heights above the floor; null while open. */
  | {
      readonly type: 'setHeights';
      readonly set: Partial<Pick<Design, 'axisHeightMm' | 'earHeightMm'>>;
    }
  /** The surroundings of the speaker. */
  | { readonly type: 'setSurroundings'; readonly surroundings: Surroundings }
  | { readonly type: 'answer'; readonly set: Partial<Brief> }
  | { readonly type: 'setTarget'; readonly target: Target }
  | { readonly type: 'setDriverSheet'; readonly id: DriverId; readonly set: Partial<DriverSheet> }
  /** Puts an entry in the place of the one with the same id, or adds it. */
  | { readonly type: 'setPromise'; readonly entry: PromiseEntry }
  | { readonly type: 'removePromise'; readonly id: string }
  /** Goes on with this state on another line of work. */
  | { readonly type: 'setVariant'; readonly variant: string }
  /** Puts another state in the place of this one: a version gone back to, a variant taken up. */
  | { readonly type: 'replaceDesign'; readonly design: Design };

/** What is connected to one way, arranged anew. */
export const arrangeWay = (wayId: WayId, contents: RailContents): Change => ({
  type: 'arrangeWays',
  contents: new Map([[wayId, contents]]),
});

/**
 * A part's value with its loss; null lets the loss follow the value as that of a part of the same
 * kind does.
 */
export interface PartSetting {
  readonly value: number;
  readonly seriesOhms: number | null;
}

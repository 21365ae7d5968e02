import { driversInBox } from './driversInBox';
import { airDensityKgpm3 } from '@/core/air/density';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import {
  portLengthM,
  type Air,
  type BoxDriver,
  type BoxSystem,
  type Enclosure,
  type Port,
} from '@/core/box/enclosure';
import { fillEffects } from '@/core/box/fill';
import type { PortEnd } from '@/core/box/portEnd';
import { together } from '@/core/box/together';
import type { Box, BoxPort, InBox } from '@/core/document/boxSchema';
import type { Design, Driver } from '@/core/document/schema';
import { motorOf } from '@/core/driver/motor';
import { netVolumeOf } from './netVolume';

/** Air of a design. */
export const airOf = ({ airTemperatureC }: Pick<Design, 'airTemperatureC'>): Air => ({
  density: airDensityKgpm3(airTemperatureC),
  speedOfSound: speedOfSoundMps(airTemperatureC),
});

/**
 * A driver as a box has it, by its figures.
 *
 * @returns null while one of fs, Qms, Qes, Vas, Sd and Re is missing
 */
export function boxDriverOf({ sheet }: Driver, airTemperatureC: number): BoxDriver | null {
  const { fsHz, qms, qes, sdCm2, reOhm, leMh } = sheet;
  const { vasLitres } = motorOf(sheet, airTemperatureC);
  if (fsHz === null || qms === null || qes === null) return null;
  if (sdCm2 === null || reOhm === null || vasLitres === null) return null;
  return {
    ...{ fsHz, qms, qes, reOhm, vasM3: vasLitres / 1000, sdM2: sdCm2 / 1e4 },
    ...{ leHenry: (leMh ?? 0) / 1000, second: null },
  };
}

/** Names of the figures that a driver lacks for a box. */
export function lackingFigures({ sheet }: Driver, airTemperatureC: number): string[] {
  const { vasLitres } = motorOf(sheet, airTemperatureC);
  const { fsHz: fs, qms: Qms, qes: Qes, sdCm2: Sd, reOhm: Re } = sheet;
  return Object.entries({ fs, Qms, Qes, Vas: vasLitres, Sd, Re }).flatMap(([name, value]) =>
    value === null ? [name] : [],
  );
}

/** Each bend stirs the air as a port does that is that much lossier (an estimate). */
const straightQp = 80;
const bendLoss = 0.25;

/** A port of the document as the circuit has it. */
export function portOf(port: BoxPort): Port {
  const end = (kind: BoxPort['innerEnd']): PortEnd =>
    kind === 'flared' ? { flareM: port.flareMm / 1000 } : kind;
  return {
    count: port.count,
    lengthM: port.lengthMm / 1000,
    ends: [end(port.innerEnd), end(port.outerEnd)],
    qp: straightQp / (1 + bendLoss * port.bends),
    ...(port.shape === 'round'
      ? { diameterM: port.diameterMm / 1000 }
      : {
          slot: {
            widthM: port.slotWidthMm / 1000,
            heightM: port.slotHeightMm / 1000,
            isOnWall: port.isOnWall,
          },
        }),
  };
}

/** The air of a net volume with its fill, and its losses. */
export function filled({
  litres,
  fill,
  ql,
}: Pick<Box, 'fill' | 'ql'> & { readonly litres: number }) {
  const { volumeTimes, qa } = fillEffects[fill];
  return { volumeM3: (litres * volumeTimes) / 1000, ql, qa };
}

/** A box of the document as the circuit has it; null without any volume. */
export function enclosureOf(box: Box, design: Pick<Design, 'boxes' | 'drivers'>): Enclosure | null {
  if (box.kind === 'open-baffle') return { kind: 'open-baffle', pathM: box.pathMm / 1000 };
  if (box.kind === 'line') {
    const { segments, end } = box.pipe;
    const lengthMm = segments.reduce((sum, one) => sum + one.lengthMm, 0);
    return {
      ...{ kind: 'line', end, driverAtM: Math.min(box.pipe.driverAtMm, lengthMm) / 1000 },
      segments: segments.map((one) => ({
        ...{ lengthM: one.lengthMm / 1000, areaM2: one.areaCm2 / 1e4 },
        flowResistivity: one.flowResistivity,
        takesHeat: one.flowResistivity > 0,
      })),
    };
  }
  const { netLitres } = netVolumeOf(box, design);
  if (netLitres <= 0) return null;
  const losses = filled({ litres: netLitres, fill: box.fill, ql: box.ql });
  if (box.kind === 'sealed') return { kind: 'sealed', ...losses };
  if (box.kind === 'vented') return { kind: 'vented', ...losses, port: portOf(box.port) };
  const { count, fsHz, qms, vasLitres, sdCm2, addedMassG } = box.passive;
  return {
    ...{ kind: 'passive-radiator', ...losses },
    passive: {
      ...{ count, fsHz, qms, vasM3: vasLitres / 1000, sdM2: sdCm2 / 1e4 },
      addedMassKg: addedMassG / 1000,
    },
  };
}

/** A box with its drivers as one, all at one voltage. */
export interface BoxedDrivers {
  readonly system: BoxSystem;
  /** Drivers that are one in it: each gives its share of the level, and has that many times the ohms. */
  readonly count: number;
}

/**
 * @param figuresOf what is known of a driver; by default its figures in free air
 * @returns null without a driver whose figures are known, or without volume
 */
export function boxedDrivers(
  box: Box,
  design: Pick<Design, 'boxes' | 'drivers' | 'airTemperatureC'>,
  figuresOf = (driver: Driver) => boxDriverOf(driver, design.airTemperatureC),
): BoxedDrivers | null {
  const own = driversInBox(box, design.drivers);
  const driver = own.map(figuresOf).find((one) => one !== null);
  const enclosure = enclosureOf(box, design);
  if (!driver || !enclosure) return null;
  const air = airOf(design);
  return {
    system: { driver: together(driver, own.length, 'parallel'), enclosure, air },
    count: own.length,
  };
}

/** The box that a measurement holds, for one driver; null where nobody said. */
export function measuredEnclosure(inBox: InBox, air: Air): Enclosure | null {
  switch (inBox.kind) {
    case 'unknown':
      return null;
    // Air that no wall holds: so large a box adds nothing.
    case 'free':
      return { kind: 'sealed', volumeM3: 1e6, ql: null, qa: null };
    case 'sealed':
      return { kind: 'sealed', ...filled(inBox) };
    case 'vented': {
      const { volumeM3, ql, qa } = filled(inBox);
      // Any straight port of this tuning: an area, and the length that goes with it.
      const shape: Port = {
        ...{ count: 1, diameterM: 0.07, lengthM: 0, qp: straightQp },
        ends: ['flanged', 'free'],
      };
      const port = { ...shape, lengthM: portLengthM(volumeM3, inBox.tunedHz, shape, air) };
      return { kind: 'vented', volumeM3, ql, qa, port };
    }
  }
}

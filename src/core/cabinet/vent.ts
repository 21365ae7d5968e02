import { driversInBox } from './driversInBox';
import {
  effectiveLengthM,
  pipeResonanceHz,
  portAreaM2,
  portLengthM,
  tuningHz,
  type Air,
} from '@/core/box/enclosure';
import { passiveBranch } from '@/core/box/acoustics';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Box, BoxPort } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { enclosureOf, portOf } from './enclosureOf';
import { panelOfPortMm } from './netVolume';
import { insideOf } from './shell';

type Around = Pick<Design, 'boxes' | 'drivers'>;

/** Tuning of a box by its port or passive radiator, Hz; null where there is none. */
export function tunedToHz(box: Box, design: Around, air: Air): number | null {
  const enclosure = enclosureOf(box, design);
  if (enclosure?.kind === 'vented') return tuningHz(enclosure.volumeM3, enclosure.port, air);
  if (enclosure?.kind !== 'passive-radiator') return null;
  const own = enclosure.volumeM3 / (air.density * air.speedOfSound ** 2);
  const { mass, compliance } = passiveBranch(enclosure.passive, air);
  return Math.sqrt((1 / own + 1 / compliance) / mass) / (2 * Math.PI);
}

/**
 * The box with its port of the length that tunes it; the room that the port takes is in it.
 *
 * @returns null where no port of this width tunes so high, or the box is full before it tunes so low
 */
export function withTuning(box: Box, hz: number, design: Around, air: Air): Box | null {
  let next = box;
  for (let k = 0; k < 30; k++) {
    const enclosure = enclosureOf(next, design);
    if (enclosure?.kind !== 'vented') return null;
    const lengthMm = 1000 * portLengthM(enclosure.volumeM3, hz, enclosure.port, air);
    if (lengthMm < 0 || lengthMm > 3000) return null;
    const moved = Math.abs(lengthMm - next.port.lengthMm);
    next = { ...next, port: { ...next.port, lengthMm } };
    if (moved < 1e-4)
      return { ...next, port: { ...next.port, lengthMm: Number(lengthMm.toFixed(1)) } };
  }
  return null;
}

/** How a port lies in its box. */
export interface VentFit {
  /** Room from its inner end to the wall behind, mm. */
  readonly clearanceMm: number;
  /**
   * What it takes: one diameter, or twice the height of a slot, whose air spreads one way only (common
   * practice).
   */
  readonly neededMm: number;
  /** What ports side by side take beyond the widest that the inside has, mm; 0 where they go in. */
  readonly tooWideMm: number;
  readonly fits: boolean;
}

/** The least that a port is across, mm. */
const acrossOf = (port: BoxPort): number =>
  port.shape === 'round' ? port.diameterMm : Math.min(port.slotWidthMm, port.slotHeightMm);

/**
 * Whether a port has the room that it needs. A straight one ends before the wall opposite its panel; each
 * bend lets it go on along the height.
 */
export function ventFit(box: Box): VentFit {
  const { port } = box;
  const inside = insideOf(box.shell);
  const acrossMm = acrossOf(port);
  const neededMm = port.shape === 'round' ? acrossMm : 2 * acrossMm;
  const insideMm = port.isOutside ? 0 : Math.max(0, port.lengthMm - panelOfPortMm(box));
  const roomMm = inside.depthMm + port.bends * Math.max(0, inside.heightMm - 2 * acrossMm);
  const clearanceMm = roomMm - insideMm;
  const widest =
    port.shape === 'round' ? port.count * (port.diameterMm + 2 * port.wallMm) : port.slotWidthMm;
  const tooWideMm = Math.max(0, widest - Math.max(inside.widthMm, inside.heightMm));
  return {
    ...{ clearanceMm, neededMm, tooWideMm },
    fits: clearanceMm >= neededMm && tooWideMm === 0,
  };
}

/** What a port is besides its tuning. */
export function ventFacts(port: BoxPort, air: Air) {
  const own = portOf(port);
  return {
    areaCm2: 1e4 * portAreaM2(own),
    effectiveMm: 1000 * effectiveLengthM(own),
    /** First resonance of the air in it, as in an organ pipe. */
    pipeHz: pipeResonanceHz(own, air),
  };
}

/**
 * Peak air speed up to which ports stay quiet, m/s: about 5 % of that of sound for plain ends, up to 22
 * where both are flared by a sixth of what the port is across, less for smaller flares (common practice).
 */
export function quietMps(port: BoxPort): number {
  const areBothFlared = port.innerEnd === 'flared' && port.outerEnd === 'flared';
  return areBothFlared ? 17 + 5 * Math.min(1, (6 * port.flareMm) / acrossOf(port)) : 17;
}

/**
 * Area of ports that stays quiet up to the whole excursion of a box's drivers, m²: 0.8·fb·Vd (Small 1973);
 * 0 while Sd or Xmax are not known.
 */
export function quietAreaM2(box: Box, { drivers }: Pick<Design, 'drivers'>, hz: number): number {
  const displaced = driversInBox(box, drivers).map(
    ({ sheet }) => ((sheet.sdCm2 ?? 0) / 1e4) * ((sheet.xmaxMm ?? 0) / 1e3),
  );
  return 0.8 * hz * displaced.reduce((sum, one) => sum + one, 0);
}

/** Between a port and a driver's frame, mm: wood that holds both. */
const woodMm = 15;

/** Drivers on the front, as a port sees them: above the bottom of the inside, with their frames. */
function framesOf(box: Box, { drivers, panels }: Pick<Design, 'drivers' | 'panels'>) {
  return drivers.flatMap((driver) => {
    const panel = panels.find(({ id }) => id === driver.mounting.panelId);
    if (!panel) return [];
    const { frameMm, cutoutMm } = driver.mounting;
    const { sdCm2 } = driver.sheet;
    // Without its frame the cone's own size is the least that it takes.
    const across = frameMm ?? cutoutMm ?? 2.3 * Math.sqrt(((sdCm2 ?? 0) * 100) / Math.PI);
    const upMm = driver.position.yMm - boundsOf(panel.corners).bottomMm - box.shell.wallMm;
    return [{ name: driver.name, upMm, halfMm: across / 2 }];
  });
}

/** Half the height of a port's mouth, its wall included, mm. */
const halfPortMm = ({ shape, diameterMm, slotHeightMm, wallMm }: BoxPort): number =>
  (shape === 'round' ? diameterMm : slotHeightMm) / 2 + wallMm;

/** Name of a driver whose place on the front a port takes; null where it takes none. */
export function portHits(box: Box, design: Pick<Design, 'drivers' | 'panels'>): string | null {
  if (box.kind !== 'vented' || box.port.side !== 'front') return null;
  const half = halfPortMm(box.port);
  const hit = framesOf(box, design).find(
    ({ upMm, halfMm }) => Math.abs(upMm - box.port.heightMm) < halfMm + half + woodMm,
  );
  return hit?.name ?? null;
}

/**
 * The box with its port where no driver is: on the front where there is room in the middle of its width, as
 * near to the middle of the height as may be, where the longest standing wave is silent; else on the rear.
 */
export function withPortClear(box: Box, design: Pick<Design, 'drivers' | 'panels'>): Box {
  const { heightMm } = insideOf(box.shell);
  const half = halfPortMm(box.port);
  const at = (upMm: number): Box => ({ ...box, port: { ...box.port, heightMm: upMm } });
  const places: number[] = [];
  for (let mm = half + woodMm; mm <= heightMm - half - woodMm; mm += 5) places.push(Math.round(mm));
  const free = places.filter((mm) => portHits(at(mm), design) === null);
  const nearest = free.reduce<number | null>(
    (best, mm) =>
      best === null || Math.abs(mm - heightMm / 2) < Math.abs(best - heightMm / 2) ? mm : best,
    null,
  );
  return nearest === null
    ? { ...box, port: { ...box.port, side: 'rear', heightMm: Math.round(heightMm / 2) } }
    : at(nearest);
}

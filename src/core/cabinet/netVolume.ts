import { driversInBox } from './driversInBox';
import type { Box, BoxBrace, BoxPort } from '@/core/document/boxSchema';
import type { Design, Driver } from '@/core/document/schema';
import { dividersOf } from './line';
import { insideOf, outsideLitres, type InsideMm } from './shell';

/** Outside volume of the free-standing boxes in use, litres; null without any. */
export function outsideLitresOf(boxes: readonly Box[]): number | null {
  const standing = boxes.filter(
    ({ isUsed, insideId, kind }) => isUsed && insideId === null && kind !== 'open-baffle',
  );
  return standing.length === 0
    ? null
    : standing.reduce((sum, { shell }) => sum + outsideLitres(shell), 0);
}

/** Something that takes room in a box, litres. */
export interface Taken {
  readonly what: string;
  readonly litres: number;
}

export interface NetVolume {
  /** Between the walls, and what is left of it, litres; the latter is never below 0. */
  readonly grossLitres: number;
  readonly netLitres: number;
  readonly taken: readonly Taken[];
}

/** A driver is a cone with a magnet, no cylinder (common practice). */
const driverShare = 0.4;

/** Room that a driver takes behind the front, litres; 0 while its hole or depth is not known. */
export function driverLitres({ mounting }: Driver): number {
  const { cutoutMm, builtDepthMm } = mounting;
  return cutoutMm === null || builtDepthMm === null
    ? 0
    : (driverShare * (Math.PI / 4) * cutoutMm ** 2 * builtDepthMm) / 1e6;
}

/** Room that ports take in a box, litres; they begin behind the panel that they go through. */
export function portLitres(port: BoxPort, panelMm: number): number {
  if (port.isOutside) return 0;
  const insideMm = Math.max(0, port.lengthMm - panelMm);
  const { slotWidthMm, slotHeightMm, wallMm } = port;
  const areaMm2 =
    port.shape === 'round'
      ? (Math.PI / 4) * (port.diameterMm + 2 * wallMm) ** 2
      : slotWidthMm * (slotHeightMm + wallMm * (port.isOnWall ? 1 : 2));
  return (port.count * areaMm2 * insideMm) / 1e6;
}

/** Sides of a brace's board, mm. */
export function braceBoardMm({ across }: Pick<BoxBrace, 'across'>, inside: InsideMm) {
  const { widthMm, heightMm, depthMm } = inside;
  if (across === 'height') return [widthMm, depthMm] as const;
  return across === 'width' ? ([heightMm, depthMm] as const) : ([widthMm, heightMm] as const);
}

const braceLitres = (brace: BoxBrace, inside: InsideMm): number => {
  const [a, b] = braceBoardMm(brace, inside);
  return (a * b * brace.thicknessMm * (1 - brace.openShare)) / 1e6;
};

/** The panel that a port goes through, mm thick. */
export const panelOfPortMm = ({ shell, port }: Box): number =>
  port.side === 'front' ? shell.frontMm : shell.wallMm;

/** What a box holds: the room between its walls, less all that is in it. */
export function netVolumeOf(
  box: Box,
  { boxes, drivers }: Pick<Design, 'boxes' | 'drivers'>,
): NetVolume {
  const { shell, port } = box;
  const inside = insideOf(shell);
  const grossLitres = (inside.widthMm * inside.heightMm * inside.depthMm) / 1e6;
  const all: Taken[] = [
    ...driversInBox(box, drivers).map((driver) => ({
      what: driver.name,
      litres: driverLitres(driver),
    })),
    ...(box.kind === 'vented'
      ? [
          {
            what: port.count > 1 ? 'ports' : 'port',
            litres: portLitres(port, panelOfPortMm(box)),
          },
        ]
      : []),
    ...shell.braces.map((brace, b) => ({
      what: `brace ${b + 1}`,
      litres: braceLitres(brace, inside),
    })),
    ...(box.kind === 'line'
      ? dividersOf(box.pipe, shell).map(({ lengthMm, widthMm }, d) => ({
          what: `divider ${d + 1}`,
          litres: (lengthMm * widthMm * shell.wallMm) / 1e6,
        }))
      : []),
    ...boxes
      .filter(({ insideId, isUsed }) => insideId === box.id && isUsed)
      .map(({ name, shell: own }) => ({ what: name, litres: outsideLitres(own) })),
    { what: 'network, boards, fill', litres: shell.takenLitres },
  ];
  const taken = all.filter(({ litres }) => litres > 0);
  const netLitres = taken.reduce((left, { litres }) => left - litres, grossLitres);
  return { grossLitres, netLitres: Math.max(0, netLitres), taken };
}

/**
 * The shell with another depth, so that a box holds a net volume; width and height stay.
 *
 * @returns null where nothing but an inside of no width or height is left
 */
export function withNetLitres(
  box: Box,
  litres: number,
  design: Pick<Design, 'boxes' | 'drivers'>,
): Box | null {
  const { widthMm, heightMm } = insideOf(box.shell);
  if (widthMm <= 0 || heightMm <= 0) return null;
  let next = box;
  // Braces grow along with the depth, so that it takes a few rounds.
  for (let k = 0; k < 12; k++) {
    const { grossLitres, taken } = netVolumeOf(next, design);
    const net = taken.reduce((left, one) => left - one.litres, grossLitres);
    const byMm = ((litres - net) * 1e6) / (widthMm * heightMm);
    const depthMm = Math.min(3000, Math.max(60, next.shell.depthMm + byMm));
    next = { ...next, shell: { ...next.shell, depthMm } };
    if (Math.abs(byMm) < 1e-3) break;
  }
  return { ...next, shell: { ...next.shell, depthMm: Number(next.shell.depthMm.toFixed(1)) } };
}

import type { Panel } from '@/core/document/baffleSchema';
import { boundsOf } from '@/core/document/baffleSchema';
import type { Box, BoxPort } from '@/core/document/boxSchema';
import type { Design, Driver } from '@/core/document/schema';
import { driversInWood } from './driverRoom';
import { coneAround } from './neck';

/** Something that is cut into a board; mm from its lower left corner, seen from outside. */
export interface BoardHole {
  readonly what: string;
  readonly kind: 'driver' | 'port' | 'passive' | 'terminals';
  readonly xMm: number;
  readonly yMm: number;
  /** Of a round hole; null for a slot, and while it is not known. */
  readonly diameterMm: number | null;
  /** Of a slot. */
  readonly slotMm: { readonly width: number; readonly height: number } | null;
  /** What is let into the face around it; null where nothing is, or it is not known. */
  readonly recess: { readonly diameterMm: number; readonly depthMm: number } | null;
  /** Outside of what stands on the face around it, mm. */
  readonly frameMm: number | null;
}

/** How deep the recess of a driver is, mm; null where there is none, or not enough is known. */
export function recessDepthMm({
  mounting: { kind, byMm, flangeMm },
}: Pick<Driver, 'mounting'>): number | null {
  if (kind === 'recessed') return byMm + (flangeMm ?? 0);
  if (flangeMm === null) return null;
  const depth = kind === 'proud' ? flangeMm - byMm : kind === 'behind' ? 0 : flangeMm;
  return depth > 0 ? depth : null;
}

function driverHole(driver: Driver, xMm: number, yMm: number): BoardHole {
  const { cutoutMm, frameMm } = driver.mounting;
  const depthMm = recessDepthMm(driver);
  const isLetIn = depthMm !== null && frameMm !== null;
  return {
    ...{ what: driver.name, kind: 'driver', xMm, yMm, diameterMm: cutoutMm, slotMm: null },
    recess: isLetIn ? { diameterMm: frameMm, depthMm } : null,
    frameMm: isLetIn ? null : frameMm,
  };
}

/** Ports of a box through one of its sides, from the lower left corner of that side as a whole. */
export function portHoles({ kind, port, shell }: Box, side: BoxPort['side']): BoardHole[] {
  if (kind !== 'vented' || port.side !== side) return [];
  const { count, shape, diameterMm, wallMm, slotWidthMm, slotHeightMm, outerEnd, flareMm } = port;
  const isRound = shape === 'round';
  return Array.from({ length: count }, (_, k): BoardHole => ({
    what: count > 1 ? `port ${k + 1}` : 'port',
    kind: 'port',
    // Side by side, evenly over the width.
    xMm: (shell.widthMm * (k + 1)) / (count + 1),
    yMm: shell.wallMm + port.heightMm,
    diameterMm: isRound ? diameterMm + 2 * wallMm : null,
    slotMm: isRound ? null : { width: slotWidthMm, height: slotHeightMm },
    recess: null,
    frameMm: isRound && outerEnd === 'flared' ? diameterMm + 2 * Math.max(flareMm, wallMm) : null,
  }));
}

/**
 * What goes through the front of a panel, from the lower left corner of its bounds: its drivers, the ports
 * drawn on it, and those of the boxes in use behind it.
 */
export function panelHoles(
  { drivers, boxes }: Pick<Design, 'drivers' | 'boxes'>,
  panel: Panel,
): BoardHole[] {
  const { leftMm, bottomMm, widthMm, heightMm } = boundsOf(panel.corners);
  // What sits in the neck of a cone goes through the hole of that.
  const own = drivers.filter(
    (driver) => driver.mounting.panelId === panel.id && !coneAround(driver, drivers),
  );
  const drawn = panel.ports.map((port, p): BoardHole => ({
    ...{ what: `port ${p + 1}`, kind: 'port', diameterMm: port.diameterMm },
    ...{ xMm: port.xMm - leftMm, yMm: port.yMm - bottomMm },
    ...{ slotMm: null, recess: null, frameMm: null },
  }));
  const ofBoxes = boxes
    .filter(
      ({ isUsed, insideId, driverIds }) =>
        isUsed && insideId === null && own.some(({ id }) => driverIds.includes(id)),
    )
    .flatMap((box) => portHoles(box, 'front').map(from(box.shell, { widthMm, heightMm })));
  return [
    ...own.map((driver) =>
      driverHole(driver, driver.position.xMm - leftMm, driver.position.yMm - bottomMm),
    ),
    // The same port may be drawn on the Baffle as well: the box knows its tube.
    ...drawn.filter((hole) => !ofBoxes.some((other) => isSame(hole, other))),
    ...ofBoxes,
  ];
}

/** Middles that are so near each other are one hole, mm. */
const sameWithinMm = 10;
const isSame = (a: BoardHole, b: BoardHole) =>
  Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm) < sameWithinMm;

interface Face {
  readonly widthMm: number;
  readonly heightMm: number;
}

/** A place on a face of one size on one of another: as far from the middle of the width and the top. */
const from =
  (one: Face, other: Face) =>
  (hole: BoardHole): BoardHole => ({
    ...hole,
    xMm: hole.xMm + (other.widthMm - one.widthMm) / 2,
    yMm: hole.yMm + other.heightMm - one.heightMm,
  });

/** Holes of a box, on its faces as a whole, before joints make boards of them. */
export interface BoxHoles {
  readonly front: readonly BoardHole[];
  readonly rear: readonly BoardHole[];
  /** Drivers of it that stand on no front: their place is not known. */
  readonly placeless: readonly string[];
}

/** Where the terminals are put where nothing is in the way, above the bottom outside, mm. */
const terminalsUpMm = 100;
/** Between the middle of the terminals and the edge of another hole (a usual cup is 80 mm wide). */
const terminalsRoomMm = 60;

/** What is cut into the boards of a box, besides joints. */
export function boxHoles(design: Pick<Design, 'drivers' | 'boxes' | 'panels'>, box: Box): BoxHoles {
  const inWood = driversInWood(box, design);
  const panelId = inWood.find(({ mounting }) => mounting.panelId !== null)?.mounting.panelId;
  const panel = design.panels.find(({ id }) => id === panelId);
  const own = { ...box, isUsed: true };
  const boxes = [
    own,
    ...design.boxes.filter(
      ({ id, driverIds }) =>
        id !== box.id && !driverIds.some((driverId) => box.driverIds.includes(driverId)),
    ),
  ];
  const ofPanel = panel
    ? panelHoles({ drivers: design.drivers, boxes }, panel).map(
        from(boundsOf(panel.corners), box.shell),
      )
    : portHoles(box, 'front');
  // A chamber has the holes of its own drivers alone.
  const names = new Set(inWood.map(({ name }) => name));
  const front = ofPanel.filter(({ kind, what }) => kind !== 'driver' || names.has(what));
  const open = box.kind === 'open-baffle';
  const openings = open ? [] : [...portHoles(box, 'rear'), ...passiveHoles(box)];
  return {
    front,
    rear: open ? [] : [...openings, terminalsClearOf(openings, box)],
    placeless: inWood.filter(({ mounting }) => mounting.panelId === null).map(({ name }) => name),
  };
}

/** A passive cone's hole over the diameter of its cone, surround and basket (common practice). */
const passiveTimes = 1.15;

/** Passive cones, one above the other in the middle of the rear. */
function passiveHoles({ kind, passive, shell }: Box): BoardHole[] {
  if (kind !== 'passive-radiator') return [];
  const acrossMm = passiveTimes * 2 * Math.sqrt((passive.sdCm2 * 100) / Math.PI);
  return Array.from({ length: passive.count }, (_, k): BoardHole => ({
    what: `passive radiator${passive.count > 1 ? ` ${k + 1}` : ''}, about: cut by the one at hand`,
    kind: 'passive',
    xMm: shell.widthMm / 2,
    yMm: (shell.heightMm * (k + 1)) / (passive.count + 1),
    diameterMm: Math.round(acrossMm),
    ...{ slotMm: null, recess: null, frameMm: null },
  }));
}

/** Terminals in the middle of the rear, as low as the openings leave room for them. */
function terminalsClearOf(openings: readonly BoardHole[], { shell }: Box): BoardHole {
  const at = (yMm: number): BoardHole => ({
    ...{ what: 'terminals, size by those at hand', kind: 'terminals' },
    ...{ xMm: shell.widthMm / 2, yMm, diameterMm: null, slotMm: null, recess: null, frameMm: null },
  });
  const lowest = Math.min(terminalsUpMm, shell.heightMm / 2);
  for (let up = lowest; up < shell.heightMm - terminalsRoomMm; up += 10)
    if (
      openings.every(
        (one) =>
          Math.hypot(one.xMm - shell.widthMm / 2, one.yMm - up) >
          acrossMm(one) / 2 + terminalsRoomMm,
      )
    )
      return at(up);
  return at(lowest);
}

/** The widest that a hole takes of the face of its board, mm; 0 while it is not known. */
export const acrossMm = ({ diameterMm, slotMm, recess, frameMm }: BoardHole): number =>
  Math.max(
    diameterMm ?? 0,
    recess?.diameterMm ?? 0,
    frameMm ?? 0,
    slotMm ? Math.max(slotMm.width, slotMm.height) : 0,
  );

/** Half of what a hole cuts of the face of its board, to the side and up, mm. */
export function halvesMm({ diameterMm, slotMm, recess }: BoardHole): {
  readonly x: number;
  readonly y: number;
} {
  const round = Math.max(diameterMm ?? 0, recess?.diameterMm ?? 0) / 2;
  return { x: slotMm ? slotMm.width / 2 : round, y: slotMm ? slotMm.height / 2 : round };
}

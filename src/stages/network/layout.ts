import { partsIn, positionsOf, type Branch } from '@/core/design/positions';
import type { Part, Way } from '@/core/design/schema';

/** Where everything of the drawing stands, in CSS pixels. The drawing lays itself out from what stands on the rails. */
export interface RailLayout {
  readonly widthPx: number;
  readonly heightPx: number;
  /** The bus from the amplifier from which all rails start. */
  readonly busX: number;
  readonly cellPx: number;
  readonly rows: readonly RailRow[];
}

/** A part on the drawing: its symbol lies along the rail, or hangs toward the return. */
export interface PlacedPart {
  readonly part: Part;
  readonly x: number;
  readonly y: number;
  readonly isUpright: boolean;
}

export interface RailRow {
  readonly way: Way;
  readonly railY: number;
  readonly returnY: number;
  readonly parts: readonly PlacedPart[];
  /** All wires but the return, as one SVG path. */
  readonly wires: string;
  /** Junctions. */
  readonly dots: readonly { readonly x: number; readonly y: number }[];
  /** Places between parts where one can be added: index in the way's list. */
  readonly gaps: readonly { readonly index: number; readonly x: number }[];
  readonly driverX: number;
}

const aboveRailPx = 40;
const belowReturnPx = 16;
/** From the rail to the return, for each symbol that hangs in a row. */
const dropPx = 60;
/** Between lines that run in parallel along the rail. */
const lanePx = 56;
const busX = 44;
const driverRoomPx = 150;
const widestCellPx = 96;
const narrowestCellPx = 70;
/** Half the length of a symbol, with its leads. */
export const symbolHalfPx = 22;
/** From the edge of a group to where its lines part. */
const forkPx = 6;

/** Cells along the rail and symbols across it that a branch needs when it lies along the rail. */
interface Extent {
  readonly along: number;
  readonly across: number;
}

function extentOf(branch: Branch, isUpright: boolean): Extent {
  if (branch.kind === 'part') return { along: 1, across: 1 };
  const members = branch.members.map((member) => extentOf(member, isUpright));
  const sum = (key: keyof Extent) => members.reduce((total, one) => total + one[key], 0);
  const most = (key: keyof Extent) => Math.max(...members.map((one) => one[key]));
  // Members follow each other along the rail when they lie in series, or hang in parallel.
  return (branch.group.join === 'series') !== isUpright
    ? { along: sum('along'), across: most('across') }
    : { along: most('along'), across: sum('across') };
}

interface Drawn {
  readonly parts: PlacedPart[];
  readonly wires: string[];
  readonly dots: { x: number; y: number }[];
}

/** Draws a branch that lies between two places on a line along the rail. */
function lay(branch: Branch, from: number, to: number, y: number, cellPx: number, drawn: Drawn) {
  if (branch.kind === 'part') {
    const x = (from + to) / 2;
    drawn.parts.push({ part: branch.part, x, y, isUpright: false });
    drawn.wires.push(`M${from} ${y}H${x - symbolHalfPx}M${x + symbolHalfPx} ${y}H${to}`);
    return;
  }
  const { group, members } = branch;
  if (group.join === 'series') {
    let x = from;
    members.forEach((member, i) => {
      const next = i === members.length - 1 ? to : x + extentOf(member, false).along * cellPx;
      lay(member, x, next, y, cellPx, drawn);
      x = next;
    });
    return;
  }
  const [left, right] = [from + forkPx, to - forkPx];
  let lane = y;
  members.forEach((member, i) => {
    lay(member, left, right, lane, cellPx, drawn);
    if (i < members.length - 1) lane += extentOf(member, false).across * lanePx;
  });
  drawn.wires.push(
    `M${from} ${y}H${left}M${right} ${y}H${to}M${left} ${y}V${lane}M${right} ${y}V${lane}`,
  );
  drawn.dots.push({ x: left, y }, { x: right, y });
}

/** Draws a branch that hangs between two heights, in a strip of the rail. */
function hang(
  branch: Branch,
  left: number,
  right: number,
  top: number,
  bottom: number,
  drawn: Drawn,
) {
  const x = (left + right) / 2;
  if (branch.kind === 'part') {
    const y = (top + bottom) / 2;
    drawn.parts.push({ part: branch.part, x, y, isUpright: true });
    drawn.wires.push(`M${x} ${top}V${y - symbolHalfPx}M${x} ${y + symbolHalfPx}V${bottom}`);
    return;
  }
  const { group, members } = branch;
  const extents = members.map((member) => extentOf(member, true));
  if (group.join === 'series') {
    const total = extents.reduce((sum, { across }) => sum + across, 0);
    let y = top;
    members.forEach((member, i) => {
      const next =
        i === members.length - 1 ? bottom : y + ((bottom - top) * extents[i].across) / total;
      hang(member, left, right, y, next, drawn);
      y = next;
    });
    return;
  }
  const total = extents.reduce((sum, { along }) => sum + along, 0);
  const centres: number[] = [];
  let at = left;
  members.forEach((member, i) => {
    const next = at + ((right - left) * extents[i].along) / total;
    hang(member, at, next, top + forkPx, bottom - forkPx, drawn);
    centres.push((at + next) / 2);
    at = next;
  });
  const [first, last] = [centres[0], centres[centres.length - 1]];
  drawn.wires.push(
    `M${x} ${top}V${top + forkPx}M${first} ${top + forkPx}H${last}`,
    `M${first} ${bottom - forkPx}H${last}M${x} ${bottom - forkPx}V${bottom}`,
  );
}

/**
 * @param ways rails from top to bottom
 * @param roomPx width on offer; the drawing grows beyond it when there are too many parts
 */
export function layOutRails(ways: readonly Way[], roomPx: number): RailLayout {
  const placed = ways.map((way) => ({
    way,
    positions: positionsOf(way).map((position) => ({
      ...position,
      extent: extentOf(position.branch, position.place === 'shunt'),
    })),
  }));
  const lengths = placed.map(({ positions }) =>
    positions.reduce((sum, { extent }) => sum + extent.along, 0),
  );
  const most = Math.max(1, ...lengths);
  const railRoom = roomPx - busX - driverRoomPx - 40;
  const cellPx = Math.max(narrowestCellPx, Math.min(widestCellPx, railRoom / (most + 0.5)));
  const driverX = busX + 30 + cellPx * (most + 0.5);
  let y = 0;
  const rows = placed.map(({ way, positions }): RailRow => {
    const railY = y + aboveRailPx;
    const acrossOf = (place: 'series' | 'shunt') =>
      Math.max(
        1,
        ...positions.filter((one) => one.place === place).map((one) => one.extent.across),
      );
    const returnY =
      railY + Math.max(acrossOf('shunt') * dropPx, (acrossOf('series') - 1) * lanePx + dropPx);
    y = returnY + belowReturnPx;
    const drawn: Drawn = { parts: [], wires: [], dots: [] };
    const gaps: { index: number; x: number }[] = [];
    let x = busX + 24;
    drawn.wires.push(`M${busX} ${railY}H${x}`);
    for (const { place, branch, from, extent } of positions) {
      const next = x + extent.along * cellPx;
      gaps.push({ index: from, x });
      if (place === 'series') lay(branch, x, next, railY, cellPx, drawn);
      else {
        hang(branch, x, next, railY, returnY, drawn);
        drawn.wires.push(`M${x} ${railY}H${next}`);
        drawn.dots.push({ x: (x + next) / 2, y: railY });
      }
      x = next;
    }
    gaps.push({ index: way.parts.length, x });
    drawn.wires.push(`M${x} ${railY}H${driverX - 12}`);
    return { way, railY, returnY, gaps, driverX, ...drawn, wires: drawn.wires.join('') };
  });
  return {
    widthPx: Math.max(roomPx, driverX + driverRoomPx),
    heightPx: Math.max(200, y + 22),
    busX,
    cellPx,
    rows,
  };
}

/** Name of what stands at a gap of a way. */
export const nameAt = (way: Way, index: number): string =>
  positionsOf(way)
    .filter(({ from }) => from === index)
    .map(({ branch }) => partsIn(branch)[0].name)
    .at(0) ?? 'the driver';

import type { Branch } from '@/core/document/positions';
import type { Part } from '@/core/document/schema';

/** A part on the drawing: its symbol lies along the rail, or hangs toward the return. */
export interface PlacedPart {
  readonly part: Part;
  readonly x: number;
  readonly y: number;
  readonly isUpright: boolean;
}

/** Between lines that run in parallel along the rail. */
export const lanePx = 56;
/** Half the length of a symbol, with its leads. */
export const symbolHalfPx = 22;
/** From the edge of a group to where its lines part. */
const forkPx = 6;

/** Cells along the rail and symbols across it that a branch needs when it lies along the rail. */
export interface Extent {
  readonly along: number;
  readonly across: number;
}

export function extentOf(branch: Branch, isUpright: boolean): Extent {
  if (branch.kind === 'part') return { along: 1, across: 1 };
  const members = branch.members.map((member) => extentOf(member, isUpright));
  const sum = (key: keyof Extent) => members.reduce((total, one) => total + one[key], 0);
  const most = (key: keyof Extent) => Math.max(...members.map((one) => one[key]));
  // Members follow each other along the rail when they lie in series, or hang in parallel.
  return (branch.group.join === 'series') !== isUpright
    ? { along: sum('along'), across: most('across') }
    : { along: most('along'), across: sum('across') };
}

/** What was drawn so far of a row. */
export interface Drawn {
  readonly parts: PlacedPart[];
  readonly wires: string[];
  readonly dots: { x: number; y: number }[];
}

/** Draws a branch that lies between two places on a line along the rail. */
export function lay(
  branch: Branch,
  from: number,
  to: number,
  y: number,
  cellPx: number,
  drawn: Drawn,
) {
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
export function hang(
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

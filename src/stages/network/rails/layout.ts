import type { PartId } from '@/core/fields';
import { homesOf } from '@/core/document/networkSchema';
import { partsIn, positionsOf, type Position } from '@/core/document/positions';
import type { Bridge, Design, NodeRef, TerminalPair, Way } from '@/core/document/schema';
import {
  extentOf,
  hang,
  lanePx,
  lay,
  symbolHalfPx,
  type Drawn,
  type Extent,
  type PlacedPart,
} from './layOutBranch';

/** What of a design the drawing shows. */
type Drawable = Pick<Design, 'ways' | 'bridges' | 'terminals' | 'isJoined'>;

/**
 * Where everything of the drawing is, in CSS pixels. The drawing lays itself out from what is
 * connected to the rails.
 */
interface RailLayout {
  readonly widthPx: number;
  readonly heightPx: number;
  readonly cellPx: number;
  readonly rows: readonly RailRow[];
  readonly buses: readonly Bus[];
  readonly bridges: readonly PlacedBridge[];
}

/** The line from a pair of terminals from which its rails start. */
export interface Bus {
  readonly pair: TerminalPair;
  readonly x: number;
  readonly topY: number;
  readonly bottomY: number;
}

/** A part between two places, and its wires as one SVG path. */
export interface PlacedBridge extends PlacedPart {
  readonly bridge: Bridge;
  readonly wires: string;
  readonly dots: readonly Point[];
}

export interface RailRow {
  readonly way: Way;
  /** Where the way is in the design. */
  readonly index: number;
  readonly railY: number;
  readonly returnY: number;
  readonly startX: number;
  /** Another way starts from its return, which therefore is no ground. */
  readonly isStacked: boolean;
  readonly parts: readonly PlacedPart[];
  /** All wires but the return, as one SVG path. */
  readonly wires: string;
  /** Junctions. */
  readonly dots: readonly Point[];
  /** Places between parts where one can be added: index in the way's list. */
  readonly gaps: readonly { readonly index: number; readonly x: number }[];
  /** Where its drivers are, the first on the rail and the others below it. */
  readonly driverX: number;
  /** No driver is wanted: others start from it, or it starts from another. */
  readonly isOpen: boolean;
}

interface Point {
  readonly x: number;
  readonly y: number;
}

const aboveRailPx = 40;
const belowReturnPx = 16;
/** From the rail to the return, for each symbol that hangs in a row. */
const dropPx = 60;
/** Between drivers at one end. */
export const driverStepPx = 48;
/** Height of a lane above a rail in which a bridge lies. */
const bridgeLanePx = 52;
const busX = 44;
const driverRoomPx = 150;
const widestCellPx = 150;
const narrowestCellPx = 70;

interface Sketch {
  readonly way: Way;
  readonly index: number;
  readonly home: Sketch | null;
  readonly positions: readonly (Position & { readonly extent: Extent })[];
  /** Cells from the bus to where it starts, and to where it ends. */
  readonly startCell: number;
  readonly endCell: number;
}

/** Cells from the bus to the rail behind a part. */
function cellBehind({ positions, startCell }: Sketch, partId: PartId): number {
  let cell = startCell;
  for (const { branch, place, extent } of positions) {
    const isHere = partsIn(branch).some(({ id }) => id === partId);
    // What hangs in shunt hangs in the middle of its cell: its node reaches to both sides.
    if (isHere && place === 'shunt') return cell;
    cell += extent.along;
    if (isHere) return cell;
  }
  return cell;
}

/** Rows from top to bottom: by pair, each way followed by those that start from it. */
function sketchRows({ ways, terminals }: Drawable): Sketch[] {
  const homeOf = homesOf(ways, terminals);
  const rows: Sketch[] = [];
  const sketch = (way: Way, home: Sketch | null) => {
    const positions = positionsOf(way).map((position) => ({
      ...position,
      extent: extentOf(position.branch, position.place === 'shunt'),
    }));
    const { from } = way;
    const startCell =
      home === null
        ? 0
        : from.kind === 'after'
          ? cellBehind(home, from.partId)
          : from.kind === 'end'
            ? home.endCell
            : home.startCell;
    const endCell = positions.reduce((sum, { extent }) => sum + extent.along, startCell);
    const row = { way, index: ways.indexOf(way), home, positions, startCell, endCell };
    rows.push(row);
    for (const other of ways) if (homeOf(other.from) === way) sketch(other, row);
  };
  for (const { id } of terminals)
    for (const way of ways)
      if (way.from.kind === 'terminals' && way.from.pairId === id) sketch(way, null);
  return rows;
}

/** @param roomPx width on offer; the drawing grows beyond it when there are too many parts */
export function layOutRails(design: Drawable, roomPx: number): RailLayout {
  const sketches = sketchRows(design);
  const homeOf = homesOf(design.ways, design.terminals);
  const most = Math.max(1, ...sketches.map(({ endCell }) => endCell));
  const railRoom = roomPx - busX - driverRoomPx - 40;
  const cellPx = Math.max(narrowestCellPx, Math.min(widestCellPx, railRoom / (most + 0.5)));
  const driverX = busX + 30 + cellPx * (most + 0.5);
  const xAt = (cell: number) => busX + 24 + cell * cellPx;
  /** Bridges lie above the lower of the rows that they join. */
  const rowOf = (node: NodeRef) => {
    const home = homeOf(node);
    if (home) return sketches.findIndex(({ way }) => way === home);
    return node.kind === 'terminals'
      ? sketches.findIndex(
          ({ way }) => way.from.kind === 'terminals' && way.from.pairId === node.pairId,
        )
      : -1;
  };
  const laneRows = design.bridges.map(({ a, b }) => Math.max(0, rowOf(a), rowOf(b)));

  let y = 0;
  const rows: RailRow[] = [];
  const laneTops: number[] = [];
  sketches.forEach(({ way, index, home, positions, startCell, endCell }, r) => {
    laneTops.push(y);
    const railY = y + aboveRailPx + bridgeLanePx * laneRows.filter((row) => row === r).length;
    const acrossOf = (place: 'series' | 'shunt') =>
      Math.max(
        1,
        ...positions.filter((one) => one.place === place).map((one) => one.extent.across),
      );
    const returnY =
      railY +
      Math.max(
        acrossOf('shunt') * dropPx,
        (acrossOf('series') - 1) * lanePx + dropPx,
        (way.ends.length - 1) * driverStepPx + dropPx,
      );
    y = returnY + belowReturnPx;
    const isStacked = design.ways.some(
      ({ from }) => from.kind === 'return' && from.wayId === way.id,
    );
    const isStoodOn = design.ways.some(({ from }) => homeOf(from) === way);
    const isOpen = way.ends.length === 0 && (home !== null || isStoodOn);
    const drawn: Drawn = { parts: [], wires: [], dots: [] };
    const gaps: { index: number; x: number }[] = [];
    const startX = xAt(startCell);
    let x = startX;
    if (home === null) drawn.wires.push(`M${busX} ${railY}H${x}`);
    else {
      const below = rows.find((row) => row.way === home.way)!;
      const fromY = way.from.kind === 'return' ? below.returnY : below.railY;
      drawn.wires.push(`M${x} ${fromY}V${railY}`);
      drawn.dots.push({ x, y: fromY });
    }
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
    const endX = isOpen ? xAt(endCell) + 34 : driverX;
    drawn.wires.push(`M${x} ${railY}H${isOpen ? endX - 4 : endX - 12}`);
    rows.push({
      ...{ way, index, railY, returnY, startX, isStacked, isOpen, gaps, driverX: endX },
      ...{ parts: drawn.parts, dots: drawn.dots, wires: drawn.wires.join('') },
    });
  });

  const pointOf = (node: NodeRef, lane: number): Point => {
    const row = rows.at(rowOf(node));
    if (node.kind === 'ground' || !row) return { x: rows[lane].startX + 12, y: rows[lane].returnY };
    if (node.kind === 'terminals') return { x: busX, y: row.railY };
    if (node.kind === 'return') return { x: row.startX + 12, y: row.returnY };
    const sketch = sketches[rows.indexOf(row)];
    const cell =
      node.kind === 'after'
        ? cellBehind(sketch, node.partId)
        : node.kind === 'start'
          ? sketch.startCell
          : sketch.endCell;
    return { x: xAt(cell), y: row.railY };
  };
  const usedLanes = rows.map(() => 0);
  const bridges = design.bridges.map((bridge, i): PlacedBridge => {
    const lane = laneRows[i];
    const laneY = laneTops[lane] + aboveRailPx - 6 + bridgeLanePx * usedLanes[lane]++;
    const ends = [pointOf(bridge.a, lane), pointOf(bridge.b, lane)];
    const [left, right] = ends.sort((one, other) => one.x - other.x);
    // Places above each other leave no room between them: the part is beside, and its wire comes
    // back.
    const farX = Math.max(right.x, left.x + cellPx);
    const x = (left.x + farX) / 2;
    const back =
      farX === right.x ? `V${right.y}` : `V${rows[lane].railY - 14}H${right.x}V${right.y}`;
    return {
      bridge,
      part: bridge.part,
      x,
      y: laneY,
      isUpright: false,
      dots: ends,
      wires: `M${left.x} ${left.y}V${laneY}H${x - symbolHalfPx}M${x + symbolHalfPx} ${laneY}H${farX}${back}`,
    };
  });
  const buses = design.terminals.flatMap((pair): Bus[] => {
    const own = rows.filter(
      ({ way }) => way.from.kind === 'terminals' && way.from.pairId === pair.id,
    );
    return own.length === 0
      ? []
      : [{ pair, x: busX, topY: own[0].railY, bottomY: own[own.length - 1].railY }];
  });
  return {
    widthPx: Math.max(roomPx, driverX + driverRoomPx),
    heightPx: Math.max(200, y + 22),
    ...{ cellPx, rows, buses, bridges },
  };
}

/** Name of what is at a gap of a way. */
export const nameAt = (way: Way, index: number): string =>
  positionsOf(way)
    .filter(({ from }) => from === index)
    .map(({ branch }) => partsIn(branch)[0].name)
    .at(0) ?? 'the driver';

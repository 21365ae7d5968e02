import type { Part, Way } from '@/core/design/schema';

/** Where everything of the drawing stands, in CSS pixels. The drawing lays itself out from the order of the parts. */
export interface RailLayout {
  readonly widthPx: number;
  readonly heightPx: number;
  /** The bus from the amplifier from which all rails start. */
  readonly busX: number;
  readonly cellPx: number;
  readonly rows: readonly RailRow[];
}

export interface RailRow {
  readonly way: Way;
  readonly railY: number;
  readonly returnY: number;
  readonly parts: readonly { readonly part: Part; readonly x: number }[];
  /** Places between parts where one can be added: index in the way's list. */
  readonly gaps: readonly { readonly index: number; readonly x: number }[];
  readonly driverX: number;
}

const rowPx = 116;
const dropPx = 60;
const firstRailY = 40;
const busX = 44;
const driverRoomPx = 150;
const widestCellPx = 96;
const narrowestCellPx = 70;

/**
 * @param ways rails from top to bottom
 * @param roomPx width on offer; the drawing grows beyond it when there are too many parts
 */
export function layOutRails(ways: readonly Way[], roomPx: number): RailLayout {
  const most = Math.max(1, ...ways.map((way) => way.parts.length));
  const railRoom = roomPx - busX - driverRoomPx - 40;
  const cellPx = Math.max(narrowestCellPx, Math.min(widestCellPx, railRoom / (most + 0.5)));
  const driverX = busX + 30 + cellPx * (most + 0.5);
  const rows = ways.map((way, w): RailRow => {
    const railY = firstRailY + w * rowPx;
    const start = busX + 24;
    return {
      way,
      railY,
      returnY: railY + dropPx,
      parts: way.parts.map((part, i) => ({ part, x: start + (i + 0.5) * cellPx })),
      gaps: Array.from({ length: way.parts.length + 1 }, (_, index) => ({
        index,
        x: start + index * cellPx,
      })),
      driverX,
    };
  });
  return {
    widthPx: Math.max(roomPx, driverX + driverRoomPx),
    heightPx: Math.max(200, firstRailY + rows.length * rowPx - 34),
    busX,
    cellPx,
    rows,
  };
}

import { MaxRectsPacker } from 'maxrects-packer';
import { problem } from '@/core/problem';
import type { BoardPiece } from './panels';

/** Sheets that boards are cut from. */
export interface Stock {
  /** Along the grain first. */
  readonly lengthMm: number;
  readonly widthMm: number;
  /** What the saw takes. */
  readonly kerfMm: number;
  /** Whether boards may lie across the grain. */
  readonly mayTurn: boolean;
}

export interface PlacedPiece {
  readonly name: string;
  readonly xMm: number;
  readonly yMm: number;
  /** Along the sheet's length, and across it. */
  readonly lengthMm: number;
  readonly widthMm: number;
  readonly isTurned: boolean;
}

export interface CutSheet {
  readonly thicknessMm: number;
  readonly pieces: readonly PlacedPiece[];
  /** Share of the sheet that becomes boards. */
  readonly usedShare: number;
}

export const usualStock: Stock = { lengthMm: 2500, widthMm: 1250, kerfMm: 3.2, mayTurn: false };

/** Rounding of places, mm. */
const slackMm = 1e-6;

/** @throws Error where boards overlap, are nearer than the kerf, or leave their sheet */
function checkLaid(placed: readonly PlacedPiece[], { lengthMm, widthMm, kerfMm }: Stock): void {
  const gap = kerfMm - slackMm;
  placed.forEach((a, i) => {
    const isInside =
      a.xMm >= -slackMm &&
      a.yMm >= -slackMm &&
      a.xMm + a.lengthMm <= lengthMm + slackMm &&
      a.yMm + a.widthMm <= widthMm + slackMm;
    const isClear = placed
      .slice(i + 1)
      .every(
        (b) =>
          a.xMm + a.lengthMm + gap <= b.xMm ||
          b.xMm + b.lengthMm + gap <= a.xMm ||
          a.yMm + a.widthMm + gap <= b.yMm ||
          b.yMm + b.widthMm + gap <= a.yMm,
      );
    if (!isInside || !isClear) throw new Error(`${a.name} is laid over another board or the edge.`);
  });
}

/** A board as the packer moves it about. */
interface Packed {
  readonly width: number;
  readonly height: number;
  x: number;
  y: number;
  readonly label: string;
  readonly rot?: boolean;
}

const packed = ({ lengthMm, widthMm }: BoardPiece, label: string): Packed => ({
  ...{ x: 0, y: 0, width: lengthMm, height: widthMm, label },
});

/**
 * Lays boards on sheets, by thickness, with the saw's kerf between them (maximal rectangles, Jylänki 2010).
 *
 * @param pieces of as many boxes as are built
 * @throws ProblemError `board_too_large` naming the one that no sheet holds
 */
export function cutSheets(pieces: readonly BoardPiece[], stock: Stock): CutSheet[] {
  for (const { name, lengthMm, widthMm } of pieces) {
    const fits = (a: number, b: number) => a <= stock.lengthMm && b <= stock.widthMm;
    if (!fits(lengthMm, widthMm) && !(stock.mayTurn && fits(widthMm, lengthMm)))
      throw problem(
        'board_too_large',
        name,
        `${name} is ${lengthMm.toFixed(0)} × ${widthMm.toFixed(0)} mm; no sheet of ${stock.lengthMm} × ${stock.widthMm} mm holds it.`,
        stock.mayTurn ? '' : 'It may not lie across the grain.',
        'Choose larger sheets, let boards turn, or make the box smaller.',
      );
  }
  const thicknesses = [...new Set(pieces.map(({ thicknessMm }) => thicknessMm))];
  return thicknesses
    .toSorted((a, b) => b - a)
    .flatMap((thicknessMm) => {
      const packer = new MaxRectsPacker<Packed>(stock.lengthMm, stock.widthMm, stock.kerfMm, {
        ...{ smart: false, pot: false, square: false, allowRotation: stock.mayTurn, border: 0 },
      });
      packer.addArray(
        pieces
          .filter((piece) => piece.thicknessMm === thicknessMm)
          .flatMap((piece) =>
            Array.from({ length: piece.count }, (_, k) =>
              packed(piece, piece.count > 1 ? `${piece.name} ${k + 1}` : piece.name),
            ),
          ),
      );
      return packer.bins.map((bin): CutSheet => {
        const placed = bin.rects.map((rect): PlacedPiece => {
          // The packer turns its place, not the board that it was given.
          const isTurned = rect.rot === true;
          const [lengthMm, widthMm] = isTurned
            ? [rect.height, rect.width]
            : [rect.width, rect.height];
          return { name: rect.label, xMm: rect.x, yMm: rect.y, isTurned, lengthMm, widthMm };
        });
        checkLaid(placed, stock);
        const used = placed.reduce((sum, { lengthMm, widthMm }) => sum + lengthMm * widthMm, 0);
        return {
          ...{ thicknessMm, pieces: placed },
          usedShare: used / (stock.lengthMm * stock.widthMm),
        };
      });
    });
}

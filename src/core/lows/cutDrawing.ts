import type { CutSheet, Stock } from '@/core/cabinet/cutList';
import { holeWords, type BoardPiece } from '@/core/cabinet/panels';
import { writeRows } from '@/core/formats/writeTable';
import type { DrillDrawing } from '@/core/layout/drillDrawing';
import { formatNumber } from '@/core/units/quantity';

const mm = (value: number) => `${formatNumber(Number(value.toFixed(2)))} mm`;

/** Between two sheets of a drawing, mm. */
const gapMm = 100;

/** What everybody who saws should read first. */
export const sawingCaution =
  'Check the thickness of the board and one cut before the rest. Clamp the work, keep the guards on, wear eye and hearing protection and a dust mask; keep to the tool maker’s and local rules.';

/** All sheets side by side, at full size. */
export function cutDrawing(title: string, sheets: readonly CutSheet[], stock: Stock): DrillDrawing {
  const at = (s: number) => s * (stock.lengthMm + gapMm);
  return {
    title,
    widthMm: at(sheets.length) - gapMm,
    heightMm: stock.widthMm,
    // Nothing is cut around all sheets.
    outline: [],
    rectangles: sheets.flatMap((sheet, s) => [
      { layer: 'frame', x: at(s), y: 0, width: stock.lengthMm, height: stock.widthMm },
      ...sheet.pieces.map(({ xMm, yMm, lengthMm, widthMm }) => ({
        layer: 'cut' as const,
        ...{ x: at(s) + xMm, y: yMm, width: lengthMm, height: widthMm },
      })),
    ]),
    circles: [],
    centres: sheets.flatMap((sheet, s) =>
      sheet.pieces.map(({ name, xMm, yMm, lengthMm, widthMm }) => ({
        x: at(s) + xMm + lengthMm / 2,
        y: yMm + widthMm / 2,
        lines: [name, `${mm(lengthMm)} × ${mm(widthMm)} × ${mm(sheet.thicknessMm)}`],
      })),
    ),
    notes: [
      `Sheets of ${mm(stock.lengthMm)} × ${mm(stock.widthMm)}, grain along the length; kerf ${mm(stock.kerfMm)}.`,
      sawingCaution,
    ],
  };
}

/** The boards as a table. */
export const cutTable = (pieces: readonly BoardPiece[], material: string): string =>
  writeRows(
    ['board', 'count', 'length_mm', 'width_mm', 'thickness_mm', 'material', 'work'],
    pieces.map(({ name, count, lengthMm, widthMm, thicknessMm, holes, work }) => [
      name,
      ...[count, lengthMm, widthMm, thicknessMm].map((value) => Number(value.toFixed(2))),
      material,
      [...holes.map(holeWords), ...work].join('; '),
    ]),
  );

import { driversInBox } from '@/core/cabinet/driversInBox';
import type { CutSheet, Stock } from '@/core/cabinet/cutList';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BoardPiece } from '@/core/cabinet/panels';
import { writeRows } from '@/core/formats/writeTable';
import { recessDepthMm, type DrillDrawing } from '@/core/layout/drillDrawing';
import { formatNumber } from '@/core/units/quantity';

const mm = (value: number) => `${formatNumber(Number(value.toFixed(1)))} mm`;

/** Holes and recesses of a box's front: its drivers', and its ports' where these go through it. */
export function frontHoles({ drivers }: Pick<Design, 'drivers'>, box: Box) {
  const { kind, port } = box;
  const own = driversInBox(box, drivers);
  const told = own.map((driver) => {
    const { cutoutMm, frameMm } = driver.mounting;
    const depthMm = recessDepthMm(driver);
    const recess =
      frameMm === null || depthMm === null ? '' : `, recess ⌀${mm(frameMm)} ${mm(depthMm)} deep`;
    return cutoutMm === null
      ? `${driver.name}: hole not known`
      : `${driver.name}: hole ⌀${mm(cutoutMm)}${recess}`;
  });
  const isThrough = kind === 'vented' && port.side === 'front';
  const across =
    port.shape === 'round'
      ? `⌀${mm(port.diameterMm + 2 * port.wallMm)}`
      : `${mm(port.slotWidthMm)} × ${mm(port.slotHeightMm)}`;
  const ports = isThrough
    ? [`${port.count > 1 ? `${port.count} ports` : 'port'}: hole ${across}`]
    : [];
  return [...told, ...ports].join('; ');
}

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
    // One line around all, and each sheet in it.
    outline: [
      { x: 0, y: 0 },
      { x: at(sheets.length) - gapMm, y: 0 },
      { x: at(sheets.length) - gapMm, y: stock.widthMm },
      { x: 0, y: stock.widthMm },
    ],
    rectangles: sheets.flatMap((sheet, s) => [
      { x: at(s), y: 0, width: stock.lengthMm, height: stock.widthMm },
      ...sheet.pieces.map(({ xMm, yMm, lengthMm, widthMm }) => ({
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
    pieces.map(({ name, count, lengthMm, widthMm, thicknessMm, work }) => [
      name,
      ...[count, lengthMm, widthMm, thicknessMm].map((value) => Number(value.toFixed(1))),
      material,
      work,
    ]),
  );

import type { DrillDrawing } from '@/core/layout/drillDrawing';

/** Around the front on the sheet, mm. */
export const sheetMarginMm = 10;
/** Half of a centre mark, mm. */
export const centreMarkMm = 4;
export const textMm = 4;
export const lineMm = 5.5;

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

const strokes = {
  cut: 'stroke="#000" stroke-width="0.3"',
  recess: 'stroke="#000" stroke-width="0.2" stroke-dasharray="3 1"',
  frame: 'stroke="#777" stroke-width="0.15" stroke-dasharray="1 1"',
} as const;

/** A drilling drawing at full size: a millimetre of the file is a millimetre of wood. */
export function drawingSvg({
  title,
  widthMm,
  heightMm,
  outline,
  rectangles,
  circles,
  centres,
  notes,
}: DrillDrawing): string {
  const width = widthMm + 2 * sheetMarginMm;
  const height = heightMm + 2 * sheetMarginMm + lineMm * (notes.length + 1);
  const x = (mm: number) => (mm + sheetMarginMm).toFixed(3);
  const y = (mm: number) => (heightMm - mm + sheetMarginMm).toFixed(3);
  const text = (mmX: string, mmY: number, words: string) =>
    `<text x="${mmX}" y="${mmY.toFixed(3)}" font-size="${textMm}" font-family="sans-serif">${escaped(words)}</text>`;
  const points = outline.map((corner) => `${x(corner.x)},${y(corner.y)}`).join(' ');
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">`,
    `<title>${escaped(title)}</title>`,
    `<polygon points="${points}" fill="none" stroke="#000" stroke-width="0.4"/>`,
    ...rectangles.map(
      (board) =>
        `<rect x="${x(board.x)}" y="${y(board.y + board.height)}" width="${board.width}" height="${board.height}" fill="none" ${strokes.cut}/>`,
    ),
    ...circles.map(
      (circle) =>
        `<circle cx="${x(circle.x)}" cy="${y(circle.y)}" r="${circle.diameter / 2}" fill="none" ${strokes[circle.layer]}/>`,
    ),
    ...centres.flatMap((centre) => [
      `<path d="M${x(centre.x - centreMarkMm)} ${y(centre.y)}H${x(centre.x + centreMarkMm)}M${x(centre.x)} ${y(centre.y - centreMarkMm)}V${y(centre.y + centreMarkMm)}" stroke="#000" stroke-width="0.2"/>`,
      ...centre.lines.map((line, k) =>
        text(x(centre.x + centreMarkMm + 1), Number(y(centre.y)) + lineMm * (k + 1), line),
      ),
    ]),
    ...[title, ...notes].map((line, k) =>
      text(x(0), heightMm + 2 * sheetMarginMm + lineMm * k, line),
    ),
    '</svg>',
    '',
  ].join('\n');
}

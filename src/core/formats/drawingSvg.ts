import { arcRadiusMm } from '@/core/layout/arcs';
import type { DrillDrawing } from '@/core/layout/drillDrawing';

/** Around the front on the sheet, mm. */
export const sheetMarginMm = 10;
/** Half of a centre mark, mm. */
export const centreMarkMm = 4;
export const textMm = 4;
export const lineMm = 5.5;

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** Width of a letter over its height, on average (Helvetica). */
const letterShare = 0.52;

/** Notes in lines that stay on the sheet: no word of a caution may be cut off. */
export function wrappedNotes(notes: readonly string[], widthMm: number): string[] {
  const most = Math.max(20, Math.floor(widthMm / (letterShare * textMm)));
  return notes.flatMap((note) =>
    note.split(' ').reduce<string[]>((lines, word) => {
      const last = lines.at(-1);
      return last !== undefined && last.length + 1 + word.length <= most
        ? [...lines.slice(0, -1), `${last} ${word}`]
        : [...lines, word];
    }, []),
  );
}

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
  const words = wrappedNotes([title, ...notes], widthMm);
  const height = heightMm + 2 * sheetMarginMm + lineMm * words.length;
  const x = (mm: number) => (mm + sheetMarginMm).toFixed(3);
  const y = (mm: number) => (heightMm - mm + sheetMarginMm).toFixed(3);
  const text = (mmX: string, mmY: number, words: string) =>
    `<text x="${mmX}" y="${mmY.toFixed(3)}" font-size="${textMm}" font-family="sans-serif">${escaped(words)}</text>`;
  /** Lines, and arcs where it bulges: on paper, where y points down, an arc to the left turns clockwise. */
  const path = outline.map((point, c) => {
    const next = outline[(c + 1) % outline.length];
    const to = `${x(next.x)} ${y(next.y)}`;
    if (!point.bulge) return `L${to}`;
    const radius = arcRadiusMm(point, next).toFixed(3);
    return `A${radius} ${radius} 0 0 ${point.bulge > 0 ? 0 : 1} ${to}`;
  });
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">`,
    `<title>${escaped(title)}</title>`,
    ...(outline.length === 0
      ? []
      : [
          `<path d="M${x(outline[0].x)} ${y(outline[0].y)}${path.join('')}Z" fill="none" stroke="#000" stroke-width="0.4"/>`,
        ]),
    ...rectangles.map(
      (board) =>
        `<rect x="${x(board.x)}" y="${y(board.y + board.height)}" width="${board.width}" height="${board.height}" fill="none" ${strokes[board.layer]}/>`,
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
    ...words.map((line, k) => text(x(0), heightMm + 2 * sheetMarginMm + lineMm * k, line)),
    '</svg>',
    '',
  ].join('\n');
}

import * as pdfkit from 'pdfkit';
import { toBytes } from 'pdfkit/output';
import Helvetica from 'pdfkit/standard-fonts/Helvetica';
import { arcRadiusMm, type OutlinePoint } from '@/core/layout/arcs';
import type { DrillDrawing } from '@/core/layout/drillDrawing';
import { centreMarkMm, lineMm, sheetMarginMm, textMm, wrappedNotes } from './drawingSvg';

// Node's build of the package finds its fonts itself and lacks this.
const { PDFDocument, registerStdFonts } = pdfkit;
registerStdFonts?.(Helvetica);
type Document = pdfkit.PDFDocument;

/** A point of a PDF in millimetres. */
const pointsPerMm = 72 / 25.4;
const a4 = { widthMm: 210, heightMm: 297 };
/** What printers leave white, and how much neighbouring sheets overlap, mm. */
const whiteMm = 10;
const overlapMm = 10;
const checkMm = 100;

/**
 * A drilling drawing at full size: first on one sheet as large as it needs, then, where that is more
 * than an A4 sheet, on A4 sheets that overlap, to be glued together. A line of 100 mm on each tells
 * whether it was printed to scale.
 */
export async function drawingPdf(drawing: DrillDrawing): Promise<Uint8Array> {
  const { title, widthMm, heightMm, notes } = drawing;
  const width = widthMm + 2 * sheetMarginMm;
  const words = wrappedNotes([title, ...notes], Math.max(widthMm, checkMm));
  const height = heightMm + 2 * sheetMarginMm + lineMm * (words.length + 2);
  const doc = new PDFDocument({
    autoFirstPage: false,
    compress: false,
    info: { Title: latin(title) },
  });
  const bytes = toBytes(doc);
  const page = (sheetWidth: number, sheetHeight: number) => {
    doc.addPage({ size: [sheetWidth * pointsPerMm, sheetHeight * pointsPerMm], margin: 0 });
    doc.save().scale(pointsPerMm);
  };
  page(Math.max(width, checkMm + 2 * sheetMarginMm), height);
  draw(doc, drawing);
  checkLine(doc, sheetMarginMm, height - sheetMarginMm);
  doc.restore();
  const usable = { widthMm: a4.widthMm - 2 * whiteMm, heightMm: a4.heightMm - 2 * whiteMm };
  if (width > usable.widthMm || height > usable.heightMm) {
    const columns = Math.ceil((width - overlapMm) / (usable.widthMm - overlapMm));
    const rows = Math.ceil((height - overlapMm) / (usable.heightMm - overlapMm));
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        page(a4.widthMm, a4.heightMm);
        doc.save();
        doc.rect(whiteMm, whiteMm, usable.widthMm, usable.heightMm).clip();
        doc.translate(
          whiteMm - column * (usable.widthMm - overlapMm),
          whiteMm - row * (usable.heightMm - overlapMm),
        );
        draw(doc, drawing);
        doc.restore();
        doc.lineWidth(0.1).strokeColor('#999');
        doc.rect(whiteMm, whiteMm, usable.widthMm, usable.heightMm).stroke();
        write(
          doc,
          `row ${row + 1} of ${rows}, column ${column + 1} of ${columns}: ${title}`,
          whiteMm,
          3,
        );
        checkLine(doc, whiteMm, a4.heightMm - 4);
        doc.restore();
      }
  }
  doc.end();
  return bytes;
}

function draw(
  doc: Document,
  { title, widthMm, heightMm, outline, rectangles, circles, centres, notes }: DrillDrawing,
): void {
  const x = (mm: number) => mm + sheetMarginMm;
  const y = (mm: number) => heightMm - mm + sheetMarginMm;
  doc.strokeColor('#000').lineWidth(0.4);
  if (outline.length > 0) {
    doc.moveTo(x(outline[0].x), y(outline[0].y));
    outline.forEach((point, c) => {
      const next = outline[(c + 1) % outline.length];
      if (!point.bulge) doc.lineTo(x(next.x), y(next.y));
      else {
        const [a, b] = controlsOf(point, next);
        doc.bezierCurveTo(x(a.x), y(a.y), x(b.x), y(b.y), x(next.x), y(next.y));
      }
    });
    doc.closePath().stroke();
  }
  for (const { x: left, y: bottom, width, height } of rectangles)
    doc.rect(x(left), y(bottom + height), width, height).stroke();
  for (const circle of circles) {
    if (circle.layer === 'cut') doc.undash().lineWidth(0.3);
    else doc.dash(circle.layer === 'recess' ? 3 : 1, { space: 1 }).lineWidth(0.2);
    doc.circle(x(circle.x), y(circle.y), circle.diameter / 2).stroke();
  }
  doc.undash().lineWidth(0.2);
  for (const centre of centres) {
    doc
      .moveTo(x(centre.x - centreMarkMm), y(centre.y))
      .lineTo(x(centre.x + centreMarkMm), y(centre.y));
    doc
      .moveTo(x(centre.x), y(centre.y - centreMarkMm))
      .lineTo(x(centre.x), y(centre.y + centreMarkMm));
    doc.stroke();
    centre.lines.forEach((line, k) =>
      write(doc, line, x(centre.x + centreMarkMm + 1), y(centre.y) + lineMm * (k + 0.4)),
    );
  }
  wrappedNotes([title, ...notes], Math.max(widthMm, checkMm)).forEach((line, k) =>
    write(doc, line, x(0), y(0) + sheetMarginMm + lineMm * k),
  );
}

interface Point {
  readonly x: number;
  readonly y: number;
}

/**
 * Inner points of the cubic Bézier curve that is an arc to a thousandth of its radius and better, for arcs
 * of up to 30°: (4/3)·tan(angle/4) of the radius along the tangents.
 */
function controlsOf(from: OutlinePoint, to: Point): readonly [Point, Point] {
  const bulge = from.bulge ?? 0;
  const along = (4 / 3) * bulge * arcRadiusMm(from, to) * Math.sign(bulge);
  const chord = Math.atan2(to.y - from.y, to.x - from.x);
  const half = 2 * Math.atan(bulge);
  const [out, into] = [chord - half, chord + half];
  return [
    { x: from.x + along * Math.cos(out), y: from.y + along * Math.sin(out) },
    { x: to.x - along * Math.cos(into), y: to.y - along * Math.sin(into) },
  ];
}

function checkLine(doc: Document, x: number, y: number): void {
  doc.lineWidth(0.3).strokeColor('#000');
  doc.moveTo(x, y).lineTo(x + checkMm, y);
  for (const end of [x, x + checkMm]) doc.moveTo(end, y - 1.5).lineTo(end, y + 1.5);
  doc.stroke();
  write(doc, `${checkMm} mm if printed at full size`, x + checkMm / 4, y - 4, 3);
}

function write(doc: Document, text: string, x: number, y: number, size = textMm): void {
  doc.fontSize(size).fillColor('#000').text(latin(text), x, y, { lineBreak: false });
}

/** The font that every reader of PDF has knows western European letters only. */
const latin = (text: string): string =>
  text.replace(/−/g, '-').replace(/[^\x20-\x7e\xa0-\xff–—‘’“”•…€]/gu, '?');

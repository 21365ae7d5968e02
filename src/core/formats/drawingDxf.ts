import { DxfWriter, point2d, point3d, Units } from '@tarikjabiri/dxf';
import type { DrillDrawing } from '@/core/layout/drillDrawing';
import { centreMarkMm, lineMm, textMm } from './drawingSvg';

const white = 7;
const layers = ['outline', 'cut', 'recess', 'frame', 'centre', 'text'] as const;

/**
 * A drilling drawing as DXF, in millimetres from the lower left corner, with a layer for each kind of
 * line. Characters beyond ASCII are written as the format has it: \U+00E4.
 */
export function drawingDxf({
  title,
  outline,
  rectangles,
  circles,
  centres,
  notes,
}: DrillDrawing): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  for (const layer of layers) dxf.addLayer(layer, white, 'Continuous');
  const text = (x: number, y: number, words: string) => {
    dxf.setCurrentLayerName('text');
    dxf.addText(point3d(x, y), textMm, ascii(words));
  };
  dxf.setCurrentLayerName('outline');
  if (outline.length > 0)
    dxf.addLWPolyline(
      outline.map(({ x, y, bulge }) => ({ point: point2d(x, y), ...(bulge && { bulge }) })),
      { flags: 1 },
    );
  for (const { layer, x, y, width, height } of rectangles) {
    dxf.setCurrentLayerName(layer);
    dxf.addLWPolyline(
      [
        [x, y],
        [x + width, y],
        [x + width, y + height],
        [x, y + height],
      ].map(([px, py]) => ({ point: point2d(px, py) })),
      { flags: 1 },
    );
  }
  for (const { layer, x, y, diameter } of circles) {
    dxf.setCurrentLayerName(layer);
    dxf.addCircle(point3d(x, y), diameter / 2);
  }
  for (const { x, y, lines } of centres) {
    dxf.setCurrentLayerName('centre');
    dxf.addLine(point3d(x - centreMarkMm, y), point3d(x + centreMarkMm, y));
    dxf.addLine(point3d(x, y - centreMarkMm), point3d(x, y + centreMarkMm));
    lines.forEach((line, k) => text(x + centreMarkMm + 1, y - lineMm * (k + 1), line));
  }
  [title, ...notes].forEach((line, k) => text(0, -lineMm * (k + 2), line));
  return dxf.stringify();
}

/** Text of one line in ASCII. */
const ascii = (text: string): string =>
  [...text.replace(/\s+/g, ' ')]
    .map((sign) => {
      const code = sign.codePointAt(0)!;
      if (code >= 0x20 && code < 0x7f) return sign;
      // Beyond the basic plane the format has no way to write a sign.
      return code > 0xffff ? '?' : `\\U+${code.toString(16).toUpperCase().padStart(4, '0')}`;
    })
    .join('');

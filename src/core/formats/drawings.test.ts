import DxfParser from 'dxf-parser';
import { PDFDocument } from 'pdf-lib';
import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import { drillDrawingOf, recessDepthMm } from '@/core/layout/drillDrawing';
import { outlined, withEdges } from '@/core/layout/reshape';
import { drawingDxf } from './drawingDxf';
import { drawingPdf } from './drawingPdf';
import { drawingSvg } from './drawingSvg';

const panel = withEdges(
  outlined(frontOf(200, 320, { ports: [{ xMm: 30, yMm: -120, diameterMm: 50 }] }), {
    kind: 'clipped',
    byMm: 40,
    isTopOnly: true,
  }),
  { kind: 'round', sizeMm: 12 },
  [1, 5],
);
const design = designOn(
  panel,
  mountedDriver('Höhe <b>&"ü', 10, 70, { frameMm: 104, flangeMm: 4, cutoutMm: 76 }),
  mountedDriver('Tiefe', 0, -60, { frameMm: 150, kind: 'proud', byMm: 6, flangeMm: 6 }),
);
const drawing = drillDrawingOf(design, panel);

test('a drawing has holes, recesses and middles from the lower left corner', () => {
  expect(drawing.circles).toEqual([
    { layer: 'cut', x: 110, y: 230, diameter: 76 },
    { layer: 'recess', x: 110, y: 230, diameter: 104 },
    // It stands on the front with all of its frame: nothing is let in.
    { layer: 'frame', x: 100, y: 100, diameter: 150 },
    { layer: 'cut', x: 130, y: 40, diameter: 50 },
  ]);
  expect(drawing.centres[0].lines).toContain('110 mm from the left, 90 mm from the top');
  expect(drawing.centres[0].lines).toContain('recess 104 mm, 4 mm deep');
  expect(drawing.centres[1].lines).toContain('hole not known');
  expect(drawing.notes[1]).toBe('right edge rounded by 12 mm; left edge rounded by 12 mm.');
  expect(drawing.notes.at(-1)).toMatch(/eye and hearing protection/);
});

test('how deep a recess is follows from frame and mounting', () => {
  const depth = (mounting: object) => recessDepthMm(mountedDriver('x', 0, 0, mounting));
  expect(depth({ flangeMm: 5 })).toBe(5);
  expect(depth({ kind: 'proud', byMm: 2, flangeMm: 5 })).toBe(3);
  expect(depth({ kind: 'recessed', byMm: 2, flangeMm: 5 })).toBe(7);
  expect(depth({})).toBeNull();
});

test('DXF, read by another package, has the same lines on their layers, in millimetres', () => {
  const text = drawingDxf(drawing);
  expect([...text].every((sign) => sign.charCodeAt(0) < 128)).toBe(true);
  const dxf = new DxfParser().parseSync(text)!;
  expect(dxf.header.$INSUNITS).toBe(4);
  type Circle = { layer: string; radius: number; center: { x: number; y: number } };
  const circles = dxf.entities.filter(({ type }) => type === 'CIRCLE') as unknown as Circle[];
  expect(circles.map(({ layer, radius, center: { x, y } }) => [layer, x, y, 2 * radius])).toEqual(
    drawing.circles.map(({ layer, x, y, diameter }) => [layer, x, y, diameter]),
  );
  const outline = dxf.entities.find(({ type }) => type === 'LWPOLYLINE') as unknown as {
    vertices: { x: number; y: number }[];
  };
  expect(outline.vertices.map(({ x, y }) => ({ x, y }))).toEqual(drawing.outline);
  expect(text).toContain('H\\U+00F6he');
});

test('SVG is as large as the wood with its margin, and names stay words', () => {
  const svg = drawingSvg(drawing);
  expect(svg).toMatch(/^<svg [^>]*width="220mm"/);
  expect(svg).not.toContain('<b>');
  expect(svg).toContain('Höhe &#60;b&#62;&#38;&#34;ü');
  expect(svg).toContain('<circle cx="120.000" cy="100.000" r="38"');
});

test('PDF is at full size: one sheet of its own, then A4 sheets that overlap', async () => {
  const bytes = await drawingPdf(drawing);
  const pages = (await PDFDocument.load(bytes)).getPages();
  const mm = (points: number) => (points * 25.4) / 72;
  expect(mm(pages[0].getWidth())).toBeCloseTo(220, 6);
  // 220 mm do not fit into 190, 370 not into 277: two by two.
  expect(pages).toHaveLength(5);
  for (const page of pages.slice(1)) {
    expect(mm(page.getWidth())).toBeCloseTo(210, 6);
    expect(mm(page.getHeight())).toBeCloseTo(297, 6);
  }
  const text = new TextDecoder('latin1').decode(bytes);
  // A millimetre is 72/25.4 points: the hole’s circle is drawn in millimetres under that scale.
  expect(text).toMatch(/2\.834646 0 0 2\.834646 0 0 cm/);
  // A name that the font has no letters for does no harm.
  const foreign = { ...drawing, title: '高音 − Ω' };
  await expect(drawingPdf(foreign)).resolves.toBeInstanceOf(Uint8Array);
});

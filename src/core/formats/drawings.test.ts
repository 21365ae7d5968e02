import DxfParser from 'dxf-parser';
import { PDFDocument } from 'pdf-lib';
import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import { recessDepthMm } from '@/core/cabinet/holes';
import { drillDrawingOf } from '@/core/layout/drillDrawing';
import { outlined, withEdges } from '@/core/layout/reshape';
import { drawingDxf } from './drawingDxf';
import { drawingPdf } from './drawingPdf';
import { withArcs } from '@/core/layout/arcs';
import { drawingSvg, wrappedNotes } from './drawingSvg';

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
  expect(drawing.notes[1]).toBe('Right edge rounded by 12 mm; left edge rounded by 12 mm.');
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

describe('rounded corners', () => {
  const radius = 60;
  const rounded = outlined(frontOf(300, 500), { kind: 'rounded', byMm: radius, isTopOnly: true });
  const front = drillDrawingOf(designOn(rounded), rounded);

  test('are arcs, told with their radius; straight lines stay straight', () => {
    const arcs = front.outline.filter(({ bulge }) => bulge !== undefined);
    // Four pieces of 22.5° at each of two corners; DXF's bulge is the tangent of a quarter of that.
    expect(arcs).toHaveLength(8);
    for (const { bulge } of arcs) expect(bulge).toBeCloseTo(Math.tan(Math.PI / 32), 9);
    expect(front.notes).toContain('Corners rounded with a radius of 60 mm.');
    expect(withArcs(frontOf(300, 500).corners.map(({ xMm: x, yMm: y }) => ({ x, y })))).toEqual(
      frontOf(300, 500).corners.map(({ xMm: x, yMm: y }) => ({ x, y })),
    );
  });

  test('an octagon is no circle', () => {
    const corners = Array.from({ length: 8 }, (_, k) => ({
      x: Math.cos((k * Math.PI) / 4),
      y: Math.sin((k * Math.PI) / 4),
    }));
    expect(withArcs(corners).every(({ bulge }) => bulge === undefined)).toBe(true);
  });

  test('leave as bulges in DXF, as arcs in SVG and as curves in PDF', async () => {
    const dxf = new DxfParser().parseSync(drawingDxf(front))!;
    const outline = dxf.entities.find(({ type }) => type === 'LWPOLYLINE') as unknown as {
      vertices: { bulge?: number }[];
    };
    expect(outline.vertices.filter(({ bulge }) => bulge)).toHaveLength(8);
    // Corners are kept to a tenth of a millimetre.
    expect(drawingSvg(front).match(/A(59\.9|60\.)\d+ (59\.9|60\.)\d+ 0 0 0 /g)).toHaveLength(8);
    const pdf = new TextDecoder('latin1').decode(await drawingPdf(front));
    expect(pdf.match(/ c\n/g)!.length).toBeGreaterThanOrEqual(8);
  });
});

test('no word of a caution is cut off, however narrow the front is', () => {
  const narrow = frontOf(120, 300);
  const front = drillDrawingOf(designOn(narrow), narrow);
  const caution = front.notes.at(-1)!;
  const lines = wrappedNotes([caution], 120);
  expect(lines.join(' ')).toBe(caution);
  // Half of a letter's height is what a letter is wide.
  for (const line of lines) expect(line.length * 2).toBeLessThanOrEqual(125);
  const svg = drawingSvg(front);
  for (const line of lines) expect(svg).toContain(line.replaceAll('’', '’'));
  const height = Number(/height="([\d.]+)mm"/.exec(svg)![1]);
  const lowest = Math.max(...[...svg.matchAll(/ y="([\d.]+)" font/g)].map(([, y]) => Number(y)));
  expect(lowest).toBeLessThan(height);
});

test('a hole that its front is too small for is told loudly in every file', () => {
  const small = frontOf(180, 400);
  const front = drillDrawingOf(
    designOn(small, mountedDriver('Woofer', 0, 0, { frameMm: 266, flangeMm: 7, cutoutMm: 236 })),
    small,
  );
  expect(front.notes).toContain('DO NOT CUT: Woofer reaches over the edge of this front.');
});

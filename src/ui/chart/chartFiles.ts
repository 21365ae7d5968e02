import { linePath, placesOf, type Curve } from './curve';
import type { Plot } from './plot';

/** Units of a chart's two axes. */
export interface AxisUnits {
  readonly left: string;
  /** Of the axis on the right; empty without one. */
  readonly right: string;
}

/**
 * The curves of a chart as comma-separated values in full precision. A name that a spreadsheet would take
 * for a formula stays a name.
 */
export function curvesCsv(
  frequencyHz: Float64Array,
  curves: readonly Curve[],
  units: AxisUnits,
): string {
  const quoted = (text: string) => {
    const name = /^[=+@\t\r-]/.test(text) ? `'${text}` : text;
    return /[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name;
  };
  const header = [
    'frequency_Hz',
    ...curves.map(({ label, id, axis }) =>
      quoted(`${label || id} (${axis === 'right' ? units.right : units.left})`),
    ),
  ];
  const rows = Array.from(frequencyHz, (hz, i) =>
    [hz, ...curves.map(({ values }) => values[i])].join(','),
  );
  return [header.join(','), ...rows].join('\n') + '\n';
}

/**
 * A chart as one drawing: its frame, its lines as paths instead of on a canvas, and what lies over
 * them.
 */
export function wholeDrawing(
  chart: HTMLElement,
  {
    frequencyHz,
    curves,
    plot,
  }: { readonly frequencyHz: Float64Array; readonly curves: readonly Curve[]; readonly plot: Plot },
): SVGSVGElement | null {
  const [frame, overlay] = chart.querySelectorAll('svg');
  if (!overlay) return null;
  const whole = frame.cloneNode(true) as SVGSVGElement;
  const over = overlay.cloneNode(true) as SVGSVGElement;
  const lines = document.createElementNS(frame.namespaceURI, 'g');
  const clip = over.querySelector('clipPath')!.id;
  lines.setAttribute('clip-path', `url(#${clip})`);
  const places = placesOf(frequencyHz, plot.x);
  for (const curve of curves) {
    const { values, colour, width = 1.4, dash } = curve;
    const path = document.createElementNS(frame.namespaceURI, 'path');
    const attributes = {
      d: linePath(places, values, plot.y(curve)),
      fill: 'none',
      stroke: colour,
      'stroke-width': String(width),
      'stroke-linejoin': 'round',
      ...(dash === undefined ? {} : { 'stroke-dasharray': dash }),
    };
    for (const [name, value] of Object.entries(attributes)) path.setAttribute(name, value);
    lines.append(path);
  }
  whole.append(lines, ...over.childNodes);
  return whole;
}

/**
 * The chart as a stand-alone SVG: colours and font are written out, as the variables stay behind.
 */
export function chartSvg(drawing: SVGSVGElement): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const style = getComputedStyle(document.documentElement);
  const resolved = (text: string) =>
    text.replace(/var\((--[\w-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim());
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('style', `background: ${resolved('var(--sheet)')}; font-family: sans-serif`);
  return resolved(new XMLSerializer().serializeToString(copy));
}

/** The chart as a PNG at twice its size on screen. */
export async function chartPng(drawing: SVGSVGElement): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(chartSvg(drawing))}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = Number(drawing.getAttribute('width')) * 2;
  canvas.height = Number(drawing.getAttribute('height')) * 2;
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))),
      'image/png',
    ),
  );
}

import type { Curve } from './curve';

/** The curves of a chart as comma-separated values in full precision. */
export function curvesCsv(
  frequencyHz: Float64Array,
  curves: readonly Curve[],
  unit: string,
): string {
  const quoted = (name: string) => (/[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);
  const header = [
    'frequency_Hz',
    ...curves.map(({ label, id, axis }) =>
      quoted(`${label || id}${axis === 'right' ? '' : ` (${unit})`}`),
    ),
  ];
  const rows = Array.from(frequencyHz, (hz, i) =>
    [hz, ...curves.map(({ values }) => values[i])].join(','),
  );
  return [header.join(','), ...rows].join('\n') + '\n';
}

/** The chart as a stand-alone SVG: colours and font are written out, as the variables stay behind. */
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
  canvas.width = drawing.clientWidth * 2;
  canvas.height = drawing.clientHeight * 2;
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))),
      'image/png',
    ),
  );
}

import { planes, relativeLevels, type AroundView } from '@/core/around/orbits';
import { contourPaths, xOf, yOf, type MapPlot } from './paint';

/** Both maps as they are on the screen, beneath each other. */
export async function mapPng(page: HTMLElement): Promise<Blob> {
  const drawn = [...page.querySelectorAll<HTMLCanvasElement>('[data-map] canvas')];
  const title = 18 * window.devicePixelRatio;
  const whole = document.createElement('canvas');
  whole.width = Math.max(...drawn.map(({ width }) => width));
  whole.height = drawn.reduce((sum, { height }) => sum + height + title, 0);
  const context = whole.getContext('2d')!;
  const style = getComputedStyle(document.documentElement);
  context.fillStyle = style.getPropertyValue('--sheet').trim();
  context.fillRect(0, 0, whole.width, whole.height);
  context.font = `${12 * window.devicePixelRatio}px sans-serif`;
  let y = 0;
  for (const map of drawn) {
    context.fillStyle = style.getPropertyValue('--ink').trim();
    context.fillText(map.parentElement?.dataset.map ?? '', 4, y + title * 0.75);
    context.drawImage(map, 0, y + title);
    y += map.height + title;
  }
  return new Promise((resolve, reject) =>
    whole.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))),
      'image/png',
    ),
  );
}

const plot: MapPlot = { width: 700, height: 230, fromHz: 20, toHz: 20_000, mostDeg: 180 };
const margin = { left: 44, top: 22, bottom: 24 };

/** Both maps as lines of equal level against the axis, every 3 dB. */
export function mapSvg(page: HTMLElement, { frequencyHz, orbits }: AroundView): string {
  const style = getComputedStyle(page);
  const ink = style.getPropertyValue('--ink').trim();
  const rowHeight = margin.top + plot.height + margin.bottom;
  const maps = planes.map((plane, p) => {
    const orbit = orbits[plane];
    const levels = relativeLevels(orbit, frequencyHz.length, 0);
    const lines = contourPaths(
      orbit,
      frequencyHz,
      levels,
      { lowestDb: -30, highestDb: 9 },
      plot,
    ).map(
      ({ db, path }) =>
        `<path d="${path}" fill="none" stroke="${ink}" stroke-width="${db === 0 ? 1.4 : 0.7}"><title>${db} dB</title></path>`,
    );
    const angles = [-180, -90, 0, 90, 180].map(
      (degrees) =>
        `<text x="-6" y="${(yOf(plot, degrees) + 3).toFixed(1)}" text-anchor="end">${degrees}°</text>`,
    );
    const frequencies = [20, 100, 1000, 10_000, 20_000].map(
      (hz) =>
        `<text x="${xOf(plot, hz).toFixed(1)}" y="${plot.height + 14}" text-anchor="middle">${hz}</text>`,
    );
    return `<g transform="translate(${margin.left} ${p * rowHeight + margin.top})"><text x="0" y="-8">${plane}, dB against the axis, lines every 3 dB</text><rect width="${plot.width}" height="${plot.height}" fill="none" stroke="${ink}" stroke-width="0.5"/>${lines.join('')}${angles.join('')}${frequencies.join('')}</g>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${plot.width + margin.left + 16}" height="${2 * rowHeight}" font-family="sans-serif" font-size="11" fill="${ink}">${maps.join('')}</svg>`;
}

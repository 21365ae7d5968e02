import { contours } from 'd3-contour';
import type { OrbitMap } from '@/core/around/orbits';
import { rampOf } from './ramp';

/** Levels that the ramp spans, dB; what is outside has the colour of the end. */
export interface MapScale {
  readonly lowestDb: number;
  readonly highestDb: number;
}

/** Distance of the lines, dB. */
export const lineStepDb = 3;
const rampSteps = 256;

/** The drawing area, and what of the plane it shows. */
export interface MapPlot {
  readonly width: number;
  readonly height: number;
  readonly fromHz: number;
  readonly toHz: number;
  /** Shown to each side of the axis, degrees. */
  readonly mostDeg: number;
}

export const xOf = ({ width, fromHz, toHz }: MapPlot, hz: number): number =>
  (width * Math.log(hz / fromHz)) / Math.log(toHz / fromHz);
export const yOf = ({ height, mostDeg }: MapPlot, degrees: number): number =>
  (height * (mostDeg - degrees)) / (2 * mostDeg);

interface Painted {
  readonly orbit: OrbitMap;
  readonly frequencyHz: Float64Array;
  readonly levelDb: Float32Array;
  readonly scale: MapScale;
  readonly plot: MapPlot;
  readonly pixelRatio: number;
  /** Colours of the ramp from the lowest up, of lines, and of hatching. */
  readonly colours: {
    readonly ramp: readonly string[];
    readonly line: string;
    readonly hatch: string;
  };
}

/** Paints levels as areas of colour with lines between them; what was modelled is hatched. */
export function paintMap(canvas: HTMLCanvasElement, painted: Painted): void {
  const { orbit, frequencyHz, levelDb, scale, plot, pixelRatio, colours } = painted;
  const [width, height] = [plot.width, plot.height].map((px) => Math.round(px * pixelRatio));
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext('2d');
  if (!context || width === 0 || height === 0) return;
  const rows = rowPlaces(orbit, plot, height);
  const columns = columnPlaces(frequencyHz, plot, width);
  const ramp = rampOf(colours.ramp, rampSteps);
  const image = context.createImageData(width, height);
  const points = frequencyHz.length;
  const perDb = (rampSteps - 1) / (scale.highestDb - scale.lowestDb);
  for (let y = 0, at = 0; y < height; y++) {
    const { low, high, share } = rows[y];
    for (let x = 0; x < width; x++, at += 4) {
      const i = columns.place[x];
      const across = columns.share[x];
      const a = levelDb[low * points + i];
      const b = levelDb[low * points + i + 1];
      const c = levelDb[high * points + i];
      const d = levelDb[high * points + i + 1];
      const lower = a + across * (b - a);
      const db = lower + share * (c + across * (d - c) - lower);
      if (!Number.isFinite(db)) continue;
      const step = Math.min(rampSteps - 1, Math.max(0, Math.round((db - scale.lowestDb) * perDb)));
      image.data[at] = ramp[3 * step];
      image.data[at + 1] = ramp[3 * step + 1];
      image.data[at + 2] = ramp[3 * step + 2];
      image.data[at + 3] = 255;
    }
  }
  context.putImageData(image, 0, 0);
  context.setTransform(pixelRatio, 0, 0, pixelRatio, 0, 0);
  hatch(context, orbit, plot, colours.hatch);
  drawLines(context, painted);
}

/** For each row of pixels the angles that it lies between. */
function rowPlaces({ degrees }: OrbitMap, plot: MapPlot, height: number) {
  return Array.from({ length: height }, (_, y) => {
    const angle = plot.mostDeg - ((y + 0.5) / height) * 2 * plot.mostDeg;
    const above = degrees.findIndex((one) => one >= angle);
    // Below the lowest angle lies the rear, which is behind the highest.
    const low = above <= 0 ? degrees.length - 1 : above - 1;
    const high = above < 0 ? degrees.length - 1 : above;
    const from = above <= 0 ? degrees[low] - 360 : degrees[low];
    return { low, high, share: high === low ? 0 : (angle - from) / (degrees[high] - from) };
  });
}

function columnPlaces(frequencyHz: Float64Array, plot: MapPlot, width: number) {
  const place = new Int32Array(width);
  const share = new Float64Array(width);
  let i = 0;
  for (let x = 0; x < width; x++) {
    const hz = plot.fromHz * (plot.toHz / plot.fromHz) ** ((x + 0.5) / width);
    while (i < frequencyHz.length - 2 && frequencyHz[i + 1] < hz) i++;
    place[x] = i;
    share[x] = Math.min(
      1,
      Math.max(0, Math.log(hz / frequencyHz[i]) / Math.log(frequencyHz[i + 1] / frequencyHz[i])),
    );
  }
  return { place, share };
}

/** Lines of equal level every 3 dB, that of the reference stronger. */
function drawLines(
  context: CanvasRenderingContext2D,
  { orbit, frequencyHz, levelDb, scale, plot, colours }: Painted,
): void {
  for (const { path, db } of contourPaths(orbit, frequencyHz, levelDb, scale, plot)) {
    context.strokeStyle = colours.line;
    context.globalAlpha = db === 0 ? 0.9 : 0.4;
    context.lineWidth = db === 0 ? 1.4 : 0.8;
    context.stroke(new Path2D(path));
  }
  context.globalAlpha = 1;
}

/** The lines as paths over the drawing area. */
export function contourPaths(
  { degrees }: OrbitMap,
  frequencyHz: Float64Array,
  levelDb: Float32Array,
  { lowestDb, highestDb }: MapScale,
  plot: MapPlot,
): { readonly db: number; readonly path: string }[] {
  const points = frequencyHz.length;
  const thresholds: number[] = [];
  // Near the end of the ramp lines would follow noise.
  const first = Math.ceil((lowestDb + 2 * lineStepDb) / lineStepDb) * lineStepDb;
  for (let db = first; db <= highestDb; db += lineStepDb) thresholds.push(db);
  const values = Array.from(levelDb, (db) => (Number.isFinite(db) ? db : lowestDb - 60));
  const stepHz = Math.log(frequencyHz[1] / frequencyHz[0]);
  const stepDeg = degrees[1] - degrees[0];
  const place = ([column, row]: readonly number[]): [number, number] => [
    xOf(plot, frequencyHz[0] * Math.exp((column - 0.5) * stepHz)),
    yOf(plot, degrees[0] + (row - 0.5) * stepDeg),
  ];
  const isRim = ([column, row]: readonly number[]) =>
    column <= 0 || row <= 0 || column >= points || row >= degrees.length;
  return contours()
    .size([points, degrees.length])
    .thresholds(thresholds)(values)
    .map(({ value, coordinates }) => {
      let path = '';
      for (const polygon of coordinates)
        for (const ring of polygon) {
          let pen = 'M';
          for (const corner of ring) {
            // The rim of the map is no line of equal level.
            if (isRim(corner)) {
              pen = 'M';
              continue;
            }
            const [x, y] = place(corner);
            if (y < -1 || y > plot.height + 1) {
              pen = 'M';
              continue;
            }
            path += `${pen}${x.toFixed(1)} ${y.toFixed(1)}`;
            pen = 'L';
          }
        }
      return { db: value, path };
    })
    .filter(({ path }) => path !== '');
}

/** Slanted lines over the angles that were not measured. */
function hatch(
  context: CanvasRenderingContext2D,
  { degrees, sources }: OrbitMap,
  plot: MapPlot,
  colour: string,
): void {
  const step = degrees[1] - degrees[0];
  const apart = 7;
  context.strokeStyle = colour;
  context.globalAlpha = 0.45;
  context.lineWidth = 0.7;
  degrees.forEach((angle, a) => {
    if (sources[a] !== 'modelled') return;
    const [top, bottom] = [angle + step / 2, angle - step / 2].map((one) => yOf(plot, one));
    context.save();
    context.beginPath();
    context.rect(0, top, plot.width, bottom - top);
    context.clip();
    context.beginPath();
    for (let x = -plot.height; x < plot.width; x += apart) {
      context.moveTo(x, plot.height);
      context.lineTo(x + plot.height, 0);
    }
    context.stroke();
    context.restore();
  });
  context.globalAlpha = 1;
}

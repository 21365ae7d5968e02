/** A line over frequency. */
export interface Curve {
  readonly id: string;
  readonly label: string;
  /** One value per frequency; values that aren't finite leave a gap. */
  readonly values: Float64Array;
  readonly colour: string;
  /** SVG dash pattern; none for a full line. */
  readonly dash?: string;
  readonly width?: number;
  /** Scale that it is read on. */
  readonly axis?: 'left' | 'right';
  /** A limit or target: drawn, but not read by the cursor and not taken out as numbers. */
  readonly isGuide?: boolean;
  /** Where its name is written. */
  readonly labelAt?: 'start' | 'end';
}

/**
 * Curves that change between renders: calls with each newer set, until the returned function is
 * called.
 */
export type LiveCurves = (draw: (newest: readonly Curve[]) => void) => () => void;

export type Scale = (value: number) => number;

/**
 * Numbers written with at most one decimal; writing them anew for every point would take most of
 * the drawing time.
 */
const written: string[] = [];

/** Coordinate to a tenth of a pixel. */
function tenths(pixels: number): string {
  const n = Math.round(pixels * 10);
  return n >= 0 && n < 20_000 ? (written[n] ??= String(n / 10)) : String(n / 10);
}

/** Where the frequencies lie, ready to be written into paths: they stay while values move. */
export const placesOf = (frequencyHz: Float64Array, x: Scale): string[] =>
  Array.from(frequencyHz, (hz) => tenths(x(hz)));

/** SVG path of a curve over given places. */
export function linePath(places: readonly string[], values: Float64Array, y: Scale): string {
  let path = '';
  let pen = 'M';
  for (let i = 0; i < values.length; i++) {
    if (!Number.isFinite(values[i])) {
      pen = 'M';
      continue;
    }
    path += pen + places[i] + ' ' + tenths(y(values[i]));
    pen = 'L';
  }
  return path;
}

/** Frequencies labelled on the axis: 1-2-5 in each decade. */
export function frequencyTicks(fromHz: number, toHz: number): number[] {
  const ticks: number[] = [];
  for (let decade = 1; decade <= 1e5; decade *= 10)
    for (const step of [1, 2, 5])
      if (step * decade >= fromHz * 0.999 && step * decade <= toHz * 1.001)
        ticks.push(step * decade);
  return ticks;
}

/** 50, 200, 1k, 20k */
export const shortHz = (hz: number) => (hz >= 1000 ? `${hz / 1000}k` : String(hz));

/** A stretch of frequency that is set apart, and why. */
export interface ChartMark {
  readonly fromHz: number;
  readonly toHz: number;
  readonly label: string;
}

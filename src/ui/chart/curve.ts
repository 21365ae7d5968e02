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
  /** Where its name stands. */
  readonly labelAt?: 'start' | 'end';
}

export type Scale = (value: number) => number;

/** SVG path of a curve; coordinates to a tenth of a pixel. */
export function linePath(
  frequencyHz: Float64Array,
  values: Float64Array,
  x: Scale,
  y: Scale,
): string {
  let path = '';
  let pen = 'M';
  for (let i = 0; i < values.length; i++) {
    if (!Number.isFinite(values[i])) {
      pen = 'M';
      continue;
    }
    path += `${pen}${x(frequencyHz[i]).toFixed(1)} ${y(values[i]).toFixed(1)}`;
    pen = 'L';
  }
  return path;
}

/** Index of the frequency nearest by ratio. */
export function nearestIndex(frequencyHz: Float64Array, hz: number): number {
  let low = 0;
  let high = frequencyHz.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (frequencyHz[middle] <= hz) low = middle;
    else high = middle;
  }
  return hz * hz > frequencyHz[low] * frequencyHz[high] ? high : low;
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

/**
 * What a chart shows of the plane. IEC 60263: a decade of frequency is as wide as 25 dB (or 50 dB)
 * is high, so that zooming takes both scales along and a curve can't be flattered by stretching.
 */
export interface ChartWindow {
  readonly fromHz: number;
  readonly toHz: number;
  readonly bottom: number;
  readonly top: number;
}

export interface Zoom {
  /** 1, 2 or 4. */
  readonly factor: number;
  readonly centreHz: number;
  readonly centreValue: number;
}

/** Part of the full window: 1/factor of both scales, around a centre, kept inside. */
export function zoomed(full: ChartWindow, { factor, centreHz, centreValue }: Zoom): ChartWindow {
  if (factor === 1) return full;
  const decades = Math.log10(full.toHz / full.fromHz);
  const width = decades / factor;
  const start = clamp(Math.log10(centreHz / full.fromHz) - width / 2, 0, decades - width);
  const height = (full.top - full.bottom) / factor;
  const bottom = clamp(centreValue - height / 2, full.bottom, full.top - height);
  return {
    fromHz: full.fromHz * 10 ** start,
    toHz: full.fromHz * 10 ** (start + width),
    bottom: Math.round(bottom),
    top: Math.round(bottom) + height,
  };
}

const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/** Round ticks, at most about seven. */
export function valueTicks(bottom: number, top: number): number[] {
  const rough = (top - bottom) / 6;
  const decade = 10 ** Math.floor(Math.log10(rough));
  const step = decade * ([1, 2, 5, 10].find((s) => s * decade >= rough) ?? 10);
  const ticks: number[] = [];
  for (let tick = Math.ceil(bottom / step) * step; tick <= top + step * 1e-6; tick += step)
    ticks.push(Number(tick.toPrecision(12)));
  return ticks;
}

type Values = readonly number[] | Float64Array;

const highestOf = (values: Values): number => {
  let highest = -Infinity;
  for (const value of values) if (Number.isFinite(value)) highest = Math.max(highest, value);
  return highest;
};

/**
 * Fifty decibels with the curve in their upper part; steps of ten keep the scale still while values
 * move.
 */
export function levelScale(levelsDb: Values): { bottom: number; top: number } {
  const highest = highestOf(levelsDb);
  const top = Number.isFinite(highest) ? Math.ceil((highest + 2) / 10) * 10 : 100;
  return { bottom: top - 50, top };
}

/** From 0 to a round end of scale above the highest impedance. */
export function ohmScale(ohms: Values): { bottom: number; top: number } {
  const highest = highestOf(ohms);
  return {
    bottom: 0,
    top: [10, 20, 30, 50, 100, 200, 500, 1000, 2000, 5000].find((top) => top >= highest) ?? 10_000,
  };
}

/** From 0 to a round end of scale above the greatest length. */
export function lengthScale(lengths: Values): { bottom: number; top: number } {
  const highest = Math.max(highestOf(lengths), 1e-3);
  const decade = 10 ** Math.floor(Math.log10(highest));
  return { bottom: 0, top: decade * ([1, 2, 5, 10].find((s) => s * decade >= highest) ?? 10) };
}

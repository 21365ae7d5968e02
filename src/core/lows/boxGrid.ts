import type { Box, BoxKind } from '@/core/document/boxSchema';

/* What a search for boxes looks at. */

/** Tunings that are looked at, over the driver's resonance: an octave to either side. */
export const tuningTimes = Array.from({ length: 31 }, (_, k) => 0.5 * 2 ** (k / 15));
export const fillsFor: Readonly<Record<BoxKind, readonly Box['fill'][]>> = {
  sealed: ['none', 'walls', 'half', 'full'],
  // Fill beyond the walls costs a tuned opening its output.
  vented: ['none', 'walls'],
  'passive-radiator': ['none', 'walls'],
  'open-baffle': ['none'],
  line: ['none'],
};
/** Diameters that tubes are sold in, mm (common practice). */
export const tubesMm = [40, 50, 60, 70, 80, 90, 100, 120, 150];
/** Linings of a line, Pa·s/m². */
export const liningsFor = [500, 1500, 3000, 6000];
export const lineLengthsMm = [900, 1200, 1500, 1800, 2200, 2600];
/** Passive cones beside the one that is stated: area over its own, and how many. */
export const passiveSizes = [1, Math.SQRT2, 2].flatMap((area) =>
  [1, 2].map((count) => ({ area, count })),
);

/** Between the tunings of the grid, octaves. */
export const finer = [-1 / 24, -1 / 48, 1 / 48, 1 / 24];
export const plainTube = { diameterMm: 60, count: 1, shape: 'round' } as const;

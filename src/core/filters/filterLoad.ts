import { designGridHz } from '@/core/grid/logGrid';
import { nearestIndex } from '@/core/grid/nearest';
import { impedanceOnGrid } from '@/core/measurement/onGrid';
import type { Samples } from '@/core/measurement/samples';
import type { Way } from '@/core/document/schema';

/** What a filter works into, on one grid. */
export interface FilterLoad {
  readonly frequencyHz: Float64Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/**
 * The impedances that were measured, joined to what a filter works into.
 *
 * @param impedances of the drivers at the end of a way, at least one
 */
export function loadOf(
  impedances: readonly Samples[],
  join: Way['endsJoin'] = 'parallel',
): FilterLoad {
  const frequencyHz = designGridHz();
  const loads = impedances.map((one) => impedanceOnGrid(one, frequencyHz));
  const re = new Float64Array(frequencyHz.length);
  const im = new Float64Array(frequencyHz.length);
  for (let i = 0; i < re.length; i++) {
    for (const load of loads) {
      // In parallel the admittances add up.
      const size = join === 'series' ? 1 : load.re[i] ** 2 + load.im[i] ** 2;
      re[i] += load.re[i] / size;
      im[i] += (join === 'series' ? load.im[i] : -load.im[i]) / size;
    }
    if (join === 'series') continue;
    const size = re[i] ** 2 + im[i] ** 2;
    re[i] /= size;
    im[i] /= -size;
  }
  return { frequencyHz, re, im };
}

/** |Z| at the frequency of the grid that is nearest, ohms. */
export function ohmsAt({ frequencyHz, re, im }: FilterLoad, hz: number): number {
  const i = nearestIndex(frequencyHz, hz);
  return Math.hypot(re[i], im[i]);
}

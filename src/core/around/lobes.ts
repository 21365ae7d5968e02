import type { Crossover } from '@/core/prediction/crossovers';
import { nearestIndex } from '@/core/grid/nearest';
import type { AroundView } from './orbits';

/** A direction in which two ways cancel near their crossover. */
interface Null {
  /** Up is positive. */
  readonly degrees: number;
  /** Level against the axis. */
  readonly db: number;
}

/** The vertical lobe of a crossover: what lies between its first nulls. */
export interface Lobe {
  readonly atHz: number;
  readonly above: Null | null;
  readonly below: Null | null;
}

/** Less deep than this it is no null, dB under the axis. */
const nullDb = -6;
/** Farther off the axis drivers beam, and what is weak there is no null of a crossover. */
const mostDeg = 60;

/** First nulls above and below the axis at each crossover, as finely as the orbit has steps. */
export function lobesOf(
  { frequencyHz, orbits: { vertical } }: AroundView,
  crossovers: readonly Pick<Crossover, 'atHz'>[],
): Lobe[] {
  const { degrees, levelDb } = vertical;
  const points = frequencyHz.length;
  const axis = degrees.indexOf(0);
  return crossovers.map(({ atHz }) => {
    const i = nearestIndex(frequencyHz, atHz);
    const level = (a: number) => levelDb[a * points + i] - levelDb[axis * points + i];
    const first = (step: 1 | -1): Null | null => {
      for (let a = axis + step; Math.abs(degrees[a]) <= mostDeg; a += step) {
        const isLowest = level(a) < level(a - step) && level(a) <= level(a + step);
        if (isLowest && level(a) <= nullDb) return { degrees: degrees[a], db: level(a) };
      }
      return null;
    };
    return { atHz, above: first(1), below: first(-1) };
  });
}

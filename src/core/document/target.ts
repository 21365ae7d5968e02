import type { Target } from './briefSchema';

/** A target curve with a name; its band is set by the designer. */
interface HouseTarget {
  readonly name: string;
  readonly why: string;
  readonly shape:
    | { readonly kind: 'flat' }
    | { readonly kind: 'tilt'; readonly dbPerOctave: number }
    | { readonly kind: 'shelf'; readonly stepHz: number; readonly lowsDb: number };
}

/** Our own starting points; the figures are ours, common practice, no source. */
export const houseTargets: readonly HouseTarget[] = [
  { name: 'Even light', why: 'level on axis, nothing added', shape: { kind: 'flat' } },
  {
    name: 'Reading lamp',
    why: 'falls by 0.2 dB per octave: kinder to bright recordings',
    shape: { kind: 'tilt', dbPerOctave: -0.2 },
  },
  {
    name: 'Low sun',
    why: 'falls by 0.5 dB per octave: for hard, live rooms',
    shape: { kind: 'tilt', dbPerOctave: -0.5 },
  },
  {
    name: 'Stove corner',
    why: '3 dB up below 150 Hz: for quiet listening far from walls',
    shape: { kind: 'shelf', stepHz: 150, lowsDb: 3 },
  },
];

/**
 * Level of a target relative to its own reference, dB: a tilt turns around 1 kHz, a shelf is 0 dB
 * in the highs (first order), points are joined by straight lines over log frequency and go on
 * level outside.
 *
 * @param hz frequency, Hz
 */
export function targetDb(target: Target, hz: number): number {
  switch (target.kind) {
    case 'flat':
      return 0;
    case 'tilt':
      return target.dbPerOctave * Math.log2(hz / 1000);
    case 'shelf': {
      const gain = 10 ** (target.lowsDb / 20);
      const [f2, f02] = [hz * hz, target.stepHz * target.stepHz];
      return 10 * Math.log10((f2 + gain * gain * f02) / (f2 + f02));
    }
    case 'points': {
      const { points } = target;
      const above = points.findIndex((point) => point.hz > hz);
      if (above < 0) return points[points.length - 1].db;
      if (above === 0) return points[0].db;
      const [a, b] = [points[above - 1], points[above]];
      return a.db + ((b.db - a.db) * Math.log(hz / a.hz)) / Math.log(b.hz / a.hz);
    }
  }
}

/** Points of a target in rising order of frequency; of several at one frequency the last counts. */
export function inOrder(points: readonly { readonly hz: number; readonly db: number }[]) {
  const byHz = new Map(points.map((point) => [point.hz, point]));
  return [...byHz.values()].sort((a, b) => a.hz - b.hz);
}

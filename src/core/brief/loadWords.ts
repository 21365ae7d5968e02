import { excessOf, type DriverLoad } from '@/core/prediction/strain';
import type { PowerRating } from '@/core/driver/rating';
import { excursionCrestFactor } from '@/core/document/programme';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { hertz, watts } from './consequence';

/** What a driver has to bear, in words. */
interface ToldLoad {
  /**
   * `moves up to ±1.2 mm of ±6.5 mm and takes 3.4 W …`, as a sentence goes on after the driver's
   * name.
   */
  readonly text: string;
  /** The same without limits: `moves up to ±1.2 mm and takes 3.4 W`. */
  readonly short: string;
  /** What is wrong with it, as sentences; empty when nothing is. */
  readonly warnings: readonly string[];
  readonly arithmetic: readonly string[];
}

const kindWords: Readonly<Record<PowerRating['kind'], string>> = {
  noise: 'noise (IEC 60268-5)',
  aes: 'AES',
  programme: 'programme, twice that of noise',
  system: 'power of a whole system',
};

const mm = (value: number) => `±${formatNumber(value, 2)} mm`;

/**
 * Tells a load: excursion against Xmax, which is about distortion, and power and mechanical limit,
 * which are about damage.
 */
export function tellLoad(load: DriverLoad): ToldLoad {
  const { excursionMm, excursionFromHz, xmaxMm, mechanicalMm, rating, needs } = load;
  const excess = excessOf(load);
  const isPartial = excursionFromHz > 0;
  const excursion =
    excursionMm === null
      ? `moves by what can’t be told yet (needs ${needs})`
      : `moves ${isPartial ? 'at least' : 'up to'} ${mm(excursionMm)}`;
  const limit = excursionMm === null || xmaxMm === null ? '' : ` of ${mm(xmaxMm)}`;
  const unknown = isPartial ? `, not known below ${hertz(excursionFromHz)},` : '';
  const power = `takes ${watts(load.watts)}`;
  const byRating =
    rating === null
      ? ''
      : ` (${watts(load.volts ** 2 / rating.ohms)} of ${watts(rating.watts)} by its rating)`;
  return {
    text: `${excursion}${limit}${unknown} and ${power}${byRating}.`,
    short: `${excursion}${unknown} and ${power}`,
    warnings: [
      ...(excess.mechanical !== null && excess.mechanical > 1
        ? [`That is beyond its mechanical limit of ${mm(mechanicalMm!)}: it may be damaged.`]
        : excess.excursion !== null && excess.excursion > 1
          ? ['That is beyond Xmax: it distorts.']
          : []),
      ...(excess.power !== null && excess.power > 1
        ? ['That is more power than its rating allows: its voice coil may burn out.']
        : []),
    ],
    arithmetic: [
      `${formatFixed(load.volts, 1)} V rms at it, programme of IEC 60268-1.`,
      ...(excursionMm === null ? [] : [excursionLine(load)]),
      ...(rating === null ? [] : [ratingLine(rating)]),
    ],
  };
}

const excursionFrom = {
  impedance: 'force factor and the impedance as measured, box included',
  figures: 'force factor and its figures (fs, Q, mass)',
  level:
    'the impedance as measured, with a force factor estimated from its level and Sd (within 3 dB, its sheet states none)',
} as const;

const excursionLine = ({ basis }: DriverLoad): string =>
  `Excursion from voltage, ${excursionFrom[basis ?? 'figures']}; peaks ${excursionCrestFactor} times the rms, as in ten seconds of noise. A port’s share is not in it.`;

function ratingLine(rating: PowerRating): string {
  const { kind, ohms, voltsSquared, statedWatts, isKindAssumed, areOhmsAssumed, filter } = rating;
  const assumed = isKindAssumed ? ', taken as the data sheet does not say which' : '';
  const share =
    filter !== null
      ? ` behind a high pass of order ${filter.order} at ${hertz(filter.hz)}: the coil gets ${watts(rating.watts)}`
      : kind === 'programme'
        ? `: ${watts(rating.watts)} of noise`
        : '';
  return `Rating: ${watts(statedWatts)}, ${kindWords[kind]}${assumed}${share}. ${formatNumber(rating.watts, 3)} W × ${formatNumber(ohms, 3)} Ω${areOhmsAssumed ? ' (assumed)' : ''} = ${formatNumber(voltsSquared, 3)} V²; compared by V²/Z, as it is defined.`;
}

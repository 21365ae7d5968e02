import { formatFixed, formatQuantity } from '@/core/units/quantity';
import type { Limit } from './goal';

const hz = (value: number) => formatQuantity(value, 'hertz');

const straightWords = {
  directivity: 'the directivity index',
  'sound-power': 'the sound power',
  'in-room': 'the predicted in-room response',
} as const;

/** A limit of a fit in words, as what follows “Keeps …”. */
export function limitWords(limit: Limit): string {
  switch (limit.kind) {
    case 'load':
      return `|Z| above ${formatFixed(limit.leastOhms, 1)} Ω`;
    case 'equivalent':
      return `equivalent resistance above ${formatFixed(limit.leastOhms, 1)} Ω`;
    case 'crossover-loss':
      return `at most ${formatFixed(limit.mostDb, 2)} dB lost between neighbours`;
    case 'level':
      return limit.at === 'terminals'
        ? `a sensitivity of ${formatFixed(limit.leastDb, 1)} dB`
        : 'the level at the seat';
    case 'cut-off':
      // It aims a little below what is promised, which is told as it was promised.
      return `F${limit.fallDb} at most ${hz(Number(limit.mostHz.toPrecision(3)))}, as far as the network moves it`;
    case 'driver-power':
      return 'drivers within their rated power';
    case 'excursion':
      return 'drivers within Xmax';
    case 'resonance':
      return 'resonances out of reach';
    case 'crossover-place':
      return 'crossovers not above where drivers beam or cancel';
    case 'crossover-floor':
      return `tweeters crossed over ${formatFixed(limit.leastOctaves, 1)} octaves above their resonance, or higher`;
    case 'target-slopes':
      return `the target slopes of ${limit.ways.length} of the ways within ±${formatFixed(limit.mostDb, 1)} dB`;
    case 'on-axis':
      return `the response on axis within ±${formatFixed(limit.withinDb, 1)} dB`;
    case 'window':
      return `the listening window within ±${formatFixed(limit.withinDb, 1)} dB`;
    case 'straight':
      return `${straightWords[limit.of]} within ±${formatFixed(limit.withinDb, 1)} dB of a straight line`;
    case 'index-slope':
      return 'the slope of the directivity index';
    case 'places':
      return `${limit.ids.length === 1 ? 'one direction' : `${limit.ids.length} seats`} within ±${formatFixed(limit.withinDb, 1)} dB`;
    case 'heat':
      return `no resistor above ${formatFixed(limit.mostWatts, 1)} W`;
    case 'outlay':
      return `parts for at most ${formatFixed(limit.most, 0)}`;
    case 'lows':
      return `from ${hz(Number(limit.fromHz.toPrecision(2)))} to the target's band within ${formatFixed(limit.withinDb, 1)} dB of what the lowest driver does by itself, which gives way before any promise`;
  }
}

import type { Goal, Limit } from '@/core/fitting/goal';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { Quiet } from '@/ui/sheets';

const hz = (value: number) => formatQuantity(value, 'hertz');

const straightWords = {
  directivity: 'the directivity index',
  'sound-power': 'the sound power',
  'in-room': 'the predicted in-room response',
} as const;

/** A limit in words. */
function words(limit: Limit): string | null {
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
    case 'target-slopes':
      return `the target slopes of ${limit.ways.length} of the ways within ±${formatFixed(limit.mostDb, 1)} dB`;
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
      return null;
  }
}

/** What a fit keeps, and what it makes small. */
export function FitAims({ goal: { onAxis, limits } }: { readonly goal: Goal }) {
  const kept = limits.flatMap((limit) => words(limit) ?? []);
  return (
    <Quiet>
      {kept.length > 0 ? `Keeps ${kept.join('; ')}. ` : ''}
      Among what keeps these, makes the greatest deviation on axis from {hz(
        onAxis.band.fromHz,
      )} to {hz(onAxis.band.toHz)} as small as it can be. Nothing that is kept now is broken for it.
    </Quiet>
  );
}

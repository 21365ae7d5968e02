import { brokenCountOf } from './shortlist';
import { type FoundNetwork } from './found';
import { formatFixed } from '@/core/units/quantity';

/** A network that one would take for one thing, and why. */
export interface Pick {
  readonly bestFor: string;
  readonly because: string;
  readonly network: FoundNetwork;
}

/** This much more error than the least is no difference that anybody hears at once, dB. */
const nearDb = 0.3;

const least = (
  networks: readonly FoundNetwork[],
  of: (network: FoundNetwork) => number,
): FoundNetwork | null =>
  networks.reduce<FoundNetwork | null>(
    (best, one) => (best === null || of(one) < of(best) ? one : best),
    null,
  );

/**
 * What each of some networks is best for, among those that break the fewest promises: response,
 * simplicity, money, tolerances, load. The last four among those of little more error than the best.
 */
export function picksOf(networks: readonly FoundNetwork[]): Pick[] {
  const fewest = Math.min(...networks.map(brokenCountOf));
  const sound = networks.filter((one) => brokenCountOf(one) === fewest);
  const best = least(sound, ({ figures }) => figures.errorDb);
  if (!best) return [];
  const near = sound.filter(({ figures }) => figures.errorDb <= best.figures.errorDb + nearDb);
  const kept = fewest === 0 ? 'keeps all promises' : `breaks ${fewest}, the fewest`;
  const within = `within ${formatFixed(nearDb, 1)} dB of the best`;
  const picks: (Pick | null)[] = [
    {
      bestFor: 'response',
      because: `±${formatFixed(best.figures.errorDb, 2)} dB, the least of all; ${kept}`,
      network: best,
    },
    pick(
      'few parts',
      least(near, ({ partCount }) => partCount),
      ({ partCount }) => `${partCount} parts, ${within}; ${kept}`,
    ),
    pick(
      'money',
      least(near, ({ figures }) => figures.outlay),
      ({ figures }) => `parts for ${formatFixed(figures.outlay, 0)}, ${within}; ${kept}`,
    ),
    pick(
      'tolerances',
      // Of as many builds that keep all the one that moves least.
      least(near, ({ keptShare, scatterDb }) => scatterDb - 100 * (keptShare ?? 0)),
      ({ keptShare, scatterDb }) =>
        keptShare === null
          ? `parts within ±5 % move it by ${formatFixed(scatterDb, 2)} dB rms; ${kept}`
          : `${formatFixed(100 * keptShare, 0)} of 100 builds keep what it keeps; ${kept}`,
    ),
    pick(
      'the amplifier',
      least(near, ({ figures }) => -figures.lowestOhms),
      ({ figures }) => `never under ${formatFixed(figures.lowestOhms, 1)} Ω; ${kept}`,
    ),
  ];
  return picks.filter((one) => one !== null);
}

const pick = (
  bestFor: string,
  network: FoundNetwork | null,
  because: (network: FoundNetwork) => string,
): Pick | null => network && { bestFor, because: because(network), network };

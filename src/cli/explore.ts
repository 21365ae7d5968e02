import type { Design } from '@/core/document/schema';
import { withoutBounds, withWays } from '@/core/filters/grammar';
import { brokenCountOf } from '@/core/exploration/shortlist';
import {
  createExploration,
  explore as exploreDesign,
  tryNetwork,
  type TryAll,
} from '@/core/exploration/explore';
import { type FoundNetwork } from '@/core/exploration/found';
import { noPartLimits } from '@/core/fitting/limits';
import { positiveOption, readArguments, toleranceOf, type Command } from './command';
import { readDesignFile } from './input/designFile';
import { emit } from './input/files';

export const explore: Command = {
  help: `fair explore DESIGN.json|PROJECT.zip [--seconds S] [limits]

Searches whole networks for the drivers of a design from nothing: orders, L-pads, polarity,
Zobel networks and traps, each fitted to what the promises ask. Its own network does not
matter. Writes JSON {seconds, tried, networks:[{parts, error, deviation_db, tracking_deg,
loss_db, lowest_ohms, cost, scatter_db, yield, broken, crossovers:[{between, hz,
slopes_db_per_octave}], promises:[{id, kind, value, limit, kept}], words, design}]}: those
that nothing simpler beats, with the fewest broken promises first, then those that nine of
ten builds keep. The error is the deviation in decibels; yield the share of builds from
parts within the tolerance that keep what the network keeps.

  --seed N          for callers that set one everywhere; nothing is drawn, every seed gives
                    the same answer

  --seconds S       look at no further networks after S seconds
  --most-parts N    at most N parts (14)
  --most-cost C     parts cost at most C in all, at the usual rates
  --most-heat W     no resistor hotter than W watts under programme at the amplifier's power
  --largest-coil L  no coil above L henries
  --tolerance P     parts within ± P percent, to which limits keep a reserve (5; 0 for none)
  --out FILE        write to FILE instead of standard output

Example:
  fair explore demo/reading-room/design.json --most-parts 8 --seconds 20`,
  async run(args) {
    const { values, positionals } = readArguments(
      'explore',
      args,
      {
        seconds: { type: 'string' },
        seed: { type: 'string' },
        'most-parts': { type: 'string' },
        'most-cost': { type: 'string' },
        'most-heat': { type: 'string' },
        'largest-coil': { type: 'string' },
        tolerance: { type: 'string' },
        out: { type: 'string' },
      },
      1,
    );
    const option = <T>(name: Exclude<keyof typeof values, 'out' | 'help'>, usual: T) =>
      values[name] === undefined ? usual : positiveOption('explore', name, values[name]);
    const seconds = option('seconds', Infinity);
    const { design, data } = readDesignFile(positionals[0]);
    const exploration = createExploration(design, data, {
      ...noPartLimits,
      mostParts: Math.floor(option('most-parts', 14)),
      mostOutlay: option('most-cost', null),
      mostWatts: option('most-heat', null),
      mostHenries: option('largest-coil', null),
      stock: null,
      tolerance: toleranceOf('explore', values.tolerance),
    });
    const began = performance.now();
    const elapsed = () => (performance.now() - began) / 1000;
    // Something is left to finish what was found.
    const shares = { look: 1 / 2, grow: 0.75, finish: 1, stock: 1 } as const;
    const tryAll: TryAll = ({ tries, effort }) => {
      const found: FoundNetwork[] = [];
      for (const wish of tries) {
        if (found.length > 0 && elapsed() > shares[effort] * seconds) break;
        const network = tryNetwork(exploration, wish, effort);
        if (network) found.push(network);
      }
      return Promise.resolve(found);
    };
    const { networks, tried } = await exploreDesign(exploration, tryAll);
    const report = {
      tried,
      seconds: elapsed(),
      networks: networks.map((network) => toldNetwork(network, design)),
    };
    emit(`${JSON.stringify(report, null, 2)}\n`, values.out);
  },
};

/** A network as the command tells it. */
const toldNetwork = (network: FoundNetwork, design: Design) => ({
  parts: network.partCount,
  error: network.figures.errorDb,
  deviation_db: network.figures.deviationDb,
  window_db: network.figures.windowDb,
  directivity_db: network.figures.directivityDb,
  tracking_deg: network.report?.trackingDeg ?? null,
  loss_db: network.report?.lossDb ?? network.figures.lossDb,
  lowest_ohms: network.figures.lowestOhms,
  cost: network.figures.outlay,
  scatter_db: network.scatterDb,
  yield: network.keptShare,
  broken: brokenCountOf(network),
  crossovers: (network.report?.crossovers ?? []).map(({ between, hz, slopesDb }) => ({
    between,
    hz,
    slopes_db_per_octave: slopesDb,
  })),
  promises: (network.report?.promises ?? []).map(
    ({ id, kind, value, atLeast, atMost, isKept }) => ({
      ...{ id, kind, value },
      limit: atMost ?? atLeast,
      kept: isKept,
    }),
  ),
  words: network.words,
  design: withWays(design, withoutBounds(network.ways)),
});

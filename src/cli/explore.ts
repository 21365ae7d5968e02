import {
  createExploration,
  explore as exploreDesign,
  tryNetwork,
  type FoundNetwork,
  type TryAll,
} from '@/core/fitting/explore';
import { noPartLimits } from '@/core/fitting/limits';
import { positiveOption, readArguments, type Command } from './command';
import { readDesignFile } from './designFile';
import { emit } from './files';

export const explore: Command = {
  help: `fair explore DESIGN.json|PROJECT.zip [--seconds S] [limits]

Searches whole networks for the drivers of a design from nothing: orders, pads, polarity,
corrections and traps, each fitted to what the promises ask. Its own network does not
matter. Writes JSON {tried, seconds, networks:[{error_db, deviation_db, parts, lowest_ohms,
scatter_db, cost, words, ways}]}: those of which none other is better in everything.

  --seconds S       look at no further networks after S seconds
  --most-parts N    at most N parts (14)
  --most-cost C     parts cost at most C in all, at the usual rates
  --most-heat W     no resistor hotter than W watts under programme at the amplifier's power
  --largest-coil L  no coil above L henries
  --out FILE        write to FILE instead of standard output

Example:
  fair explore demo/reading-room/design.json --most-parts 8 --seconds 20`,
  async run(args) {
    const { values, positionals } = readArguments(
      'explore',
      args,
      {
        seconds: { type: 'string' },
        'most-parts': { type: 'string' },
        'most-cost': { type: 'string' },
        'most-heat': { type: 'string' },
        'largest-coil': { type: 'string' },
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
    });
    const began = performance.now();
    const elapsed = () => (performance.now() - began) / 1000;
    // The first look may take two thirds of the time, so that something is left to finish what it
    // found.
    const shares = { look: 2 / 3, consider: 0.9, finish: 1 } as const;
    const tryAll: TryAll = ({ tries, effort }) => {
      const found: FoundNetwork[] = [];
      for (const { recipe, from } of tries) {
        if (found.length > 0 && elapsed() > shares[effort] * seconds) break;
        const network = tryNetwork(exploration, recipe, effort, from);
        if (network) found.push(network);
      }
      return Promise.resolve(found);
    };
    const { networks, tried } = await exploreDesign(exploration, tryAll);
    const report = {
      tried,
      seconds: elapsed(),
      networks: networks.map((network) => ({
        error_db: network.cost,
        deviation_db: network.figures.deviationDb,
        parts: network.partCount,
        lowest_ohms: network.figures.lowestOhms,
        scatter_db: network.scatterDb,
        cost: network.figures.outlay,
        words: network.words,
        ways: network.ways,
      })),
    };
    emit(`${JSON.stringify(report, null, 2)}\n`, values.out);
  },
};

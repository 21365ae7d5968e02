import { fitDesign, withFit, type FitResult } from '@/core/fitting/fit';
import { limitWords } from '@/core/fitting/limitWords';
import type { FitFigures } from '@/core/fitting/fitFigures';
import { problem } from '@/core/problem';
import { goalOf } from '@/core/fitting/goal';
import { noPartLimits } from '@/core/fitting/limits';
import { positiveOption, readArguments, toleranceOf, type Command } from './command';
import { readDesignFile } from './input/designFile';
import { emit } from './input/files';

/** Starts that are followed when no time is set. */
const usualStarts = 8;
/** More than any time that is worth waiting for. */
const mostStarts = 10_000;

export const fit: Command = {
  help: `fair fit DESIGN.json|PROJECT.zip [--seconds S] [--seed N]

Fits the values of the parts that are marked free, and the polarity of the ways. Limits that
the promises of the design set to its network are kept; among what keeps them the greatest
deviation on axis is made small. Nothing that is kept before is broken after. Losses of coils
follow their values. Writes JSON {summary:{…}, design:{…}}, the design with its new values.
The same seed gives the same answer, unless a time is set.

  --seed N       of the starts that are drawn (1)
  --seconds S    follow starts for S seconds, instead of ${usualStarts} of them
  --tolerance P  parts within ± P percent, to which limits keep a reserve (5; 0 for none)
  --out FILE     write to FILE instead of standard output

Example:
  fair fit demo/reading-room/design-to-fit.json --seed 1`,
  run(args) {
    const { values, positionals } = readArguments(
      'fit',
      args,
      {
        seconds: { type: 'string' },
        seed: { type: 'string' },
        tolerance: { type: 'string' },
        out: { type: 'string' },
      },
      1,
    );
    const seconds =
      values.seconds === undefined ? null : positiveOption('fit', 'seconds', values.seconds);
    const seed = readSeed(values.seed ?? '1');
    const { design, data } = readDesignFile(positionals[0]);
    const began = performance.now();
    const elapsed = () => (performance.now() - began) / 1000;
    const starts = Array.from(
      { length: seconds === null ? usualStarts : mostStarts },
      (_, number) => number,
    );
    const tolerance = toleranceOf('fit', values.tolerance);
    const found = fitDesign(
      ...([design, data] as const),
      { seed, starts, shouldStop: () => seconds !== null && elapsed() > seconds },
      goalOf(design, { ...noPartLimits, tolerance }),
    );
    if (found.startCount === 0)
      throw problem(
        'no_start_followed',
        'fair fit --seconds',
        `${values.seconds} s were over before anything was fitted.`,
        'The design would have been written as it was.',
        'Give it more time.',
      );
    emit(
      `${JSON.stringify({ summary: summaryOf(found, elapsed()), design: withFit(design, found) }, null, 2)}\n`,
      values.out,
    );
  },
};

function readSeed(text: string): number {
  const seed = Number(text);
  if (Number.isInteger(seed) && seed >= 0 && seed < 2 ** 31) return seed;
  throw problem(
    'bad_option',
    'fair fit --seed',
    `“${text}” is not a seed.`,
    '',
    'Give a whole number from 0 on.',
  );
}

const figures = ({ deviationDb, rmsDb, lowestOhms, levelDb }: FitFigures) => ({
  deviation_db: deviationDb,
  rms_db: rmsDb,
  lowest_ohms: lowestOhms,
  level_db: levelDb,
});

const summaryOf = (found: FitResult, seconds: number) => ({
  error_before_db: found.before.figures.deviationDb,
  error_after_db: found.figures.deviationDb,
  limits_broken_before: found.before.figures.brokenCount,
  limits_broken_after: found.figures.brokenCount,
  turned: found.turned,
  contradictions: found.contradictions.map(({ limit, excessDb, figure }) => ({
    promise: limit.promiseId,
    limit: limitWords(limit),
    excess_db: excessDb,
    would_have_to_give_to: figure,
  })),
  before: figures(found.before.figures),
  after: figures(found.figures),
  starts: found.startCount,
  evaluations: found.evaluations,
  seconds,
});

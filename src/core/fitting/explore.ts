import { centreOf } from '@/core/prediction/figures';
import { usableWays } from '@/core/prediction/inspect';
import type { MeasurementData } from '@/core/measurement/samples';
import { endAt, plainWay, type Design, type Way } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import { problem, ProblemError } from '@/core/problem';
import { applyChange } from '@/core/editing/applyChange';
import { firstCandidates, variations } from './candidates';
import { createFitter, fitGridHz, settingsOf } from './fit';
import { goalOf, type Goal } from './goal';
import { createFitInputs, type FitInputs } from './inputs';
import type { SearchLimits } from './limits';
import {
  inWords,
  partCountOf,
  withNetwork,
  withWays,
  type DriverOutline,
  type NetworkRecipe,
} from './grammar';
import { createFitModel, type FitFigures } from './model';
import { variablesOf } from './variables';

/** A network that was found, with its values. */
export interface FoundNetwork {
  readonly recipe: NetworkRecipe;
  readonly ways: readonly Way[];
  readonly partCount: number;
  readonly cost: number;
  readonly figures: FitFigures;
  /** What parts within ±5 % of their values make of the response on axis, rms dB. */
  readonly scatterDb: number;
  /** Each way in words. */
  readonly words: readonly string[];
}

/** How much work a network is worth: a first look, a second, or a fit to its end. */
export type Effort = 'look' | 'consider' | 'finish';

/** Everything that trying networks needs. Made once for a design. */
export interface Exploration {
  readonly design: Design;
  readonly data: MeasurementData;
  readonly goal: Goal;
  readonly outlines: readonly DriverOutline[];
  readonly limits: SearchLimits;
  readonly inputs: { readonly look: FitInputs; readonly fit: FitInputs };
}

const steps: Readonly<Record<Effort, readonly [square: number, fourth: number]>> = {
  look: [10, 0],
  consider: [30, 10],
  finish: [60, 50],
};
/** A first look needs fewer points. */
const lookGridHz = (): Float64Array => logGrid(20, 20_000, 10);

/** Share of the first look that is considered, and how many of those are varied and finished. */
const kept = { considered: 60, varied: 14, finished: 24 };

/**
 * Prepares a search: the drivers in the order of the frequencies that they are best at.
 *
 * @param design with two to four drivers that have response and impedance; its own network does not
 *   matter
 * @throws ProblemError `search_without_drivers`
 */
export function createExploration(
  design: Design,
  data: MeasurementData,
  limits: SearchLimits,
): Exploration {
  const bare = {
    ...design,
    ways: design.drivers.map((driver) => ({
      ...plainWay,
      id: `way-${driver.id}`,
      name:
        design.ways.find(({ ends }) => ends.some((end) => end.driverId === driver.id))?.name ??
        driver.name,
      from: { kind: 'terminals' as const, pairId: design.terminals[0].id },
      ends: [endAt(driver.id)],
    })),
    bridges: [],
  };
  const fit = createFitInputs(fitGridHz());
  const { frequencyHz: grid, ofWays: inputs } = fit;
  const heard = usableWays(bare, data, fit.condition).flatMap((way) => {
    const [end] = way.ends;
    const { response } = end;
    if (!response) return [];
    const { re, im } = inputs.radiationOf({ ...end, response }, design);
    const level = re.map((value, i) => 10 * Math.log10(value * value + im[i] * im[i]));
    const load = inputs.loadOf(end);
    const ohms = load.re.map((value, i) => Math.hypot(value, load.im[i]));
    const nearest = (hz: number) => {
      const i = Math.round(24 * Math.log2(hz / grid[0]));
      return Math.max(0, Math.min(grid.length - 1, i));
    };
    return [
      {
        centre: centreOf(level),
        outline: {
          driver: end.driver,
          name: way.way.name,
          ohmsAt: (hz: number) => ohms[nearest(hz)],
        },
      },
    ];
  });
  if (heard.length < 2 || heard.length > 4)
    throw problem(
      'search_without_drivers',
      design.name,
      `${heard.length} drivers have a response and an impedance.`,
      'A search joins two to four.',
      heard.length < 2
        ? 'Give more drivers their measurements on the Bench.'
        : 'Take some drivers out of the design.',
    );
  return {
    design,
    data,
    limits,
    inputs: { look: createFitInputs(lookGridHz()), fit },
    goal: goalOf(design, limits),
    outlines: heard.sort((a, b) => a.centre - b.centre).map(({ outline }) => outline),
  };
}

/** A limit counts as kept when it is broken by no more than rounding to real values may mend. */
const slack = 1.02;

const keepsWithin = ({ mostOutlay, mostWatts }: SearchLimits, { figures }: FoundNetwork): boolean =>
  (mostOutlay === null || figures.outlay <= mostOutlay * slack) &&
  (mostWatts === null || (figures.hottestWatts ?? 0) <= mostWatts * slack);

/**
 * Fits one network.
 *
 * @param from values to go on from; the textbook's otherwise
 * @returns null when it can't be solved
 */
export function tryNetwork(
  { design, data, goal, outlines, limits, inputs }: Exploration,
  recipe: NetworkRecipe,
  effort: Effort,
  from: readonly Way[] | null = null,
): FoundNetwork | null {
  const start = from
    ? withWays(design, from)
    : withNetwork(design, recipe, outlines, limits.mostHenries);
  const variables = variablesOf(start);
  try {
    const model = createFitModel(
      start,
      data,
      goal,
      variables,
      effort === 'look' ? inputs.look : inputs.fit,
    );
    const fitter = createFitter(model, steps[effort]);
    const { logValues, cost, figures } = fitter.follow(model.start);
    if (!Number.isFinite(cost)) return null;
    const { ways } = applyChange(start, {
      type: 'setPartValues',
      values: settingsOf(variables, logValues),
    });
    return {
      recipe,
      ways,
      partCount: partCountOf(recipe),
      cost,
      figures,
      scatterDb: model.scatterDb(logValues, 0.05),
      words: inWords(recipe, outlines),
    };
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}

/** A network to be tried, from the textbook's values or from some that were found. */
export interface Try {
  readonly recipe: NetworkRecipe;
  readonly from: readonly Way[] | null;
}

/** Networks that can be tried independently of each other. */
export interface SearchStage {
  /** What is going on, in words. */
  readonly name: string;
  readonly effort: Effort;
  readonly tries: readonly Try[];
}

/**
 * The stage of a search that follows those that are over: looks at every sensible network,
 * considers the best of them, varies these, finishes what is left.
 *
 * @param before what each stage has found, from the first
 * @returns null when the search is over
 */
export function stageAfter(
  exploration: Exploration,
  before: readonly (readonly FoundNetwork[])[],
): SearchStage | null {
  const fresh = (recipes: readonly NetworkRecipe[]) =>
    recipes.map((recipe): Try => ({ recipe, from: null }));
  const goOn = (found: readonly FoundNetwork[]) =>
    found.map(({ recipe, ways }): Try => ({ recipe, from: ways }));
  const [looked, considered, varied] = before;
  switch (before.length) {
    case 0:
      return {
        name: 'looking at all networks',
        effort: 'look',
        tries: fresh(firstCandidates(exploration)),
      };
    case 1:
      return {
        name: 'considering the best',
        effort: 'consider',
        tries: goOn(bestOf(looked, kept.considered)),
      };
    case 2:
      return {
        name: 'adding traps and corrections',
        effort: 'consider',
        tries: fresh(variations(bestOf(considered, kept.varied), exploration.limits)),
      };
    case 3:
      return {
        name: 'finishing the best',
        effort: 'finish',
        tries: goOn(bestOf([...considered, ...varied], kept.finished)),
      };
    default:
      return null;
  }
}

/**
 * The best trades of the stages that are over. A first look is too short to be one, but better than
 * nothing.
 */
export const bestSoFar = (
  before: readonly (readonly FoundNetwork[])[],
  limits: SearchLimits,
): FoundNetwork[] =>
  paretoOf(
    (before.length > 1 ? before.slice(1).flat() : before.flat()).filter((one) =>
      keepsWithin(limits, one),
    ),
  );

/**
 * Tries all networks of a stage, perhaps several at a time, and tells those that could be solved.
 */
export type TryAll = (stage: SearchStage) => Promise<readonly FoundNetwork[]>;

export interface ExploreProgress {
  /** The stage that begins, in words; null at the end. */
  readonly stage: string | null;
  /** The best trades so far. */
  readonly best: readonly FoundNetwork[];
  /** Networks fitted since the search began. */
  readonly tried: number;
}

/**
 * Searches whole networks from nothing, stage by stage, and keeps those of which none is better in
 * everything.
 */
export async function explore(
  exploration: Exploration,
  tryAll: TryAll,
  onProgress: (progress: ExploreProgress) => void = () => undefined,
): Promise<{ readonly networks: readonly FoundNetwork[]; readonly tried: number }> {
  const before: (readonly FoundNetwork[])[] = [];
  for (;;) {
    const stage = stageAfter(exploration, before);
    const tried = before.flat().length;
    const best = bestSoFar(before, exploration.limits);
    onProgress({ stage: stage?.name ?? null, best, tried });
    if (!stage) return { networks: best, tried };
    before.push(await tryAll(stage));
  }
}

/**
 * The best by cost, with something of every number of parts, so that simple networks are not
 * crowded out.
 */
function bestOf(found: readonly FoundNetwork[], count: number): FoundNetwork[] {
  const byCost = [...found].sort((a, b) => a.cost - b.cost);
  const sizes = [...new Set(byCost.map(({ partCount }) => partCount))];
  const each = Math.max(1, Math.floor(count / 2 / Math.max(1, sizes.length)));
  const ofEach = sizes.flatMap((size) =>
    byCost.filter(({ partCount }) => partCount === size).slice(0, each),
  );
  const rest = byCost.filter((one) => !ofEach.includes(one));
  return [...ofEach, ...rest].slice(0, Math.max(count, ofEach.length));
}

/**
 * Networks of which none other is at least as good in everything: error, parts, load, scatter,
 * cost; fewest parts first.
 */
export function paretoOf(found: readonly FoundNetwork[]): FoundNetwork[] {
  const measures = ({ cost, partCount, figures, scatterDb }: FoundNetwork) => [
    Math.round(cost * 50) / 50,
    partCount,
    -Math.min(8, Math.round(figures.lowestOhms * 5) / 5),
    Math.round(scatterDb * 20) / 20,
    // Money in steps of a quarter: prices are not known better.
    Math.round(Math.log(figures.outlay) * 4),
  ];
  const told = found.map((network) => ({ network, values: measures(network) }));
  const isBetter = (a: readonly number[], b: readonly number[]) =>
    a.every((value, i) => value <= b[i]) && a.some((value, i) => value < b[i]);
  const best = told.filter(
    ({ values }, i) =>
      !told.some(
        (other, j) =>
          isBetter(other.values, values) ||
          (j < i && other.values.every((value, k) => value === values[k])),
      ),
  );
  return best
    .map(({ network }) => network)
    .sort((a, b) => a.partCount - b.partCount || a.cost - b.cost);
}

import { endAt, partsOf, plainWay, type Design, type Way } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { designGridHz, logGrid } from '@/core/grid/logGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { centreOf } from '@/core/prediction/figures';
import { usableWays } from '@/core/prediction/inspect';
import { createPredictor, type Predictor } from '@/core/prediction/predict';
import { problem, ProblemError } from '@/core/problem';
import { families, familyKey, neighboursOf, smallFrom } from './candidates';
import { createFitter, fitGridHz, settingsOf, type FitEffort, type Fitter } from './fit';
import { goalOf, type Goal, type Limit } from './goal';
import {
  inWords,
  isAtItsEnd,
  networkOf,
  partCountOf,
  withBoughtCoils,
  withWays,
  type Ancestor,
  type DriverOutline,
  type NetworkRecipe,
} from './grammar';
import { createFitInputs, type FitInputs } from './inputs';
import type { SearchLimits } from './limits';
import { createFitModel, type FitFigures, type FitModel } from './model';
import { reportOf, type NetworkReport } from './report';
import { variablesOf } from './variables';

/** A network that was found, with its values. */
export interface FoundNetwork {
  readonly recipe: NetworkRecipe;
  readonly emphasis: Emphasis;
  readonly ways: readonly Way[];
  readonly partCount: number;
  /** Deviation on axis, and decibels over limits times what they cost. */
  readonly merit: number;
  readonly figures: FitFigures;
  /** What parts within ±5 % of their values make of the response on axis, rms dB. */
  readonly scatterDb: number;
  /** Each way in words. */
  readonly words: readonly string[];
  /** How its promises stand and where it hands over; null until it was finished. */
  readonly report: NetworkReport | null;
}

/** How much work a network is worth: a first look, a step of growth, or a fit to its end. */
export type Effort = 'look' | 'grow' | 'finish';

/** Everything that trying networks needs. Made once for a design. */
export interface Exploration {
  readonly design: Design;
  readonly data: MeasurementData;
  readonly goal: Goal;
  readonly outlines: readonly DriverOutline[];
  readonly limits: SearchLimits;
  readonly inputs: Readonly<Record<'look' | 'fit' | 'last', FitInputs>>;
  /** On the grid of a fit, and on that by which designs are judged. */
  readonly predictors: Readonly<Record<'fit' | 'last', Predictor>>;
}

const efforts: Readonly<Record<Effort, FitEffort>> = {
  look: { valley: 8, greatest: 0, settledAt: 1e-3 },
  grow: { valley: 12, greatest: 6, settledAt: 5e-3 },
  finish: { valley: 40, greatest: 50, settledAt: 5e-4 },
};
const lastEffort: FitEffort = { valley: 0, greatest: 25, settledAt: 1e-4 };

/** Trying networks out needs fewer points than finishing them. */
const lookGridHz = (): Float64Array => logGrid(20, 20_000, 10);

/** Steps after which the polarity of a network is chosen. */
const turningEffort: FitEffort = { valley: 3, greatest: 0, settledAt: 1e-3 };

/** What a search keeps: for each number of parts, of which so many of one family. */
const kept = { grown: 5, ofFamily: 3, finished: 3, rounds: 4 };

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
  const own = new Map(
    design.drivers.map((driver) => [
      driver.id,
      design.ways.find(({ ends }) => ends.some((end) => end.driverId === driver.id)),
    ]),
  );
  const bare: Design = {
    ...design,
    ways: design.drivers.map((driver) => ({
      ...plainWay,
      id: `way-${driver.id}`,
      name: own.get(driver.id)?.name ?? driver.name,
      target: own.get(driver.id)?.target ?? null,
      ...{ parts: [], groups: [] },
      from: { kind: 'terminals' as const, pairId: design.terminals[0].id },
      ends: [endAt(driver.id)],
    })),
    ...{ bridges: [], switches: [], couplings: [] },
  };
  const fit = createFitInputs(fitGridHz());
  const { frequencyHz: grid, ofWays: inputs } = fit;
  const heard = usableWays(bare, data, fit.condition).flatMap(({ way, ends: [end] }) => {
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
    const outline: DriverOutline = {
      driver: end.driver,
      ...{ name: way.name, target: way.target },
      ohmsAt: (hz) => ohms[nearest(hz)],
      levelDb: middleOf(level),
    };
    return [{ centre: centreOf(level), outline }];
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
    ...{ design: bare, data, limits },
    inputs: {
      look: createFitInputs(lookGridHz()),
      fit,
      last: createFitInputs(designGridHz()),
    },
    predictors: { fit: createPredictor(fitGridHz()), last: createPredictor() },
    goal: goalOf(bare, limits),
    outlines: heard.sort((a, b) => a.centre - b.centre).map(({ outline }) => outline),
  };
}

/** Mean of the louder half of a level: of what a driver does where it plays. */
function middleOf(level: Float64Array): number {
  const sorted = level.filter(Number.isFinite).sort();
  const half = sorted.subarray(sorted.length >> 1);
  return half.reduce((sum, db) => sum + db, 0) / Math.max(1, half.length);
}

/** A network to be tried, from the textbook's values or from some that were found. */
export interface Try {
  readonly recipe: NetworkRecipe;
  readonly from: Ancestor | null;
  readonly emphasis: Emphasis;
  /** Merit above which a valley is not worth being settled in: others of its size are far below. */
  readonly bar: number | null;
}

/**
 * What a network is finished for. The same parts make different networks: with the low end as a
 * limit like any other, or left to the box; and with the response on axis before the phase of the
 * ways, which small networks can't have both.
 */
export type Emphasis = 'usual' | 'lows' | 'axis';

/** Factors on the weight of the limits that an emphasis is about. */
const emphases: Readonly<Record<Emphasis, Partial<Record<Limit['kind'], number>>>> = {
  usual: { 'cut-off': 0.1 },
  lows: { 'cut-off': 20 },
  axis: { 'cut-off': 0.02, 'crossover-loss': 0.004 },
};

/**
 * Fits one network, and finds its polarity.
 *
 * @returns null when it can't be solved
 */
export function tryNetwork(
  exploration: Exploration,
  wish: Try,
  effort: Effort,
): FoundNetwork | null {
  try {
    const best = followed(exploration, wish, effort);
    if (!best) return null;
    return effort === 'finish' ? finished(exploration, best) : best;
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}

const goalFor = ({ goal }: Exploration, emphasis: Emphasis): Goal => ({
  ...goal,
  limits: goal.limits.map((limit) => ({
    ...limit,
    weight: limit.weight * (emphases[emphasis][limit.kind] ?? 1),
  })),
});

interface Followed {
  readonly recipe: NetworkRecipe;
  readonly start: Design;
  readonly fitter: Fitter;
  readonly logValues: Float64Array;
  readonly merit: number;
}

/** Takes the best polarity of a network to where the effort ends. */
function followed(
  exploration: Exploration,
  { recipe, from, emphasis, bar }: Try,
  effort: Effort,
): FoundNetwork | null {
  const { outlines, limits, inputs } = exploration;
  const goal = goalFor(exploration, emphasis);
  const grid = effort === 'finish' ? inputs.fit : inputs.look;
  const ways = networkOf(recipe, outlines, limits.mostHenries, from);
  const begin = (turned: NetworkRecipe): Followed[] => {
    const start = withWays(exploration.design, withPolarityOf(ways, turned));
    const model = createFitModel(start, exploration.data, goal, variablesOf(start), grid);
    const fitter = createFitter(model);
    const logValues = effort === 'finish' ? model.start : fitter.valley(model.start, turningEffort);
    const merit = fitter.meritAt(logValues);
    return Number.isFinite(merit) ? [{ recipe: turned, start, fitter, logValues, merit }] : [];
  };
  const begun = begin(recipe);
  if (effort !== 'finish' && begun.length > 0)
    begun.push(
      ...likelyTurns(
        recipe,
        ways,
        begun[0].fitter.model,
        partCountOf(recipe) <= smallFrom(outlines),
      ).flatMap(begin),
    );
  const best = begun.reduce<Followed | null>(
    (least, one) => (least === null || one.merit < least.merit ? one : least),
    null,
  );
  if (!best) return null;
  const { fitter, start } = best;
  const valley = fitter.valley(best.logValues, efforts[effort]);
  const isFar = efforts[effort].greatest === 0 || (bar !== null && fitter.meritAt(valley) > bar);
  const logValues = isFar ? valley : fitter.settle(valley, efforts[effort], fitter.model).logValues;
  return told(exploration, best.recipe, emphasis, start, fitter, logValues);
}

/** Coils as one would buy them, and the last decimals on the grid by which designs are judged. */
function finished(exploration: Exploration, network: FoundNetwork): FoundNetwork | null {
  const { design, data, inputs, predictors } = exploration;
  const { recipe, emphasis } = network;
  const goal = goalFor(exploration, emphasis);
  const settled = [inputs.fit, inputs.last].reduce<FoundNetwork | null>((before, grid) => {
    if (!before) return null;
    const start = withWays(design, withBoughtCoils(before.ways));
    const model = createFitModel(start, data, goal, variablesOf(start), grid);
    const fitter = createFitter(model);
    const { logValues, merit } = fitter.settle(model.start, lastEffort, model);
    return Number.isFinite(merit)
      ? told(exploration, recipe, emphasis, start, fitter, logValues)
      : null;
  }, network);
  if (!settled) return null;
  const ways = withBoughtCoils(settled.ways);
  const whole = withWays(design, ways);
  if (hasIdlePart(whole, data, exploration)) return null;
  return { ...settled, ways, report: reportOf(whole, data, predictors.last) };
}

/** A part that moves neither the response by this much, dB, nor |Z| by this share is idle. */
const idle = { db: 0.05, share: 0.02 };

/** Whether some part could just as well be left out: the network without it is another one. */
function hasIdlePart(
  design: Design,
  data: MeasurementData,
  { predictors, goal }: Exploration,
): boolean {
  const whole = predictors.fit(design, data);
  const { fromHz, toHz } = goal.onAxis.band;
  return partsOf(design).some(({ id }) => {
    const without = predictors.fit(design, data, { bypassedPartId: id });
    if (!whole.sum || !without.sum || !whole.impedance || !without.impedance) return false;
    let [moved, bent] = [0, 0];
    for (let i = 0; i < whole.frequencyHz.length; i++) {
      const hz = whole.frequencyHz[i];
      if (hz >= fromHz && hz <= toHz)
        moved = Math.max(moved, Math.abs(whole.sum.levelDb[i] - without.sum.levelDb[i]));
      bent = Math.max(
        bent,
        Math.abs(Math.log(whole.impedance.ohms[i] / without.impedance.ohms[i])),
      );
    }
    return moved < idle.db && bent < idle.share;
  });
}

function told(
  { outlines }: Exploration,
  recipe: NetworkRecipe,
  emphasis: Emphasis,
  start: Design,
  fitter: Fitter,
  logValues: Float64Array,
): FoundNetwork | null {
  const { model } = fitter;
  const merit = fitter.meritAt(logValues);
  if (!Number.isFinite(merit)) return null;
  const figures = model.figures();
  const { ways } = applyChange(start, {
    type: 'setPartValues',
    values: settingsOf(model.variables, logValues),
  });
  return {
    ...{ recipe, emphasis, ways, merit, figures, report: null },
    partCount: partCountOf(recipe),
    scatterDb: model.scatterDb(logValues, 0.05),
    words: inWords(recipe, outlines),
  };
}

/**
 * The polarities that are tried beside a network's own: all of a small one, of others the one that
 * is likeliest to be as even.
 */
function likelyTurns(
  recipe: NetworkRecipe,
  ways: readonly Way[],
  model: FitModel,
  takesAll: boolean,
): NetworkRecipe[] {
  const isOwn = (turns: ReadonlyMap<string, 1 | -1>) => ![...turns.values()].includes(-1);
  const likely = model.likelyTurns();
  const others = likely.filter((turns) => !isOwn(turns)).slice(0, takesAll ? undefined : 1);
  return others.map((turns) => ({
    ...recipe,
    ways: recipe.ways.map((way, w) =>
      turns.get(ways[w].id) === -1 ? { ...way, isReversed: !way.isReversed } : way,
    ),
  }));
}

const withPolarityOf = (ways: readonly Way[], { ways: recipes }: NetworkRecipe): Way[] =>
  ways.map((way, w) => ({ ...way, polarity: recipes[w].isReversed ? 'reversed' : 'normal' }));

/** Networks that can be tried independently of each other. */
export interface SearchStage {
  /** What is going on, in words. */
  readonly name: string;
  readonly effort: Effort;
  readonly tries: readonly Try[];
}

/**
 * The stage of a search that follows those that are over: looks at the families, lets the best of
 * every size grow by single steps round by round, finishes the best, and those again without the
 * parts that hardly matter. What a correction or a trap is worth shows in the network that has it,
 * not in the one that has not: nothing is judged bare.
 *
 * @param before what each stage has found, from the first
 * @returns null when the search is over
 */
export function stageAfter(
  exploration: Exploration,
  before: readonly (readonly FoundNetwork[])[],
): SearchStage | null {
  const count = before.length;
  const tried = before.flat();
  if (count === 0)
    return {
      name: 'looking at the families',
      effort: 'look',
      tries: families(exploration).flatMap((recipe) =>
        emphasesFor(exploration, recipe).map((emphasis): Try => ({
          recipe,
          emphasis,
          from: null,
          bar: null,
        })),
      ),
    };
  if (count <= kept.rounds)
    return {
      name: `letting the best grow, round ${count} of ${kept.rounds}`,
      effort: 'grow',
      tries:
        count === 1 ? [...goneOn(tried), ...grown(exploration, tried)] : grown(exploration, tried),
    };
  if (count === kept.rounds + 1)
    return {
      name: 'finishing the best',
      effort: 'finish',
      tries: bestOfEachSize(tried, kept.finished).flatMap((network): Try[] => {
        const one: Try = { ...network, from: network, bar: null };
        const keepsLows = exploration.goal.limits.some(({ kind }) => kind === 'cut-off');
        return network.emphasis === 'usual' && keepsLows
          ? [one, { ...one, emphasis: 'lows' }]
          : [one];
      }),
    };
  return null;
}

/** What a network is worth trying for: small ones can seldom keep everything. */
function emphasesFor({ outlines, goal }: Exploration, recipe: NetworkRecipe): Emphasis[] {
  const asks = goal.limits.some(({ kind }) => kind === 'crossover-loss');
  return asks && partCountOf(recipe) <= smallFrom(outlines) ? ['usual', 'axis'] : ['usual'];
}

/** How far over the worst that was kept of its size a network may be to be settled. */
const barFactor = 2;

/** Looks of each size that go on to where they lead: a look is too short to tell valleys apart. */
const looksGoneOn = 8;

function goneOn(looked: readonly FoundNetwork[]): Try[] {
  const counts = new Map<string, number>();
  return [...looked]
    .sort((a, b) => a.merit - b.merit)
    .filter((one) => {
      const count = (counts.get(sizeOf(one)) ?? 0) + 1;
      counts.set(sizeOf(one), count);
      return count <= looksGoneOn;
    })
    .map((network): Try => ({ ...network, from: network, bar: null }));
}

/** Networks are compared with those of as many parts that are tried for the same. */
const sizeOf = ({ partCount, emphasis }: FoundNetwork) => `${partCount} ${emphasis}`;

/** A family that was left in its valley, or fell into a poor one, is tried again, and settled. */
const mostTries = 2;

/**
 * The steps from the best of every size that were not gone yet, each from the best that it can be
 * gone from; and those again that ended at something worse than a simpler network that they might
 * have grown from.
 */
function grown(exploration: Exploration, tried: readonly FoundNetwork[]): Try[] {
  const keyOf = (recipe: NetworkRecipe, emphasis: Emphasis) => `${familyKey(recipe)} ${emphasis}`;
  const known = new Map<string, { merit: number; count: number }>();
  for (const { recipe, emphasis, merit } of tried) {
    const key = keyOf(recipe, emphasis);
    const before = known.get(key) ?? { merit: Infinity, count: 0 };
    known.set(key, { merit: Math.min(before.merit, merit), count: before.count + 1 });
  }
  const steps = new Map<string, { readonly merit: number; readonly step: Try }>();
  for (const parent of bestOfEachSize(tried, kept.grown))
    for (const recipe of neighboursOf(parent.recipe, exploration.limits))
      for (const emphasis of emphasesFor(exploration, recipe)) {
        const isLarger = partCountOf(recipe) > parent.partCount;
        // A network that is no longer small has the phase of its ways to keep.
        if (parent.emphasis === 'axis' && emphasis === 'usual' && isLarger) continue;
        const key = keyOf(recipe, emphasis);
        const before = known.get(key);
        const mayAgain =
          before && isLarger && before.count < mostTries && before.merit > parent.merit;
        const other = steps.get(key);
        if ((before && !mayAgain) || (other && other.merit <= parent.merit)) continue;
        const bar = before ? null : barOf(tried, partCountOf(recipe), emphasis);
        steps.set(key, { merit: parent.merit, step: { recipe, emphasis, from: parent, bar } });
      }
  return [...steps.values()].map(({ step }) => step);
}

function barOf(tried: readonly FoundNetwork[], size: number, emphasis: Emphasis): number | null {
  const merits = tried
    .filter((one) => one.partCount === size && one.emphasis === emphasis)
    .map(({ merit }) => merit)
    .sort((a, b) => a - b);
  const last = merits.at(kept.grown - 1);
  return last === undefined ? null : barFactor * last;
}

/** The best of every number of parts, of each family only some. */
function bestOfEachSize(tried: readonly FoundNetwork[], count: number): FoundNetwork[] {
  const sorted = [...tried].sort((a, b) => a.merit - b.merit);
  const sizes = [...new Set(sorted.map(sizeOf))].sort();
  return sizes.flatMap((size) => {
    const families = new Map<string, number>();
    const seen = new Set<string>();
    return sorted
      .filter((one) => {
        const { recipe } = one;
        if (sizeOf(one) !== size) return false;
        const key = familyKey(recipe);
        const orders = recipe.ways.map(({ highPass, lowPass }) => `${highPass}${lowPass}`).join();
        if (seen.has(key)) return false;
        seen.add(key);
        const inFamily = families.get(orders) ?? 0;
        families.set(orders, inFamily + 1);
        return inFamily < kept.ofFamily;
      })
      .slice(0, count);
  });
}

/** The networks that one would look at, of the stages that are over. */
export function bestSoFar(
  before: readonly (readonly FoundNetwork[])[],
  limits: SearchLimits,
): FoundNetwork[] {
  const all = before.flat();
  const ended = all.filter(({ report }) => report !== null);
  return listed(ended.length > 0 ? ended : all, limits);
}

/**
 * Tries all networks of a stage, perhaps several at a time, and tells those that could be solved.
 */
export type TryAll = (stage: SearchStage) => Promise<readonly FoundNetwork[]>;

export interface ExploreProgress {
  /** The stage that begins, in words; null at the end. */
  readonly stage: string | null;
  /** The best so far. */
  readonly best: readonly FoundNetwork[];
  /** Networks fitted since the search began. */
  readonly tried: number;
}

/**
 * Searches whole networks from nothing, stage by stage, and keeps those that nothing simpler beats.
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

/** A limit on cost or heat counts as kept when rounding to real values may still mend it. */
const slack = 1.02;

const keepsWithin = ({ mostOutlay, mostWatts }: SearchLimits, { figures }: FoundNetwork): boolean =>
  (mostOutlay === null || figures.outlay <= mostOutlay * slack) &&
  (mostWatts === null || (figures.hottestWatts ?? 0) <= mostWatts * slack);

/** How many promises a network breaks. */
export const brokenCountOf = ({ report, figures }: FoundNetwork): number =>
  report ? report.promises.filter(({ isKept }) => isKept === false).length : figures.brokenCount;

/**
 * Networks that nothing simpler or as simple beats: one goes when another with no more parts and no
 * more broken promises has less deviation, and neither costs nor scatters more than a little more.
 * Those that break fewer promises first, then those that deviate less.
 */
export function listed(found: readonly FoundNetwork[], limits: SearchLimits): FoundNetwork[] {
  const fit = found.filter(
    (one) => keepsWithin(limits, one) && !one.ways.some(({ parts }) => parts.some(isAtItsEnd)),
  );
  const beats = (a: FoundNetwork, b: FoundNetwork): boolean =>
    a.partCount <= b.partCount &&
    brokenCountOf(a) <= brokenCountOf(b) &&
    a.figures.deviationDb <= b.figures.deviationDb + nearlyDb &&
    (a.partCount < b.partCount ||
      (a.figures.outlay <= b.figures.outlay * nearly && a.scatterDb <= b.scatterDb * nearly)) &&
    rank(a) < rank(b);
  const places = new Map(
    [...fit]
      .sort((a, b) => a.partCount - b.partCount || a.merit - b.merit)
      .map((one, i) => [one, i]),
  );
  const rank = (one: FoundNetwork) => places.get(one)!;
  return fit
    .filter((one) => !fit.some((other) => beats(other, one)))
    .sort(
      (a, b) =>
        brokenCountOf(a) - brokenCountOf(b) || a.figures.deviationDb - b.figures.deviationDb,
    );
}

/** Differences that nobody would choose by. */
const nearlyDb = 0.01;
const nearly = 1.05;

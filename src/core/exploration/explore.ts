import { bestSoFar } from './shortlist';
import { type SearchStage, stageAfter } from './stages';
import type { Effort, Emphasis, Exploration, FoundNetwork, Try } from './found';
import { endAt, partsOf, plainWay, type Design, type Way } from '@/core/document/schema';
import { applyChange } from '@/core/editing/applyChange';
import { designGridHz, logGrid } from '@/core/grid/logGrid';
import type { MeasurementData } from '@/core/measurement/samples';
import { fromLowest, playingRangeOf } from '@/core/prediction/wayOrder';
import { usableWays } from '@/core/prediction/inspect';
import { createPredictor } from '@/core/prediction/predict';
import { problem, ProblemError } from '@/core/problem';
import { smallFrom } from './candidates';
import {
  createFitter,
  fitGridHz,
  settingsOf,
  type FitEffort,
  type Fitter,
} from '@/core/fitting/fit';
import { goalOf, type Goal, type Limit } from '@/core/fitting/goal';
import { keptShare } from '@/core/fitting/keptShare';
import { sendsAround, withOffAxis } from './offAxisGoal';
import {
  inWords,
  isAtItsEnd,
  networkOf,
  partCountOf,
  withBoughtCoils,
  withWays,
  type DriverOutline,
  type NetworkRecipe,
} from '@/core/filters/grammar';
import { createFitInputs } from '@/core/fitting/inputs';
import { roundedToSeries } from '@/core/fitting/buyable';
import type { SearchLimits } from '@/core/fitting/limits';
import type { LikelyTurns } from '@/core/fitting/likelyTurns';
import { createFitModel, type FitModel } from '@/core/fitting/model';
import { reportOf } from './report';
import { variablesOf } from '@/core/fitting/variables';

const efforts: Readonly<Record<Exclude<Effort, 'stock'>, FitEffort>> = {
  look: { valley: 8, greatest: 0, settledAt: 1e-3 },
  grow: { valley: 12, greatest: 6, settledAt: 5e-3 },
  finish: { valley: 40, greatest: 50, settledAt: 5e-4 },
};
const lastEffort: FitEffort = { valley: 0, greatest: 25, settledAt: 1e-4 };

/** Trying networks out needs fewer points than finishing them. */
const lookGridHz = (): Float64Array => logGrid(20, 20_000, 10);

/** Steps after which the polarity of a network is chosen. */
const turningEffort: FitEffort = { valley: 3, greatest: 0, settledAt: 1e-3 };

/**
 * Prepares a search: the drivers from the lowest to the highest.
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
    const { re, im } = inputs.radiationOf({ ...end, response }, design, data);
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
    return [{ range: playingRangeOf(end), levelDb: level, outline }];
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
    goal: withOffAxis(goalOf(bare, limits), sendsAround(bare, data, fit)),
    outlines: fromLowest(heard).map(({ outline }) => outline),
  };
}

/** Mean of the louder half of a level: of what a driver does where it plays. */
function middleOf(level: Float64Array): number {
  const sorted = level.filter(Number.isFinite).sort();
  const half = sorted.subarray(sorted.length >> 1);
  return half.reduce((sum, db) => sum + db, 0) / Math.max(1, half.length);
}

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
    if (effort === 'stock') return ofStock(exploration, wish);
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

/** Takes the best polarity of a network to where the effort ends. */
function followed(
  exploration: Exploration,
  { recipe, from, emphasis, bar }: Try,
  effort: Exclude<Effort, 'stock'>,
): FoundNetwork | null {
  const { outlines, limits, inputs, design, data } = exploration;
  const grid = effort === 'finish' ? inputs.fit : inputs.look;
  const ways = networkOf(recipe, outlines, limits.mostHenries, from);
  const start = withWays(design, ways);
  const model = createFitModel(
    start,
    data,
    goalFor(exploration, emphasis),
    variablesOf(start),
    grid,
  );
  const fitter = createFitter(model);
  const begin = (turns: Turns): Begun[] => {
    model.turn(turns);
    const logValues = effort === 'finish' ? model.start : fitter.valley(model.start, turningEffort);
    const merit = fitter.meritAt(logValues);
    return Number.isFinite(merit) ? [{ turns, logValues, merit }] : [];
  };
  const begun = begin(new Map());
  if (effort !== 'finish' && begun.length > 0) {
    const takesAll = partCountOf(recipe) <= smallFrom(outlines);
    begun.push(...likelyTurns(model, takesAll).flatMap(begin));
  }
  const best = begun.reduce<Begun | null>(
    (least, one) => (least === null || one.merit < least.merit ? one : least),
    null,
  );
  if (!best) return null;
  model.turn(best.turns);
  const valley = fitter.valley(best.logValues, efforts[effort]);
  const isFar = efforts[effort].greatest === 0 || (bar !== null && fitter.meritAt(valley) > bar);
  const logValues = isFar ? valley : fitter.settle(valley, efforts[effort], fitter.model).logValues;
  const turned = turnedRecipe(recipe, ways, best.turns);
  const turnedStart = withWays(design, withPolarityOf(ways, turned));
  return told(exploration, turned, emphasis, turnedStart, fitter, logValues);
}

type Turns = LikelyTurns['turns'];

/** A polarity that was gone some steps with. */
interface Begun {
  readonly turns: Turns;
  readonly logValues: Float64Array;
  readonly merit: number;
}

/** Coils as one would buy them, and the last decimals on the grid by which designs are judged. */
function finished(exploration: Exploration, network: FoundNetwork): FoundNetwork | null {
  const { design, data, inputs, predictors } = exploration;
  const { recipe, emphasis } = network;
  const goal = goalFor(exploration, emphasis);
  const settled = [inputs.fit, inputs.last].reduce<FoundNetwork | null>((before, grid) => {
    if (!before) return null;
    const start = withWays(design, withBoughtCoils(before.ways));
    const kept = grid === inputs.last ? goal.tolerance : 0;
    const model = createFitModel(start, data, goal, variablesOf(start), grid, kept > 0);
    const fitter = createFitter(model);
    const { logValues, merit } = fitter.settle(model.start, lastEffort, model);
    if (!Number.isFinite(merit)) return null;
    const best = fitter.reserved(logValues, lastEffort, model, kept).at(0);
    return best ? told(exploration, recipe, emphasis, start, fitter, best.logValues, kept) : null;
  }, network);
  if (!settled) return null;
  const ways = withBoughtCoils(settled.ways);
  const whole = withWays(design, ways);
  // A coil whose value crossed a size has another core and other ohms: its figures are told anew.
  const model = createFitModel(whole, data, goal, variablesOf(whole), inputs.last);
  const fitter = createFitter(model);
  const end = told(exploration, recipe, emphasis, whole, fitter, model.start, goal.tolerance);
  const isSmaller =
    ways.some(({ parts }) => parts.some(isAtItsEnd)) || hasIdlePart(whole, data, exploration);
  return (
    end && {
      ...end,
      ways,
      ...(isSmaller && { hasIdlePart: true }),
      report: reportOf(whole, data, predictors.last),
      keptShare: isSmaller ? null : keptShare(whole, data, goal, inputs.fit),
    }
  );
}

/**
 * A finished network with values that one can have.
 *
 * @throws ProblemError `owned_too_few`
 */
function ofStock(exploration: Exploration, { recipe, from, emphasis }: Try): FoundNetwork | null {
  const { design, data, limits, inputs, predictors } = exploration;
  if (!from || !limits.stock) return null;
  const goal = goalFor(exploration, emphasis);
  const exact = withWays(design, from.ways);
  const { values } = roundedToSeries(exact, data, { series: limits.stock }, goal);
  const ways = withBoughtCoils(applyChange(exact, { type: 'setPartValues', values }).ways);
  const whole = withWays(design, ways);
  const model = createFitModel(whole, data, goal, variablesOf(whole), inputs.last);
  const network = told(
    exploration,
    recipe,
    emphasis,
    whole,
    createFitter(model),
    model.start,
    goal.tolerance,
  );
  return (
    network && {
      ...network,
      ...{ ways, report: reportOf(whole, data, predictors.last), isOfStock: true },
      keptShare: keptShare(whole, data, goal, inputs.fit),
    }
  );
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
  tolerance = 0,
): FoundNetwork | null {
  const { model } = fitter;
  if (!Number.isFinite(fitter.meritAt(logValues))) return null;
  const figures = model.figures();
  const merit = fitter.reservedMeritAt(logValues, tolerance);
  const { ways } = applyChange(start, {
    type: 'setPartValues',
    values: settingsOf(model.variables, logValues),
  });
  return {
    ...{ recipe, emphasis, ways, merit, figures, report: null, isOfStock: false, keptShare: null },
    partCount: partCountOf(recipe),
    scatterDb: model.scatterDb(logValues, 0.05),
    words: inWords(recipe, outlines),
  };
}

/**
 * The polarities that are tried beside a network's own: all of a small one, of others the one that
 * is likeliest to be as flat.
 */
function likelyTurns(model: FitModel, takesAll: boolean): Turns[] {
  const likely = model.likelyTurns();
  const isOwn = ({ turns }: LikelyTurns) => ![...turns.values()].includes(-1);
  const own = likely.find(isOwn)!.spread;
  const others = likely.filter((one) => !isOwn(one));
  const taken = takesAll
    ? others
    : others.slice(0, 1).filter(({ spread }) => spread < hopeless * own);
  return taken.map(({ turns }) => turns);
}

/** A polarity whose deviation is larger by this factor in its square leads nowhere better. */
const hopeless = 6;

const turnedRecipe = (
  recipe: NetworkRecipe,
  ways: readonly Way[],
  turns: Turns,
): NetworkRecipe => ({
  ...recipe,
  ways: recipe.ways.map((way, w) =>
    turns.get(ways[w].id) === -1 ? { ...way, isReversed: !way.isReversed } : way,
  ),
});

const withPolarityOf = (ways: readonly Way[], { ways: recipes }: NetworkRecipe): Way[] =>
  ways.map((way, w) => ({ ...way, polarity: recipes[w].isReversed ? 'reversed' : 'normal' }));

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
    const best = bestSoFar(before, exploration.limits, stage === null);
    onProgress({ stage: stage?.name ?? null, best, tried });
    if (!stage) return { networks: best, tried };
    before.push(await tryAll(stage));
  }
}

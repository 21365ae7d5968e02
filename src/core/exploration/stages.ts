import { families, familyKey, neighboursOf, smallFrom } from './candidates';
import { type NetworkRecipe, partCountOf } from '@/core/filters/grammar';
import { bestSoFar } from './shortlist';
import type { Effort, Emphasis, Exploration, FoundNetwork, Try } from './found';
/** What a search keeps: for each number of parts, of which so many of one family. */
const kept = { grown: 5, ofFamily: 3, finished: 3, rounds: 4, pruned: 2 };
/** Parts that do nothing are left out one after the other, so often. */
const prunings = 2;

/** Networks that can be tried independently of each other. */
export interface SearchStage {
  /** What is going on, in words. */
  readonly name: string;
  readonly effort: Effort;
  readonly tries: readonly Try[];
}

/**
 * The stage of a search that follows those that are over: looks at the families, lets the best of
 * every size grow by single steps round by round, finishes the best, and gives those that are left
 * values that one can have, where these are asked for. What a Zobel network or a trap is worth shows in
 * the network that has it, not in the one that has not: nothing is judged bare.
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
      tries: finishing(exploration, bestOfEachSize(tried, kept.finished)),
    };
  let over = kept.rounds + 2;
  for (let k = 0; k < prunings; k++) {
    const tries = pruned(exploration, before[over - 1]);
    if (tries.length === 0) break;
    if (count === over) return { name: 'leaving out what does nothing', effort: 'grow', tries };
    const others = k === 0 ? instead(before.slice(0, over - 1).flat(), before[over - 1]) : [];
    const left = [...bestOfEachSize(before[over], kept.pruned), ...others];
    const best = finishing(exploration, left);
    over++;
    if (best.length === 0) break;
    if (count === over) return { name: 'finishing what is left', effort: 'finish', tries: best };
    over++;
  }
  if (count === over && exploration.limits.stock)
    return {
      name: 'taking values that one can have',
      effort: 'stock',
      tries: bestSoFar(before, exploration.limits).map((network): Try => ({
        ...network,
        from: network,
        bar: null,
      })),
    };
  return null;
}

/** Networks to be finished; with the low end as a limit like any other, and as it usually counts. */
function finishing({ goal }: Exploration, networks: readonly FoundNetwork[]): Try[] {
  const keepsLows = goal.limits.some(({ kind }) => kind === 'cut-off');
  return networks.flatMap((network): Try[] => {
    const one: Try = { ...network, from: network, bar: null };
    return network.emphasis === 'usual' && keepsLows ? [one, { ...one, emphasis: 'lows' }] : [one];
  });
}

/**
 * The simpler networks one step from those finished ones of which a part does nothing: what such a network
 * does, one of them does as well, with a part less.
 */
function pruned({ limits }: Exploration, finished: readonly FoundNetwork[]): Try[] {
  const steps = new Map<string, Try & { readonly merit: number }>();
  for (const from of finished) {
    if (from.hasIdlePart === undefined) continue;
    for (const recipe of neighboursOf(from.recipe, limits)) {
      if (partCountOf(recipe) >= from.partCount) continue;
      const key = `${familyKey(recipe)} ${from.emphasis}`;
      const before = steps.get(key);
      if (before && before.merit <= from.merit) continue;
      const { emphasis, merit } = from;
      steps.set(key, { recipe, emphasis, from, bar: null, merit });
    }
  }
  return [...steps.values()].map(({ recipe, emphasis, from, bar }) => ({
    recipe,
    emphasis,
    from,
    bar,
  }));
}

/** The next best of each size, as many as there are finished ones of it that make way for smaller ones. */
function instead(
  tried: readonly FoundNetwork[],
  finished: readonly FoundNetwork[],
): FoundNetwork[] {
  const counts = new Map<string, number>();
  const placeOf = (one: FoundNetwork) => {
    const place = counts.get(sizeOf(one)) ?? 0;
    counts.set(sizeOf(one), place + 1);
    return place;
  };
  return bestOfEachSize(tried, 2 * kept.finished).filter((one) => {
    const idle = finished.filter(
      (other) => other.hasIdlePart !== undefined && sizeOf(other) === sizeOf(one),
    ).length;
    const place = placeOf(one);
    return place >= kept.finished && place < kept.finished + idle;
  });
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

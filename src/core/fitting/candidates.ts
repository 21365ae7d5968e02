import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { crossingRange } from '@/core/brief/crossing';
import type { Design } from '@/core/document/schema';
import {
  partCountOf,
  partKindsOf,
  type DriverOutline,
  type NetworkRecipe,
  type WayRecipe,
} from './grammar';
import type { SearchLimits } from './limits';

const twoPer = <T, U>(left: readonly T[], right: readonly U[]): (readonly [T, U])[] =>
  left.flatMap((a) => right.map((b) => [a, b] as const));

/**
 * With so many drivers every combination is too many to look at: the first look leaves some to the
 * variations.
 */
const isMany = (outlines: readonly DriverOutline[]) => outlines.length > 3;

/**
 * The networks that are looked at first: every order of each slope up to the third (to the second
 * in the middle), the pads of all but the lowest way, either polarity of these. With four drivers
 * the two in the middle have slopes of one order to both sides and at most a resistor, the highest
 * a divider or none.
 */
export function firstCandidates({
  design,
  outlines,
  limits,
}: {
  readonly design: Design;
  readonly outlines: readonly DriverOutline[];
  readonly limits: SearchLimits;
}): NetworkRecipe[] {
  const last = outlines.length - 1;
  const plain = { hasCorrection: false, hasTrap: false };
  const choices = outlines.map(({ driver }, w): WayRecipe[] => {
    const highs = w === 0 ? ([0] as const) : w === last ? ([1, 2, 3] as const) : ([1, 2] as const);
    const lows = w === last ? ([0] as const) : w === 0 ? ([1, 2, 3] as const) : ([1, 2] as const);
    const pads =
      w === 0
        ? (['none'] as const)
        : !isMany(outlines)
          ? (['none', 'series', 'divider'] as const)
          : (['none', w === last ? 'divider' : 'series'] as const);
    const isTaken = ([highPass, lowPass]: readonly [number, number]) =>
      !isMany(outlines) || w === 0 || w === last || highPass === lowPass;
    const turns = w === 0 ? [false] : [false, true];
    return twoPer(twoPer(highs, lows).filter(isTaken), twoPer(pads, turns)).map(
      ([[highPass, lowPass], [pad, isReversed]]) => ({
        driverId: driver.id,
        highPass,
        lowPass,
        pad,
        isReversed,
        ...plain,
      }),
    );
  });
  const all = choices.reduce<readonly (readonly WayRecipe[])[]>(
    (sets, own) => twoPer(sets, own).map(([ways, way]) => [...ways, way]),
    [[]],
  );
  const crossHz = outlines
    .slice(1)
    .map((upper, w) =>
      crossingBetween(design, outlines[w], upper, crossingsOf(w, outlines.length)),
    );
  return all
    .map((ways) => ({ ways, crossHz }))
    .filter((recipe) => mayKeep(recipe, limits))
    .sort((a, b) => partCountOf(a) - partCountOf(b));
}

/**
 * Where a fit begins: 2 kHz for two ways; from 350 Hz to 3 kHz, evenly in logarithm, for more
 * (common practice).
 */
const crossingsOf = (w: number, count: number): number =>
  count === 2 ? 2000 : 350 * (3000 / 350) ** (w / (count - 2));

const halfOctave = Math.SQRT2;

/**
 * Where a fit begins, within what the drivers allow: where their data sheets let them cross
 * (`brief/crossing.ts`), and not above the frequency whose wavelength is as long as they are apart
 * (common practice, no source). What the upper one bears counts most.
 */
export function crossingBetween(
  design: Design,
  lower: DriverOutline,
  upper: DriverOutline,
  usualHz: number,
): number {
  const [a, b] = [lower.driver.position, upper.driver.position];
  const apartM = Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm) / 1000;
  const range = crossingRange(design, lower.driver, upper.driver, 2);
  const most = Math.min(
    apartM > 0 ? speedOfSoundMps(design.airTemperatureC) / apartM : Infinity,
    range.most?.hz ?? Infinity,
  );
  const least = range.least?.hz ?? 0;
  // No limit is sharp: within half an octave the usual place stays.
  const isClose = usualHz < most * halfOctave && usualHz > least / halfOctave;
  return isClose ? usualHz : Math.max(least, Math.min(most, usualHz));
}

/**
 * Whether a network may keep within the limits: by its number of parts, and by what these cost at
 * the least.
 */
function mayKeep(recipe: NetworkRecipe, { mostParts, mostOutlay, rates }: SearchLimits): boolean {
  const { resistor, coil, capacitor } = partKindsOf(recipe);
  const least = resistor * rates.resistor + coil * rates.coil + capacitor * rates.capacitor;
  return partCountOf(recipe) <= mostParts && (mostOutlay === null || least <= mostOutlay);
}

/** One thing about one way, done otherwise. */
interface Variation {
  readonly w: number;
  readonly change: Partial<WayRecipe>;
}

/** Other orders and pads of one way: what a thinned first look has left out. */
function otherFilters({ highPass, lowPass, pad }: WayRecipe, w: number, last: number): Variation[] {
  const orders = w === 0 || w === last ? ([1, 2, 3] as const) : ([1, 2] as const);
  return [
    ...orders.flatMap((order) => (w > 0 && order !== highPass ? [{ highPass: order }] : [])),
    ...orders.flatMap((order) => (w < last && order !== lowPass ? [{ lowPass: order }] : [])),
    ...(['none', 'series', 'divider'] as const).flatMap((other) =>
      w > 0 && other !== pad ? [{ pad: other }] : [],
    ),
  ].map((change) => ({ w, change }));
}

/**
 * The same networks with one or two corrections and traps more, or less; with many drivers also
 * with another order or pad in one place.
 */
export function variations(
  found: readonly { readonly recipe: NetworkRecipe }[],
  limits: SearchLimits,
): NetworkRecipe[] {
  const seen = new Set<string>();
  return found.flatMap(({ recipe }) => {
    const last = recipe.ways.length - 1;
    const options = recipe.ways.flatMap((way, w): Variation[] => [
      { w, change: { hasTrap: !way.hasTrap } },
      { w, change: { hasCorrection: !way.hasCorrection } },
    ]);
    const others = last < 3 ? [] : recipe.ways.flatMap((way, w) => otherFilters(way, w, last));
    const changed = (list: readonly Variation[]): NetworkRecipe => ({
      ...recipe,
      ways: recipe.ways.map((way, w) =>
        list.reduce((one, option) => (option.w === w ? { ...one, ...option.change } : one), way),
      ),
    });
    const pairs = options.flatMap((a, i) => options.slice(i + 1).map((b) => [a, b]));
    return [...[...options, ...others].map((one) => [one]), ...pairs].map(changed).filter((one) => {
      const key = JSON.stringify(one);
      const isNew = !seen.has(key) && mayKeep(one, limits);
      seen.add(key);
      return isNew;
    });
  });
}

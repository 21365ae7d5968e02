import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { crossingRange } from '@/core/brief/crossing';
import type { Design } from '@/core/document/schema';
import {
  partCountOf,
  partKindsOf,
  type DriverOutline,
  type NetworkRecipe,
  type RecipeOrder,
  type WayRecipe,
} from '@/core/filters/grammar';
import type { SearchLimits } from '@/core/fitting/limits';

const twoPer = <T, U>(left: readonly T[], right: readonly U[]): (readonly [T, U])[] =>
  left.flatMap((a) => right.map((b) => [a, b] as const));

/** Every choice of one from each list. */
const product = <T>(lists: readonly (readonly T[])[]): T[][] =>
  lists.reduce<T[][]>((sets, own) => twoPer(sets, own).map(([set, one]) => [...set, one]), [[]]);

/** A driver that is louder than the lowest by more begins with a pad, dB. */
const paddedFromDb = 2;

/** Orders that the families of a search begin with, by how many drivers there are. */
const familyOrders: Readonly<Record<2 | 3 | 4, { ends: RecipeOrder[]; middle: RecipeOrder[] }>> = {
  2: { ends: [1, 2, 3, 4], middle: [] },
  3: { ends: [1, 2, 3, 4], middle: [1, 2, 3] },
  4: { ends: [1, 2, 3], middle: [1, 2] },
};

/**
 * Factors on the usual crossovers from which families begin, from the lowest up. Small networks
 * have the fewest valleys in reach of each other, and are looked at from more places.
 */
const placesOf = (count: number, isSmall: boolean): readonly (readonly number[])[] => {
  if (count === 2) return [[0.7], [1], [1.5]];
  if (count > 3) return [[1, 1, 1]];
  return isSmall
    ? product([
        [1, 1.6, 2.4],
        [1, 1.8],
      ])
    : [
        [1, 1],
        [1.6, 1.6],
      ];
};

/** Networks of up to so many parts are small: they can seldom keep everything. */
export const smallFrom = (outlines: readonly DriverOutline[]): number => 3 * outlines.length - 2;

/**
 * The families that a search begins with: every order of each slope, crossed over where it is usual
 * and elsewhere; a pad where a driver is louder than the lowest. What else there is grows on them.
 */
export function families({
  design,
  outlines,
  limits,
}: {
  readonly design: Design;
  readonly outlines: readonly DriverOutline[];
  readonly limits: SearchLimits;
}): NetworkRecipe[] {
  const last = outlines.length - 1;
  const { ends, middle } = familyOrders[outlines.length as 2 | 3 | 4];
  const choices = outlines.map(({ driver, levelDb }, w): WayRecipe[] => {
    const highs = w === 0 ? ([0] as const) : w === last ? ends : middle;
    const lows = w === last ? ([0] as const) : w === 0 ? ends.slice(0, 3) : middle;
    const isLoud = levelDb - outlines[0].levelDb > paddedFromDb;
    const mayPad = w > 0 && (isLoud || w === last);
    const pads = mayPad ? (['none', 'series'] as const) : (['none'] as const);
    return twoPer(twoPer(highs, lows), pads).map(([[highPass, lowPass], pad]) => ({
      driverId: driver.id,
      ...{ highPass, lowPass, pad },
      ...{ correction: 'none', trap: 'none', isReversed: false },
    }));
  });
  const usual = outlines
    .slice(1)
    .map((upper, w) =>
      crossingBetween(design, outlines[w], upper, crossingsOf(w, outlines.length)),
    );
  const crossingsFor = (ways: readonly WayRecipe[]): number[][] =>
    placesOf(outlines.length, partCountOf({ ways }) <= smallFrom(outlines)).map((factors) =>
      usual.map((hz, w) => hz * factors[w]),
    );
  return product(choices)
    .flatMap((ways) => crossingsFor(ways).map((crossHz) => ({ ways, crossHz })))
    .filter((recipe) => mayKeep(recipe, limits))
    .filter(({ ways }) => {
      // Larger networks without need of a pad get theirs as they grow.
      const isLoud = outlines[last].levelDb - outlines[0].levelDb > paddedFromDb;
      return isLoud || ways[last].pad === 'none' || partCountOf({ ways }) <= smallFrom(outlines);
    })
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

const others = <T>(all: readonly T[], own: T): T[] => all.filter((one) => one !== own);

/** One thing about a way done otherwise: the steps by which networks grow. */
function changesOf(way: WayRecipe, w: number, last: number): Partial<WayRecipe>[] {
  const orders = (own: RecipeOrder): RecipeOrder[] =>
    ([1, 2, 3, 4] as const).filter((order) => Math.abs(order - own) === 1);
  return [
    ...(w > 0 ? orders(way.highPass).map((highPass) => ({ highPass })) : []),
    ...(w < last ? orders(way.lowPass).map((lowPass) => ({ lowPass })) : []),
    ...others(['none', 'front', 'series', 'divider'] as const, way.pad).flatMap((pad) =>
      w > 0 || pad === 'none' ? [{ pad }] : [],
    ),
    ...others(['none', 'driver', 'filter', 'capacitor'] as const, way.correction)
      // Without a pad both places are one.
      .filter(
        (correction) => correction !== 'filter' || way.pad === 'series' || way.pad === 'divider',
      )
      .map((correction) => ({ correction })),
    ...others(['none', 'shunt', 'line'] as const, way.trap).map((trap) => ({ trap })),
  ];
}

/** Names a recipe whatever its polarity and where it begins. */
export const familyKey = ({ ways }: NetworkRecipe): string =>
  ways
    .map(({ highPass, lowPass, pad, correction, trap }) =>
      [highPass, lowPass, pad, correction, trap].join(' '),
    )
    .join(' | ');

/** The recipes one step from another. */
export function neighboursOf(recipe: NetworkRecipe, limits: SearchLimits): NetworkRecipe[] {
  const last = recipe.ways.length - 1;
  return recipe.ways.flatMap((way, w) =>
    changesOf(way, w, last)
      .map((change) => ({
        ...recipe,
        ways: recipe.ways.map((one, k) => (k === w ? { ...one, ...change } : one)),
      }))
      .filter((one) => mayKeep(one, limits)),
  );
}

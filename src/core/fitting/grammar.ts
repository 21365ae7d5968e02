import type { DriverId, GroupId } from '@/core/fields';
import {
  endAt,
  plainPart,
  plainWay,
  type Design,
  type Driver,
  type Group,
  type Part,
  type Way,
} from '@/core/document/schema';

/** Filter of one way, as a few words say it: what a search tries. */
export interface WayRecipe {
  readonly driverId: DriverId;
  /** Order of the high pass that keeps the lows away; 0 for none. */
  readonly highPass: 0 | 1 | 2 | 3;
  readonly lowPass: 0 | 1 | 2 | 3;
  /** Level pad: a resistor in series, or one in series and one in shunt. */
  readonly pad: 'none' | 'series' | 'divider';
  /** Resistor and capacitor across the driver against the rise of its impedance. */
  readonly hasCorrection: boolean;
  /** Coil, capacitor and resistor across the driver that pull one place down. */
  readonly hasTrap: boolean;
  readonly isReversed: boolean;
}

/** A whole network in these words. */
export interface NetworkRecipe {
  readonly ways: readonly WayRecipe[];
  /** Frequencies at which neighbours hand over when the fit begins, Hz, from the lowest pair up. */
  readonly crossHz: readonly number[];
}

/** What a recipe needs to know of a driver to begin with sensible values. */
export interface DriverOutline {
  readonly driver: Driver;
  readonly name: string;
  /** |Z| at a frequency, ohms. */
  readonly ohmsAt: (hz: number) => number;
}

const twoPi = 2 * Math.PI;

/**
 * Resistance of a coil before it has been chosen: an air coil below 1.5 mH, one with a core above
 * (common practice).
 */
export const typicalCoilOhms = (henries: number): number =>
  henries < 1.5e-3 ? 0.35 * (henries / 1e-3) ** 0.6 : 0.2 * (henries / 1.5e-3) ** 0.6;

/**
 * Element values of Butterworth low passes into a resistance of 1 at 1 rad/s, from the source:
 * coil, capacitor, coil.
 */
const lowPassValues: Readonly<Record<1 | 2 | 3, readonly number[]>> = {
  1: [1],
  2: [Math.SQRT2, 1 / Math.SQRT2],
  3: [3 / 2, 4 / 3, 1 / 2],
};

const partCounts = { none: 0, series: 1, divider: 2 } as const;

/** Number of parts that a recipe takes. */
export const partCountOf = ({ ways }: NetworkRecipe): number =>
  ways.reduce(
    (sum, way) =>
      sum +
      way.highPass +
      way.lowPass +
      partCounts[way.pad] +
      (way.hasCorrection ? 2 : 0) +
      (way.hasTrap ? 3 : 0),
    0,
  );

/** How many of each kind a recipe takes. */
export function partKindsOf({ ways }: NetworkRecipe) {
  const counts = { resistor: 0, coil: 0, capacitor: 0 };
  for (const way of ways) {
    // A low pass begins with its coil, a high pass with its capacitor.
    counts.coil += Math.ceil(way.lowPass / 2) + Math.floor(way.highPass / 2);
    counts.capacitor += Math.floor(way.lowPass / 2) + Math.ceil(way.highPass / 2);
    counts.resistor += partCounts[way.pad];
    for (const kind of way.hasCorrection ? (['resistor', 'capacitor'] as const) : [])
      counts[kind]++;
    for (const kind of way.hasTrap ? (['resistor', 'coil', 'capacitor'] as const) : [])
      counts[kind]++;
  }
  return counts;
}

/** Names parts R1, L1, C1 … across a whole network. */
function createNamer() {
  const counts = { R: 0, L: 0, C: 0 };
  return (letter: keyof typeof counts) => `${letter}${++counts[letter]}`;
}

/**
 * Builds the rails of a recipe: every part free, with values of a textbook filter into the driver's
 * impedance at the crossover (Butterworth values by network synthesis).
 *
 * @param outlines of the drivers, in the order of the recipe's ways
 * @param mostHenries no coil begins above this, or may be moved there; null for no such limit
 */
export function networkOf(
  recipe: NetworkRecipe,
  outlines: readonly DriverOutline[],
  mostHenries: number | null,
): Way[] {
  const nameOf = createNamer();
  return recipe.ways.map((way, w) => {
    const { driver, name, ohmsAt } = outlines[w];
    const parts: Part[] = [];
    const groups: Group[] = [];
    const add = (
      place: Part['place'],
      value: { ohms: number } | { henries: number } | { farads: number },
      groupId: GroupId | null = null,
    ) => {
      const letter = 'ohms' in value ? 'R' : 'henries' in value ? 'L' : 'C';
      const partName = nameOf(letter);
      const base = {
        ...plainPart,
        id: partName.toLowerCase(),
        name: partName,
        place,
        groupId,
        fit: { ...plainPart.fit, isFree: true },
      };
      if ('ohms' in value) parts.push({ ...base, kind: 'resistor', ...value });
      else if ('henries' in value) {
        const henries = Math.min(value.henries, mostHenries ?? Infinity);
        parts.push({
          ...base,
          kind: 'coil',
          henries,
          seriesOhms: typicalCoilOhms(henries),
          fit: { ...base.fit, highest: mostHenries },
        });
      } else parts.push({ ...base, kind: 'capacitor', ...value, seriesOhms: 0 });
    };
    const below = recipe.crossHz.at(w - 1);
    const above = recipe.crossHz.at(w);
    if (way.highPass > 0 && w > 0 && below !== undefined) {
      const [ohms, omega] = [ohmsAt(below), twoPi * below];
      lowPassValues[way.highPass as 1 | 2 | 3].forEach((g, i) => {
        // A high pass is a low pass with coils and capacitors exchanged, at 1/ω.
        if (i % 2 === 0) add('series', { farads: 1 / (g * omega * ohms) });
        else add('shunt', { henries: ohms / (g * omega) });
      });
    }
    if (way.lowPass > 0 && above !== undefined) {
      const [ohms, omega] = [ohmsAt(above), twoPi * above];
      lowPassValues[way.lowPass as 1 | 2 | 3].forEach((g, i) => {
        if (i % 2 === 0) add('series', { henries: (g * ohms) / omega });
        else add('shunt', { farads: g / (omega * ohms) });
      });
    }
    const ohms = ohmsAt(Math.sqrt((below ?? 100) * (above ?? 8000)));
    if (way.pad !== 'none') add('series', { ohms: 0.35 * ohms });
    if (way.pad === 'divider') add('shunt', { ohms: 2 * ohms });
    if (way.hasCorrection) {
      groups.push({ id: `correction-${w}`, join: 'series', parentId: null });
      add('shunt', { ohms: 1.25 * ohms }, `correction-${w}`);
      add('shunt', { farads: 1 / (twoPi * 2000 * ohms) }, `correction-${w}`);
    }
    if (way.hasTrap) {
      const omega = twoPi * Math.sqrt((below ?? 200) * (above ?? 12_000)) * 1.8;
      groups.push({ id: `trap-${w}`, join: 'series', parentId: null });
      add('shunt', { ohms: 2 * ohms }, `trap-${w}`);
      add('shunt', { henries: ohms / omega }, `trap-${w}`);
      add('shunt', { farads: 1 / (omega * ohms) }, `trap-${w}`);
    }
    return {
      ...plainWay,
      id: `way-${driver.id}`,
      name,
      ends: [endAt(driver.id)],
      polarity: way.isReversed ? ('reversed' as const) : ('normal' as const),
      parts,
      groups,
    };
  });
}

/** A design with nothing but some ways in the place of its own network. */
export const withWays = (design: Design, ways: readonly Way[]): Design => ({
  ...design,
  ways: ways.map((way) => ({
    ...way,
    from: { kind: 'terminals', pairId: design.terminals[0].id },
  })),
  ...{ bridges: [], switches: [], couplings: [] },
});

/** A design with the network of a recipe in the place of its own. */
export const withNetwork = (
  design: Design,
  recipe: NetworkRecipe,
  outlines: readonly DriverOutline[],
  mostHenries: number | null = null,
): Design => withWays(design, networkOf(recipe, outlines, mostHenries));

const orderNames = ['no', 'first', 'second', 'third'] as const;

/** A recipe in words: "Tweeter: second-order high pass, divider, reversed". */
export const inWords = ({ ways }: NetworkRecipe, outlines: readonly DriverOutline[]): string[] =>
  ways.map((way, w) => {
    const words = [
      way.highPass > 0 && `${orderNames[way.highPass]}-order high pass`,
      way.lowPass > 0 && `${orderNames[way.lowPass]}-order low pass`,
      way.pad === 'series' && 'series resistor',
      way.pad === 'divider' && 'divider',
      way.hasCorrection && 'impedance correction',
      way.hasTrap && 'trap',
      way.isReversed && 'reversed',
    ].filter(Boolean);
    return `${outlines[w].name}: ${words.join(', ')}`;
  });

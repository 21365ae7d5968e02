import type { DriverId } from '@/core/fields';
import { makePart, partKinds, partValue } from '@/core/document/partKinds';
import {
  endAt,
  plainPart,
  plainWay,
  type Design,
  type Driver,
  type Group,
  type Part,
  type PartKind,
  type Way,
  type WayTarget,
} from '@/core/document/schema';
import { denominator, ladder, type FilterOrder } from '@/core/prediction/prototypes';

/** Order of a slope; 0 for none. */
export type RecipeOrder = 0 | FilterOrder;

/** Filter of one way, as a few words say it: what a search tries. */
export interface WayRecipe {
  readonly driverId: DriverId;
  /** Order of the high pass that keeps the lows away. */
  readonly highPass: RecipeOrder;
  readonly lowPass: RecipeOrder;
  /**
   * Level pad: a resistor before the filter, one in series behind it, or one in series and one in
   * shunt.
   */
  readonly pad: 'none' | 'front' | 'series' | 'divider';
  /**
   * Resistor and capacitor in shunt: across the driver, or between filter and pad; or a capacitor
   * alone across the driver.
   */
  readonly correction: 'none' | 'driver' | 'filter' | 'capacitor';
  /** Coil, capacitor and resistor that pull one place down: in shunt, or in parallel in the line. */
  readonly trap: 'none' | 'shunt' | 'line';
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
  /** Slopes that its way is to follow, kept by every network. */
  readonly target: WayTarget | null;
  /** |Z| at a frequency, ohms. */
  readonly ohmsAt: (hz: number) => number;
  /** Mean level of its better half, dB: who is louder needs a pad. */
  readonly levelDb: number;
}

const twoPi = 2 * Math.PI;

/** From here on a coil is wound on a core (common practice). */
const coredFromHenries = 1.5e-3;

/**
 * Resistance of a coil before it has been chosen: an air coil below 1.5 mH, one with a core above
 * (common practice), each following its value as its kind does.
 */
export const typicalCoilOhms = (henries: number): number =>
  henries < coredFromHenries
    ? 0.35 * (henries / 1e-3) ** 0.6
    : 0.2 * Math.sqrt(henries / coredFromHenries);

/** A coil as one would buy it for its value: air or core, with the resistance that belongs to it. */
function asBought(part: Part): Part {
  if (part.kind !== 'coil') return part;
  const { core, ...plain } = part;
  void core;
  return {
    ...plain,
    seriesOhms: typicalCoilOhms(part.henries),
    ...(part.henries >= coredFromHenries && { core: 'magnetic' as const }),
  };
}

/** Ways whose coils are as one would buy them. */
export const withBoughtCoils = (ways: readonly Way[]): Way[] =>
  ways.map((way) => ({ ...way, parts: way.parts.map(asBought) }));

/** Values between which a search looks, within what shops sell (common practice). */
const searched: Readonly<Record<PartKind, readonly [least: number, most: number]>> = {
  resistor: [0.3, 60],
  coil: [0.06e-3, 12e-3],
  capacitor: [0.8e-6, 250e-6],
};

/** A part of a way by what it does there. */
interface Slot {
  /** The same in every recipe that has it. */
  readonly role: string;
  readonly place: Part['place'];
  readonly kind: PartKind;
  readonly value: number;
  /** Value at which the part does least; null where it has none. */
  readonly idle: 'large' | 'small';
  readonly group: 'correction' | 'trap' | null;
}

const kindOrder = { highPass: ['capacitor', 'coil'], lowPass: ['coil', 'capacitor'] } as const;

/** The parts of a way, from the amplifier to the driver, with textbook values. */
function slotsOf(recipe: NetworkRecipe, w: number, { ohmsAt }: DriverOutline): Slot[] {
  const way = recipe.ways[w];
  const below = w > 0 ? recipe.crossHz[w - 1] : null;
  const above = recipe.crossHz.at(w) ?? null;
  const ohms = ohmsAt(Math.sqrt((below ?? 100) * (above ?? 8000)));
  const slots: Slot[] = [];
  const one = (
    role: string,
    place: Slot['place'],
    kind: PartKind,
    value: number,
    idle: Slot['idle'],
    group: Slot['group'] = null,
  ) => slots.push({ role, place, kind, value, idle, group });
  const slope = (side: 'highPass' | 'lowPass', order: RecipeOrder, hz: number | null) => {
    if (order === 0 || hz === null) return;
    const [load, omega] = [ohmsAt(hz), twoPi * hz];
    // A high pass is a low pass with coils and capacitors exchanged, at 1/ω.
    ladder(denominator('butterworth', order)).forEach((element, i) => {
      const g = side === 'highPass' ? 1 / element : element;
      const kind = kindOrder[side][i % 2];
      const value = kind === 'coil' ? (g * load) / omega : g / (omega * load);
      const isSeries = i % 2 === 0;
      const idle = isSeries === (kind === 'coil') ? 'small' : 'large';
      one(`${side} ${i}`, isSeries ? 'series' : 'shunt', kind, value, idle);
    });
  };
  if (way.pad === 'front') one('pad series', 'series', 'resistor', 0.35 * ohms, 'small');
  slope('highPass', way.highPass, below);
  slope('lowPass', way.lowPass, above);
  const correction = () => {
    one('correction R', 'shunt', 'resistor', 1.25 * ohms, 'large', 'correction');
    one('correction C', 'shunt', 'capacitor', 1 / (twoPi * 2000 * ohms), 'small', 'correction');
  };
  if (way.correction === 'filter') correction();
  if (way.trap !== 'none') {
    const place = way.trap === 'shunt' ? 'shunt' : 'series';
    const omega = twoPi * Math.sqrt((below ?? 200) * (above ?? 12_000)) * 1.8;
    const isShunt = way.trap === 'shunt';
    one(
      'trap R',
      place,
      'resistor',
      (isShunt ? 2 : 0.5) * ohms,
      isShunt ? 'large' : 'small',
      'trap',
    );
    one(
      'trap L',
      place,
      'coil',
      ((isShunt ? 1 : 0.4) * ohms) / omega,
      isShunt ? 'large' : 'small',
      'trap',
    );
    one(
      'trap C',
      place,
      'capacitor',
      1 / ((isShunt ? 1 : 0.4) * omega * ohms),
      isShunt ? 'small' : 'large',
      'trap',
    );
  }
  if (way.pad === 'series' || way.pad === 'divider')
    one('pad series', 'series', 'resistor', 0.35 * ohms, 'small');
  if (way.pad === 'divider') one('pad shunt', 'shunt', 'resistor', 2 * ohms, 'large');
  if (way.correction === 'driver') correction();
  if (way.correction === 'capacitor')
    one('correction C', 'shunt', 'capacitor', 1 / (twoPi * 4000 * ohms), 'small');
  return slots;
}

const padCounts = { none: 0, front: 1, series: 1, divider: 2 } as const;
const correctionCounts = { none: 0, capacitor: 1, driver: 2, filter: 2 } as const;

/** Number of parts that a way takes. */
const wayPartCount = ({ highPass, lowPass, pad, correction, trap }: WayRecipe): number =>
  highPass + lowPass + padCounts[pad] + correctionCounts[correction] + (trap === 'none' ? 0 : 3);

/** Number of parts that a recipe takes. */
export const partCountOf = ({ ways }: Pick<NetworkRecipe, 'ways'>): number =>
  ways.reduce((sum, way) => sum + wayPartCount(way), 0);

/** How many of each kind a recipe takes. */
export function partKindsOf({ ways }: NetworkRecipe) {
  const counts = { resistor: 0, coil: 0, capacitor: 0 };
  for (const { highPass, lowPass, pad, correction, trap } of ways) {
    // A low pass begins with its coil, a high pass with its capacitor.
    counts.coil += Math.ceil(lowPass / 2) + Math.floor(highPass / 2);
    counts.capacitor += Math.floor(lowPass / 2) + Math.ceil(highPass / 2);
    counts.resistor += padCounts[pad];
    if (correction !== 'none') counts.capacitor++;
    if (correction === 'driver' || correction === 'filter') counts.resistor++;
    for (const kind of trap === 'none' ? [] : (['resistor', 'coil', 'capacitor'] as const))
      counts[kind]++;
  }
  return counts;
}

/** A network that was found for another recipe, to go on from. */
export interface Ancestor {
  readonly recipe: NetworkRecipe;
  readonly ways: readonly Way[];
}

/** How far from where it does nothing a part that is new to a network begins. */
const idleFactor = 4;

/**
 * Builds the rails of a recipe, every part free within what shops sell. Values are those of a
 * textbook filter into the driver's impedance at the crossover (Butterworth, by network synthesis),
 * or an ancestor's for parts of the same role; what the ancestor has not begins doing little.
 *
 * @param outlines of the drivers, in the order of the recipe's ways
 * @param mostHenries no coil begins above this, or may be moved there; null for no such limit
 */
export function networkOf(
  recipe: NetworkRecipe,
  outlines: readonly DriverOutline[],
  mostHenries: number | null,
  ancestor: Ancestor | null = null,
): Way[] {
  const counts = { resistor: 0, coil: 0, capacitor: 0 };
  return recipe.ways.map((way, w) => {
    const { driver, name, target } = outlines[w];
    const known = ancestor
      ? new Map(
          slotsOf(ancestor.recipe, w, outlines[w]).map(({ role, kind }, k) => [
            `${role} ${kind}`,
            partValue(ancestor.ways[w].parts[k]),
          ]),
        )
      : null;
    const parts = slotsOf(recipe, w, outlines[w]).map((slot): Part => {
      const { kind, role, place, group, idle } = slot;
      const partName = `${partKinds[kind].letter}${++counts[kind]}`;
      const [lowest, most] = searched[kind];
      const highest = kind === 'coil' ? Math.min(most, mostHenries ?? Infinity) : most;
      const quiet = slot.value * (idle === 'large' ? idleFactor : 1 / idleFactor);
      const value = known ? (known.get(`${role} ${kind}`) ?? quiet) : slot.value;
      const inside = Math.min(highest / 1.05, Math.max(lowest * 1.05, value));
      return asBought(
        makePart(
          {
            ...plainPart,
            id: partName.toLowerCase(),
            name: partName,
            place,
            groupId: group && `${group}-${w}`,
            fit: { ...plainPart.fit, isFree: true, lowest, highest },
          },
          kind,
          inside,
          0,
        ),
      );
    });
    const groups: Group[] = [];
    if (way.correction === 'driver' || way.correction === 'filter')
      groups.push({ id: `correction-${w}`, join: 'series', parentId: null });
    if (way.trap !== 'none')
      groups.push({
        id: `trap-${w}`,
        join: way.trap === 'shunt' ? 'series' : 'parallel',
        parentId: null,
      });
    return {
      ...plainWay,
      id: `way-${driver.id}`,
      ...{ name, target, parts, groups },
      ends: [endAt(driver.id)],
      polarity: way.isReversed ? ('reversed' as const) : ('normal' as const),
    };
  });
}

/** Ways whose parts have the bounds of a part that anybody may fit. */
export const withoutBounds = (ways: readonly Way[]): Way[] =>
  ways.map((way) => ({
    ...way,
    parts: way.parts.map((part) => ({
      ...part,
      fit: { ...part.fit, lowest: null, highest: null },
    })),
  }));

/** Whether a part ends where a search may not go on: it would be another network without it. */
export const isAtItsEnd = (part: Part): boolean => {
  const [least, most] = searched[part.kind];
  const value = partValue(part);
  const highest = Math.min(most, part.fit.highest ?? Infinity);
  return value < least * 1.01 || value > highest / 1.01;
};

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

const orderNames = ['no', 'first', 'second', 'third', 'fourth'] as const;

/** A recipe in words: "Tweeter: second-order high pass, divider, reversed". */
export const inWords = ({ ways }: NetworkRecipe, outlines: readonly DriverOutline[]): string[] =>
  ways.map((way, w) => {
    const words = [
      way.pad === 'front' && 'resistor in front',
      way.highPass > 0 && `${orderNames[way.highPass]}-order high pass`,
      way.lowPass > 0 && `${orderNames[way.lowPass]}-order low pass`,
      way.correction === 'filter' && 'RC behind the filter',
      way.trap === 'shunt' && 'notch in shunt',
      way.trap === 'line' && 'trap in the line',
      way.pad === 'series' && 'series resistor',
      way.pad === 'divider' && 'L-pad',
      way.correction === 'driver' && 'Zobel network',
      way.correction === 'capacitor' && 'capacitor across the driver',
      way.isReversed && 'reversed',
    ].filter(Boolean);
    return `${outlines[w].name}: ${words.length > 0 ? words.join(', ') : 'no filter'}`;
  });

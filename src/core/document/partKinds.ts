import type { PreferredSeries } from '@/core/units/preferredSeries';
import { formatQuantity, type Dimension } from '@/core/units/quantity';
import type { Part, PartKind } from './schema';

/** Least and most of a value, in Ω, H or F. */
type ValueRange = readonly [least: number, most: number];

/** What is always true of a kind of part. */
interface PartKindFacts {
  readonly word: string;
  /** Letter of the reference designation (IEC 81346-2 practice for these three). */
  readonly letter: string;
  readonly dimension: Dimension;
  /** What it is in a netlist; a kind with a law of its own has one in `network/immittance.ts`. */
  readonly element: 'resistor' | 'coil' | 'capacitor';
  /** Series of IEC 60063 in which it is sold. */
  readonly series: PreferredSeries;
  /** Steps in which one's value can be made: turns off a coil, ends of wire, small capacitors. */
  readonly step: number;
  /** Values that a shelf of one's own begins with. */
  readonly owned: readonly number[];
  /** What one costs besides what follows its value (common practice, no source). */
  readonly price: number;
  /**
   * Exponent by which its series resistance follows its value; null for what has none, see {@link
   * lossExponent}.
   */
  readonly lossExponent: number | null;
  /**
   * Value and series resistance that a new one begins with. A coil of 0.47 mH in air has about 0.3
   * Ω.
   */
  readonly first: { readonly value: number; readonly seriesOhms: number };
  /**
   * Values that parts of crossovers have: beyond them a unit was probably misread (common
   * practice).
   */
  readonly usual: ValueRange;
  /** Values that a hand may enter. */
  readonly entered: ValueRange;
  /** Values that a shop sells: the widest bounds of a fit when none are set. */
  readonly fitted: ValueRange;
}

export const partKinds: Readonly<Record<PartKind, PartKindFacts>> = {
  resistor: {
    word: 'resistor',
    letter: 'R',
    dimension: 'ohm',
    element: 'resistor',
    series: 'E24',
    step: 0.1,
    owned: [1, 2.2, 4.7, 10],
    price: 1.5,
    lossExponent: null,
    first: { value: 4.7, seriesOhms: 0 },
    usual: [0.05, 1000],
    entered: [0.01, 10_000],
    fitted: [0.1, 100],
  },
  coil: {
    word: 'coil',
    letter: 'L',
    dimension: 'henry',
    element: 'coil',
    series: 'E12',
    step: 0.05e-3,
    owned: [0.22e-3, 0.47e-3, 1e-3, 2.2e-3],
    price: 3,
    lossExponent: 0.6,
    first: { value: 0.47e-3, seriesOhms: 0.3 },
    usual: [10e-6, 50e-3],
    entered: [1e-6, 0.2],
    fitted: [0.05e-3, 22e-3],
  },
  capacitor: {
    word: 'capacitor',
    letter: 'C',
    dimension: 'farad',
    element: 'capacitor',
    series: 'E12',
    step: 0.1e-6,
    owned: [2.2e-6, 4.7e-6, 10e-6, 22e-6],
    price: 1,
    lossExponent: -1,
    first: { value: 10e-6, seriesOhms: 0 },
    usual: [47e-9, 2e-3],
    entered: [1e-9, 0.01],
    fitted: [0.47e-6, 680e-6],
  },
};

/** The kinds, in the order in which they are offered. */
export const kindsOfParts = Object.keys(partKinds) as PartKind[];

/** The same for every kind of part. */
export const forEveryKind = <T>(of: (kind: PartKind) => T): Readonly<Record<PartKind, T>> =>
  Object.fromEntries(kindsOfParts.map((kind) => [kind, of(kind)])) as Record<PartKind, T>;

type LossyPart = Extract<Part, { seriesOhms: number }>;

/** What all kinds of parts share. */
type PartBase = Omit<Extract<Part, { kind: 'resistor' }>, 'kind' | 'ohms'>;

/** A part of a kind with its value; a resistor has no series resistance. */
export function makePart(base: PartBase, kind: PartKind, value: number, seriesOhms: number): Part {
  switch (kind) {
    case 'resistor':
      return { ...base, kind, ohms: value };
    case 'coil':
      return { ...base, kind, henries: value, seriesOhms };
    case 'capacitor':
      return { ...base, kind, farads: value, seriesOhms };
  }
}

/** Main value of a part: Ω, H or F. */
export function partValue(part: Part): number {
  switch (part.kind) {
    case 'resistor':
      return part.ohms;
    case 'coil':
      return part.henries;
    case 'capacitor':
      return part.farads;
  }
}

export function withPartValue(part: Part, value: number): Part {
  switch (part.kind) {
    case 'resistor':
      return { ...part, ohms: value };
    case 'coil':
      return { ...part, henries: value };
    case 'capacitor':
      return { ...part, farads: value };
  }
}

/** Whether a part's value is one that such a part may have; if not, a unit was probably misread. */
export function isUsualValue(part: Part): boolean {
  const [least, most] = partKinds[part.kind].usual;
  const value = partValue(part);
  // Nought and below are no values at all, which is said elsewhere.
  if (!(value > 0)) return true;
  return value >= least * (1 - 1e-9) && value <= most * (1 + 1e-9);
}

/** The values that are usual for a kind of part, for a sentence. */
export function usualRange(kind: PartKind): string {
  const { usual, dimension } = partKinds[kind];
  return usual.map((value) => formatQuantity(value, dimension)).join(' to ');
}

/** A part's value as the trade writes it. */
export const shownValue = (part: Part): string =>
  formatQuantity(partValue(part), partKinds[part.kind].dimension);

/**
 * Exponent by which a part's series resistance follows its value; 0 when the resistance was stated
 * by hand. A coil of the same wire in air: L ∝ N²·r and a wire of length ∝ N·r with r ∝ √N, so R ∝
 * L^0.6 (scaling of Maxwell's optimum coil); on the same core L ∝ N² and R ∝ N. A capacitor of the
 * same type keeps its dissipation factor, so R ∝ 1/C.
 */
export function lossExponent(part: Part): number {
  const { lossExponent: usual } = partKinds[part.kind];
  if (usual === null || hasStatedLoss(part)) return 0;
  return part.kind === 'coil' && part.core === 'magnetic' ? 0.5 : usual;
}

/** Series resistance besides the value, Ω; 0 for a resistor. */
export const partLoss = (part: Part): number => (hasLoss(part) ? part.seriesOhms : 0);

/** Whether parts of its kind have a series resistance besides their value. */
export const hasLoss = (part: Part): part is LossyPart => part.kind !== 'resistor';

/** Whether its loss was stated by hand and does not follow the value. */
export const hasStatedLoss = (part: Part): boolean => hasLoss(part) && part.isLossFixed === true;

/**
 * Series resistance of a part in ohms when its value has moved by a factor and it stays of its
 * kind.
 */
export const followedLoss = (part: Part, factor: number): number =>
  partLoss(part) * factor ** lossExponent(part);

/** A part whose loss is stated by hand; with null it follows the value from now on. */
export function withStatedLoss(part: Part, seriesOhms: number | null): Part {
  if (!hasLoss(part)) return part;
  if (seriesOhms !== null) return { ...part, seriesOhms, isLossFixed: true };
  const free = { ...part };
  delete free.isLossFixed;
  return free;
}

/** The lowest free name after some letters, `C4`; it is used from now on. */
export function takeFreeName(used: Set<string>, letters: string): string {
  let number = 1;
  while (used.has(`${letters}${number}`)) number++;
  const name = `${letters}${number}`;
  used.add(name);
  return name;
}

/** The letters with which a part's name begins. */
export const lettersOf = (name: string): string => name.replace(/\d+$/, '');

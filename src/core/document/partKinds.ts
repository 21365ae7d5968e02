import type { Dimension } from '@/core/units/quantity';
import type { Part, PartKind } from './schema';

/** Least and most of a value, in Ω, H or F. */
type ValueRange = readonly [least: number, most: number];

/** What is always true of a kind of part. */
interface PartKindFacts {
  readonly word: string;
  /** Letter of the reference designation (IEC 81346-2 practice for these three). */
  readonly letter: string;
  readonly dimension: Dimension;
  /** Value and series resistance that a new one begins with. A coil of 0.47 mH in air has about 0.3 Ω. */
  readonly first: { readonly value: number; readonly seriesOhms: number };
  /** Values that parts of crossovers have: beyond them a unit was probably misread (common practice). */
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
    first: { value: 4.7, seriesOhms: 0 },
    usual: [0.05, 1000],
    entered: [0.01, 10_000],
    fitted: [0.1, 100],
  },
  coil: {
    word: 'coil',
    letter: 'L',
    dimension: 'henry',
    first: { value: 0.47e-3, seriesOhms: 0.3 },
    usual: [10e-6, 50e-3],
    entered: [1e-6, 0.2],
    fitted: [0.05e-3, 22e-3],
  },
  capacitor: {
    word: 'capacitor',
    letter: 'C',
    dimension: 'farad',
    first: { value: 10e-6, seriesOhms: 0 },
    usual: [47e-9, 2e-3],
    entered: [1e-9, 0.01],
    fitted: [0.47e-6, 680e-6],
  },
};

/** What all kinds of parts share. */
export type PartBase = Omit<Extract<Part, { kind: 'resistor' }>, 'kind' | 'ohms'>;

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

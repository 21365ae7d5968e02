import { formatQuantity, type Dimension } from '@/core/units/quantity';
import type { Part, PartKind } from './schema';

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

/** Values between which parts of crossovers lie, in Ω, H and F (common practice). */
const usualValues: Readonly<Record<PartKind, readonly [least: number, most: number]>> = {
  resistor: [0.05, 1000],
  coil: [10e-6, 50e-3],
  capacitor: [47e-9, 2e-3],
};

/** Whether a part's value is one that such a part may have; if not, a unit was probably misread. */
export function isUsualValue(part: Part): boolean {
  const [least, most] = usualValues[part.kind];
  const value = partValue(part);
  // Nought and below are no values at all, which is said elsewhere.
  if (!(value > 0)) return true;
  return value >= least * (1 - 1e-9) && value <= most * (1 + 1e-9);
}

/** The values that are usual for a kind of part, for a sentence. */
export function usualRange(kind: PartKind): string {
  const dimension = partDimension[kind];
  return usualValues[kind].map((value) => formatQuantity(value, dimension)).join(' to ');
}

/** What the value of each kind of part measures. */
export const partDimension = {
  resistor: 'ohm',
  coil: 'henry',
  capacitor: 'farad',
} as const satisfies Readonly<Record<PartKind, Dimension>>;

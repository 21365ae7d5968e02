import { formatQuantity } from '@/core/units/quantity';
import { partKinds } from './partKinds';
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

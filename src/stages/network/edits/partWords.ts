import type { Part, PartKind, Place } from '@/core/document/schema';
import { partDimension, partValue } from '@/core/document/partValue';
import { formatQuantity } from '@/core/units/quantity';

export const kindWords: Readonly<Record<PartKind, string>> = {
  resistor: 'resistor',
  coil: 'coil',
  capacitor: 'capacitor',
};

export const placeWords: Readonly<Record<Place, string>> = {
  series: 'in series',
  shunt: 'in shunt',
};

/** Limits of the schema, in Ω, H and F, as narrow as what a hand can hold. */
export const limitsOf: Readonly<Record<PartKind, { readonly min: number; readonly max: number }>> =
  {
    resistor: { min: 0.01, max: 10_000 },
    coil: { min: 1e-6, max: 0.2 },
    capacitor: { min: 1e-9, max: 0.01 },
  };

export const shownValue = (part: Part): string =>
  formatQuantity(partValue(part), partDimension[part.kind]);

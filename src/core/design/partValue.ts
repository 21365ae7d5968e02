import type { Part } from './schema';

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

import {
  partsOf,
  plainPart,
  type Design,
  type Part,
  type PartKind,
  type Place,
} from '@/core/document/schema';

/** Letters of the reference designation, IEC 81346-2 practice for these three: R, L, C. */
const letters: Readonly<Record<PartKind, string>> = { resistor: 'R', coil: 'L', capacitor: 'C' };

/**
 * A new part with the lowest free number for its letter, and a middling value to begin from:
 * 4.7 Ω, 0.47 mH, 10 µF. A coil starts with the resistance that an air coil of that size has (about 0.3 Ω).
 */
export function newPart(design: Design, kind: PartKind, place: Place, id: string): Part {
  const used = new Set(partsOf(design).map((part) => part.name));
  let number = 1;
  while (used.has(`${letters[kind]}${number}`)) number++;
  const base = { ...plainPart, id, name: `${letters[kind]}${number}`, place };
  if (kind === 'resistor') return { ...base, kind, ohms: 4.7 };
  return kind === 'coil'
    ? { ...base, kind, henries: 0.47e-3, seriesOhms: 0.3 }
    : { ...base, kind, farads: 10e-6, seriesOhms: 0 };
}

import { makePart, partKinds, takeFreeName } from '@/core/document/partKinds';
import {
  partsOf,
  plainPart,
  type Design,
  type Part,
  type PartKind,
  type Place,
} from '@/core/document/schema';

/** A new part with the lowest free number for its letter, and a middling value to begin from. */
export function newPart(design: Design, kind: PartKind, place: Place, id: string): Part {
  const { letter, first } = partKinds[kind];
  const used = new Set(partsOf(design).map((part) => part.name));
  const base = { ...plainPart, id, name: takeFreeName(used, letter), place };
  return makePart(base, kind, first.value, first.seriesOhms);
}

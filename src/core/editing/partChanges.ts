import { followedLoss, hasLoss, partValue, withPartValue } from '@/core/document/partKinds';
import type { PartSetting } from './change';
import { partsOf, type Design, type Part } from '@/core/document/schema';
import { withoutMember } from './switches';

/** The design with every part edited; ways and bridges whose parts stay the same are shared. */
function editedParts(design: Design, edit: (part: Part) => Part): Design {
  const each = (parts: readonly Part[]): Part[] | null => {
    const next = parts.map(edit);
    return next.some((part, i) => part !== parts[i]) ? next : null;
  };
  const bridges = each(design.bridges.map(({ part }) => part));
  return {
    ...design,
    ways: design.ways.map((way) => {
      const parts = each(way.parts);
      return parts ? { ...way, parts } : way;
    }),
    bridges: bridges
      ? design.bridges.map((bridge, i) => ({ ...bridge, part: bridges[i] }))
      : design.bridges,
  };
}

export const editedPart = (design: Design, id: string, edit: (part: Part) => Part): Design =>
  editedParts(design, (part) => (part.id === id ? edit(part) : part));

/** The design with two parts in each other's places. */
export function swapped(design: Design, partA: string, partB: string): Design {
  const [a, b] = [partA, partB].map((id) => partsOf(design).find((part) => part.id === id));
  if (!a || !b) return design;
  const inPlaceOf = (part: Part, { place, groupId }: Part): Part => ({ ...part, place, groupId });
  return editedParts(design, (part) =>
    part.id === a.id ? inPlaceOf(b, a) : part.id === b.id ? inPlaceOf(a, b) : part,
  );
}

/**
 * The design with another part in the place of one; a switch lets go of one that becomes another
 * kind.
 */
export function replaced(design: Design, part: Part): Design {
  const next = editedPart(design, part.id, () => part);
  const before = partsOf(design).find(({ id }) => id === part.id);
  return before?.kind === part.kind
    ? next
    : { ...next, switches: next.switches.map((one) => withoutMember(one, 'part', part.id)) };
}

/** The design with new values; parts that are tied to one of them follow. */
export function withValues(design: Design, values: ReadonlyMap<string, PartSetting>): Design {
  const settingOf = ({ id, fit: { tie } }: Part): PartSetting | undefined => {
    const own = values.get(id);
    if (tie === null || own) return own;
    const other = values.get(tie.partId);
    return other && { value: other.value * tie.ratio, seriesOhms: null };
  };
  return editedParts(design, (part) => {
    const setting = settingOf(part);
    return setting ? withSetting(part, setting) : part;
  });
}

function withSetting(part: Part, { value, seriesOhms }: PartSetting): Part {
  const set = withPartValue(part, value);
  if (!hasLoss(set)) return set;
  return { ...set, seriesOhms: seriesOhms ?? followedLoss(part, value / partValue(part)) };
}

/** Couplings go with their coils. */
export function withoutLooseCouplings(design: Design): Design {
  if (design.couplings.length === 0) return design;
  const coils = new Set(
    partsOf(design)
      .filter(({ kind }) => kind === 'coil')
      .map(({ id }) => id),
  );
  const kept = design.couplings.filter(({ partA, partB }) => coils.has(partA) && coils.has(partB));
  return kept.length === design.couplings.length ? design : { ...design, couplings: kept };
}

/**
 * A tie goes with the part that it follows, and when that part becomes another kind or is tied
 * itself.
 */
export function withoutLooseTies(design: Design): Design {
  const parts = partsOf(design);
  const isLoose = ({ kind, fit: { tie } }: Part) => {
    if (tie === null) return false;
    const other = parts.find(({ id }) => id === tie.partId);
    return other?.kind !== kind || other.fit.tie !== null;
  };
  if (!parts.some(isLoose)) return design;
  return editedParts(design, (part) =>
    isLoose(part) ? { ...part, fit: { ...part.fit, tie: null } } : part,
  );
}

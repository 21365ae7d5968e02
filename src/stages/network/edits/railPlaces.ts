import type { PartId } from '@/core/fields';
import { placeAt } from '@/core/document/places';
import { partsIn, positionsOf } from '@/core/document/positions';
import type { Bridge, Design, Way } from '@/core/document/schema';
import type { Selection } from '@/desk/deskState';

/** A part on a rail, and where it is there. */
export const findOnRail = ({ ways }: Design, id: string) => {
  const way = ways.find(({ parts }) => parts.some((part) => part.id === id));
  const index = way?.parts.findIndex((part) => part.id === id) ?? -1;
  return way ? { way, index, part: way.parts[index] } : null;
};

/**
 * Whether a part is connected to a way that mirrors another: a change to it is one to its original.
 */
export const isMirrored = (design: Design, id: string): boolean =>
  findOnRail(design, id)?.way.mirrorOf !== undefined;

/** Index behind the position of a rail at which a part is. */
export function behindPosition(way: Way, partId: PartId): number {
  const position = positionsOf(way).find(({ branch }) =>
    partsIn(branch).some(({ id }) => id === partId),
  )!;
  return position.from + position.count;
}

/** Where a bridge begins and ends that is asked for with something chosen. */
export function bridgeEnds(design: Design, selection: Selection): Pick<Bridge, 'a' | 'b'> | null {
  if (selection.kind === 'part') {
    const found = findOnRail(design, selection.id);
    if (!found) return null;
    const position = positionsOf(found.way).find(({ branch }) =>
      partsIn(branch).some(({ id }) => id === selection.id),
    )!;
    const a = placeAt(found.way, position.from);
    return position.place === 'series'
      ? { a, b: { kind: 'after', partId: selection.id } }
      : { a, b: { kind: 'end', wayId: found.way.id } };
  }
  const way = design.ways.find(
    ({ id }) => id === (selection.kind === 'way' ? selection.id : selection.wayId),
  );
  return (
    (way && {
      a: placeAt(way, selection.kind === 'gap' ? selection.index : 0),
      b: { kind: 'end', wayId: way.id },
    }) ??
    null
  );
}

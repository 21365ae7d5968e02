import type { PartId, WayId } from '@/core/fields';
import { lettersOf, takeFreeName } from '@/core/document/partKinds';
import type { RailContents } from './arrange';
import type { Change } from './change';
import { partsOf, type Design, type Part, type Way } from '@/core/document/schema';

/**
 * A way may mirror another: its parts are always those of that way, under names of their own, and a
 * change to either is a change to both. Parts and groups of the two correspond by their order.
 */

const sourceOf = (design: Design, { mirrorOf }: Way): Way | undefined =>
  mirrorOf === undefined ? undefined : design.ways.find(({ id }) => id === mirrorOf);

/** The part that a part on a mirroring way follows, by its id; any other part's own. */
export function originalOf(design: Design, partId: PartId): string {
  for (const way of design.ways) {
    const at = way.parts.findIndex(({ id }) => id === partId);
    if (at >= 0) return sourceOf(design, way)?.parts[at].id ?? partId;
  }
  return partId;
}

/**
 * A change to what is connected to a mirroring way, as the same change to the way that it mirrors.
 */
export function mirroredBack(design: Design, change: Change): Change {
  if (design.ways.every(({ mirrorOf }) => mirrorOf === undefined)) return change;
  const partIdOf = (id: string) => originalOf(design, id);
  switch (change.type) {
    case 'editPart': {
      const id = partIdOf(change.id);
      if (id === change.id) return change;
      // What a fit may do with a mirroring part is no matter of its own.
      const set = { ...change.set };
      delete set.fit;
      return { ...change, id, set };
    }
    case 'removePart':
    case 'setPartValue':
    case 'setPartLoss':
    case 'setCore':
      return { ...change, id: partIdOf(change.id) };
    case 'replacePart': {
      const id = partIdOf(change.part.id);
      const source = partsOf(design).find((part) => part.id === id);
      return source && id !== change.part.id
        ? { ...change, part: { ...change.part, ...placeIn(source) } }
        : change;
    }
    case 'swapParts':
      return { ...change, partA: partIdOf(change.partA), partB: partIdOf(change.partB) };
    case 'setPartValues':
      return {
        ...change,
        values: new Map([...change.values].map(([id, value]) => [partIdOf(id), value])),
      };
    case 'addPart': {
      const way = design.ways.find(({ id }) => id === change.wayId);
      return { ...change, wayId: (way && sourceOf(design, way)?.id) ?? change.wayId };
    }
    case 'arrangeWays':
      // Between a way and its mirror nothing can go: it starts from both already.
      if ([...change.contents.keys()].some((id) => mirrorsOneOf(design, id, change.contents)))
        return { ...change, contents: new Map() };
      return {
        ...change,
        contents: new Map(
          [...change.contents].map(([wayId, contents]) => {
            const way = design.ways.find(({ id }) => id === wayId);
            const source = way && sourceOf(design, way);
            return source ? [source.id, contentsBack(contents, way, source)] : [wayId, contents];
          }),
        ),
      };
    default:
      return change;
  }
}

const mirrorsOneOf = (design: Design, wayId: WayId, ways: ReadonlyMap<string, unknown>) => {
  const original = design.ways.find(({ id }) => id === wayId)?.mirrorOf;
  return original !== undefined && ways.has(original);
};

/** What makes a part the one that it is, whatever its kind and value. */
const placeIn = ({ id, name, place, groupId, fit }: Part) => ({ id, name, place, groupId, fit });

/** What is connected to a mirroring way, arranged anew, in terms of the way that it mirrors. */
function contentsBack({ parts, groups }: RailContents, way: Way, source: Way): RailContents {
  const groupIds = new Map(way.groups.map(({ id }, g) => [id, source.groups[g].id]));
  const groupBack = (id: string | null) => (id === null ? null : (groupIds.get(id) ?? id));
  return {
    parts: parts.map((part) => {
      const at = way.parts.findIndex(({ id }) => id === part.id);
      const own = at < 0 ? part : source.parts[at];
      return { ...own, place: part.place, groupId: groupBack(part.groupId) };
    }),
    groups: groups.map((group) => ({
      ...group,
      id: groupBack(group.id)!,
      parentId: groupBack(group.parentId),
    })),
  };
}

/**
 * The design after a change, mirroring ways following those that they mirror; one whose original
 * has gone is alone.
 */
export function withMirrors(before: Design, next: Design): Design {
  if (next.ways.every(({ mirrorOf }) => mirrorOf === undefined)) return next;
  const used = {
    names: new Set(partsOf(next).map(({ name }) => name)),
    ids: new Set([
      ...partsOf(next).map(({ id }) => id),
      ...next.ways.flatMap(({ id, groups }) => [id, ...groups.map((group) => group.id)]),
    ]),
  };
  return {
    ...next,
    ways: next.ways.map((way) => {
      const source = sourceOf(next, way);
      if (!source || source.mirrorOf !== undefined) return alone(way);
      const earlier = before.ways.find(({ id }) => id === way.id);
      const original = earlier?.mirrorOf === source.id ? sourceOf(before, earlier) : undefined;
      const followed = earlier && original ? { mirror: earlier, source: original } : null;
      if (!followed) for (const { name } of way.parts) used.names.delete(name);
      return mirrored(way, source, followed, used);
    }),
  };
}

/** A way that mirrors another, or is alone with parts of its own. */
export function mirroring(way: Way, ofId: string | null): Way {
  if (ofId !== null) return { ...way, mirrorOf: ofId };
  const { parts, ...rest } = alone(way);
  return { ...rest, parts: parts.map((part) => ({ ...part, fit: { ...part.fit, tie: null } })) };
}

function alone(way: Way): Way {
  if (way.mirrorOf === undefined) return way;
  const rest = { ...way };
  delete rest.mirrorOf;
  return rest;
}

/**
 * @param followed how the two was before, when the way mirrored already: what corresponds keeps its
 *   id and name
 * @param used names of parts, and ids, in the whole design; new ones are added
 */
function mirrored(
  way: Way,
  source: Way,
  followed: { readonly mirror: Way; readonly source: Way } | null,
  used: { readonly names: Set<string>; readonly ids: Set<string> },
): Way {
  const freeId = (id: string) => {
    let number = 2;
    while (used.ids.has(`${id.slice(0, 34)}-${number}`)) number++;
    used.ids.add(`${id.slice(0, 34)}-${number}`);
    return `${id.slice(0, 34)}-${number}`;
  };
  const freeName = (name: string) => takeFreeName(used.names, lettersOf(name));
  const kept = <T extends { readonly id: string }>(
    item: T,
    pick: (one: Way) => readonly T[],
  ): T | undefined => {
    const at = followed ? pick(followed.source).findIndex(({ id }) => id === item.id) : -1;
    return at < 0 ? undefined : pick(followed!.mirror)[at];
  };
  const groupIds = new Map(
    source.groups.map((group) => [
      group.id,
      kept(group, ({ groups }) => groups)?.id ?? freeId(group.id),
    ]),
  );
  const groupOf = (id: string | null) => (id === null ? null : groupIds.get(id)!);
  return {
    ...way,
    parts: source.parts.map((part): Part => {
      const own = kept(part, ({ parts }) => parts);
      const letterHolds = own !== undefined && lettersOf(own.name) === lettersOf(part.name);
      return {
        ...part,
        id: own?.id ?? freeId(part.id),
        name: own && letterHolds ? own.name : freeName(part.name),
        groupId: groupOf(part.groupId),
        fit: {
          isFree: false,
          lowest: null,
          highest: null,
          tie: part.fit.tie ?? { partId: part.id, ratio: 1 },
        },
      };
    }),
    groups: source.groups.map((group) => ({
      ...group,
      id: groupOf(group.id)!,
      parentId: groupOf(group.parentId),
    })),
  };
}

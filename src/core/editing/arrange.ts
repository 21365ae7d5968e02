import type { GroupId, PartId } from '@/core/fields';
import { lettersOf, takeFreeName } from '@/core/document/partKinds';
import { groupChain, partsIn, positionsOf } from '@/core/document/positions';
import type { Group, Part, Place, Way } from '@/core/document/schema';

/** What is connected to a rail. */
export type RailContents = Pick<Way, 'parts' | 'groups'>;

/** Without groups that are empty or hold a single member; what they held is where they were. */
export function tidied({ parts, groups }: RailContents): RailContents {
  let contents: RailContents = { parts, groups };
  for (;;) {
    const { parts: now, groups: left } = contents;
    const poor = left.find(({ id }) => {
      const members = new Set([
        ...now.filter(({ groupId }) => groupId === id).map((part) => part.id),
        ...left.filter(({ parentId }) => parentId === id).map((group) => group.id),
      ]);
      return members.size < 2;
    });
    if (!poor) return contents;
    contents = dissolved(contents, poor.id);
  }
}

/** A group taken apart: its members go into the group around it, or onto the rail. */
export function dissolved({ parts, groups }: RailContents, groupId: GroupId): RailContents {
  const parentId = groups.find(({ id }) => id === groupId)?.parentId ?? null;
  return {
    parts: parts.map((part) => (part.groupId === groupId ? { ...part, groupId: parentId } : part)),
    groups: groups
      .filter(({ id }) => id !== groupId)
      .map((group) => (group.parentId === groupId ? { ...group, parentId } : group)),
  };
}

/**
 * Joins a part with what comes after it, in the same group or on the rail, to a new group. Two that
 * are joined in the same way as the group that they are in already are left alone.
 *
 * @returns null when nothing comes after it there
 */
export function joinedWithNext(
  contents: RailContents,
  partId: PartId,
  join: Group['join'],
  groupId: GroupId,
): RailContents | null {
  const at = contents.parts.findIndex(({ id }) => id === partId);
  const part = contents.parts.at(at);
  if (at < 0 || !part) return null;
  const depth = groupChain(contents, part).length;
  const rest = contents.parts.slice(at + 1);
  const [next] = rest;
  if (!next) return null;
  const chain = groupChain(contents, next);
  if (depth > 0 && chain.at(depth - 1)?.id !== part.groupId) return null;
  if (contents.groups.find(({ id }) => id === part.groupId)?.join === join) return null;
  const innerId = chain.at(depth)?.id ?? null;
  const inner = contents.groups.find(({ id }) => id === innerId);
  // What comes next is a group of the wanted kind already: the part joins it.
  if (inner?.join === join)
    return {
      ...contents,
      parts: contents.parts.map((one) =>
        one.id === partId ? { ...one, groupId: inner.id, place: next.place } : one,
      ),
    };
  const group: Group = { id: groupId, join, parentId: part.groupId };
  const follows = (one: Part) =>
    innerId === null
      ? one.id === next.id
      : groupChain(contents, one).some(({ id }) => id === innerId);
  return {
    parts: contents.parts.map((one) => {
      if (one.id === partId) return { ...one, groupId };
      if (!follows(one)) return one;
      const moved = { ...one, place: part.place };
      return innerId === null ? { ...moved, groupId } : moved;
    }),
    groups: [
      ...contents.groups.map((one) => (one.id === innerId ? { ...one, parentId: groupId } : one)),
      group,
    ],
  };
}

/**
 * A part put in among the others: into the innermost group that both its neighbours there are in,
 * else on the rail.
 */
export function inserted(contents: RailContents, index: number, part: Part): RailContents {
  const before = index > 0 ? contents.parts.at(index - 1) : undefined;
  const after = contents.parts.at(index);
  const around = before ? groupChain(contents, before) : [];
  const shared = after ? groupChain(contents, after).filter((group) => around.includes(group)) : [];
  const inside = shared.at(-1);
  const placedPart = inside ? { ...part, groupId: inside.id, place: after!.place } : part;
  return { ...contents, parts: contents.parts.toSpliced(index, 0, placedPart) };
}

/**
 * One step along: a part among the members of its group, a part or the whole group along the rail.
 */
export function movedAlong(
  contents: RailContents,
  partId: PartId,
  direction: 1 | -1,
): RailContents | null {
  const positions = positionsOf(contents);
  const at = positions.findIndex(({ branch }) => partsIn(branch).some(({ id }) => id === partId));
  const other = positions.at(at + direction);
  if (at < 0 || at + direction < 0 || !other) return null;
  const order = positions.slice();
  [order[at], order[at + direction]] = [other, positions[at]];
  return { ...contents, parts: order.flatMap(({ branch }) => partsIn(branch)) };
}

/**
 * A part, with all of the group that it is in, taken from one rail and put at the end of another.
 */
export function movedAcross(
  from: RailContents,
  to: RailContents,
  partId: PartId,
): { readonly from: RailContents; readonly to: RailContents } | null {
  const moved = positionOf(from, partId);
  return moved && { from: withoutPosition(from, moved), to: withPosition(to, moved) };
}

/** What is at the same place of a rail as a part, by itself. */
export function positionOf({ parts, groups }: RailContents, partId: PartId): RailContents | null {
  const position = positionsOf({ parts, groups }).find(({ branch }) =>
    partsIn(branch).some(({ id }) => id === partId),
  );
  if (!position) return null;
  const own = partsIn(position.branch);
  const ids = new Set(own.flatMap((part) => groupChain({ groups }, part).map(({ id }) => id)));
  return { parts: own, groups: groups.filter(({ id }) => ids.has(id)) };
}

const withoutPosition = ({ parts, groups }: RailContents, taken: RailContents): RailContents => ({
  parts: parts.filter(({ id }) => !taken.parts.some((part) => part.id === id)),
  groups: groups.filter(({ id }) => !taken.groups.some((group) => group.id === id)),
});

const withPosition = ({ parts, groups }: RailContents, more: RailContents): RailContents => ({
  parts: [...parts, ...more.parts],
  groups: [...groups, ...more.groups],
});

/** A part, with all of the group that it is in, put in series or in shunt. */
export function placed(contents: RailContents, partId: PartId, place: Place): RailContents {
  const position = positionsOf(contents).find(({ branch }) =>
    partsIn(branch).some(({ id }) => id === partId),
  );
  const ids = new Set(position ? partsIn(position.branch).map(({ id }) => id) : []);
  return {
    ...contents,
    parts: contents.parts.map((part) => (ids.has(part.id) ? { ...part, place } : part)),
  };
}

/**
 * What is connected to a rail, once more for another: new ids and free names, the same values and
 * groups; nothing is tied.
 *
 * @param usedNames designations that are taken
 * @param newId gives ids that no part and no group has
 */
export function copied(
  { parts, groups }: RailContents,
  usedNames: ReadonlySet<string>,
  newId: () => string,
): RailContents {
  const used = new Set(usedNames);
  const groupIds = new Map(groups.map(({ id }) => [id, newId()]));
  const moved = (id: string | null) => (id === null ? null : groupIds.get(id)!);
  const nameLike = (name: string) => takeFreeName(used, lettersOf(name));
  return {
    parts: parts.map((part) => ({
      ...part,
      id: newId(),
      name: nameLike(part.name),
      groupId: moved(part.groupId),
      fit: { ...part.fit, tie: null },
    })),
    groups: groups.map((group) => ({
      ...group,
      id: groupIds.get(group.id)!,
      parentId: moved(group.parentId),
    })),
  };
}

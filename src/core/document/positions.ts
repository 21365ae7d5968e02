import type { Group, Part, Place, Way } from './schema';

/** A part, or a group of them joined to one two-pole. */
export type Branch =
  | { readonly kind: 'part'; readonly part: Part }
  | {
      readonly kind: 'group';
      readonly group: Group;
      readonly members: readonly Branch[];
    };

/** One place on a rail, and what is there. */
export interface Position {
  readonly place: Place;
  readonly branch: Branch;
  /** Its parts in the way's list: from this index, this many. */
  readonly from: number;
  readonly count: number;
}

/** Groups that a part is in, the outermost first. */
export function groupChain({ groups }: Pick<Way, 'groups'>, part: Part): Group[] {
  const chain: Group[] = [];
  for (let id = part.groupId; id !== null;) {
    const group = groups.find((one) => one.id === id)!;
    chain.unshift(group);
    id = group.parentId;
  }
  return chain;
}

/** With what a part is joined, in words: `in parallel with L2 and C3`; null for one by itself. */
export function joinedWords(way: Pick<Way, 'parts' | 'groups'>, part: Part): string | null {
  const group = groupChain(way, part).at(-1);
  if (!group) return null;
  const others = way.parts
    .filter((other) => other.id !== part.id && groupChain(way, other).includes(group))
    .map(({ name }) => name);
  const last = others.pop();
  if (last === undefined) return null;
  const names = others.length > 0 ? `${others.join(', ')} and ${last}` : last;
  return `in ${group.join} with ${names}`;
}

/** What is connected to a rail, from the amplifier to the driver. */
export function positionsOf(way: Pick<Way, 'parts' | 'groups'>): Position[] {
  const placed = way.parts.map((part) => ({ part, chain: groupChain(way, part) }));
  const positions: Position[] = [];
  for (let from = 0; from < placed.length;) {
    const count = runLength(placed, from, placed.length, 0);
    const run = placed.slice(from, from + count);
    positions.push({ place: run[0].part.place, branch: branchOf(run, 0), from, count });
    from += count;
  }
  return positions;
}

interface Placed {
  readonly part: Part;
  readonly chain: readonly Group[];
}

/**
 * How many parts from an index on share the group at a depth; 1 for a part that is by itself there.
 */
function runLength(placed: readonly Placed[], from: number, to: number, depth: number): number {
  const id = placed[from].chain.at(depth)?.id;
  if (id === undefined) return 1;
  let end = from + 1;
  while (end < to && placed[end].chain.at(depth)?.id === id) end++;
  return end - from;
}

/** Parts that share a group at a depth, or a single part, as a branch. */
function branchOf(run: readonly Placed[], depth: number): Branch {
  const group = run[0].chain.at(depth);
  if (!group) return { kind: 'part', part: run[0].part };
  const members: Branch[] = [];
  for (let from = 0; from < run.length;) {
    const count = runLength(run, from, run.length, depth + 1);
    members.push(branchOf(run.slice(from, from + count), depth + 1));
    from += count;
  }
  return { kind: 'group', group, members };
}

/** All parts of a branch, in order. */
export const partsIn = (branch: Branch): Part[] =>
  branch.kind === 'part' ? [branch.part] : branch.members.flatMap(partsIn);

/**
 * What is left of a branch without some of its parts: a part that is left out of a series
 * connection is a wire, of a parallel connection nothing; on the rail it follows its place.
 */
export function without(branch: Branch, isLeftOut: (part: Part) => boolean): Branch | null {
  if (branch.kind === 'part') return isLeftOut(branch.part) ? null : branch;
  const members = branch.members.flatMap((member) => without(member, isLeftOut) ?? []);
  return members.length === 0 ? null : { ...branch, members };
}

import type { PairId, WayId } from '@/core/fields';
import { homesOf } from '@/core/document/networkSchema';
import { partsIn, positionsOf, without, type Position } from '@/core/document/positions';
import type { Bridge, Design, NodeRef, Part, Way } from '@/core/document/schema';

/** What of a design's network can be solved, and the names of its nodes. */
export interface Wiring {
  /** Ways that take part, each after the one that it starts from. */
  readonly ways: readonly WiredWay[];
  readonly bridges: readonly Bridge[];
  /** Name of a place's node; only of places on what takes part. */
  readonly nodeOf: (node: NodeRef) => string;
}

interface WiredWay {
  readonly way: Way;
  /** Positions with a part that is in the circuit, and the nodes that each joins. */
  readonly positions: readonly (Position & { readonly a: string; readonly b: string })[];
  readonly end: string;
  readonly back: string;
}

/** Hot side of a pair of terminals. When the pairs are joined, all are one. */
const terminalNode = ({ isJoined }: Design, pairId: PairId) =>
  isJoined ? 'terminal' : `terminal of ${pairId}`;

/** Ids of ways from which another starts, or to which a bridge is joined. */
export function waysStoodOn(
  design: Design,
  homeOf = homesOf(design.ways, design.terminals),
): ReadonlySet<string | undefined> {
  const nodes = [
    ...design.ways.map(({ from }) => from),
    ...design.bridges.flatMap(({ a, b }) => [a, b]),
  ];
  return new Set(nodes.map((node) => homeOf(node)?.id));
}

/**
 * Ways that take part: all their drivers can be solved, or they have none and something else starts
 * from them, they start from something, or something hangs on them in shunt; and what they start
 * from takes part.
 *
 * @param usable ids of ways whose drivers can all be solved
 * @param homeOf the way that a place belongs to, for whoever has found it already
 */
export function waysTakingPart(
  design: Design,
  usable: ReadonlySet<string>,
  homeOf = homesOf(design.ways, design.terminals),
): Way[] {
  const stoodOn = waysStoodOn(design, homeOf);
  const isSound = ({ id, ends, from, parts }: Way) =>
    ends.length > 0
      ? usable.has(id)
      : from.kind !== 'terminals' ||
        stoodOn.has(id) ||
        parts.some(({ place }) => place === 'shunt');
  const takesPart = (way: Way): boolean => {
    const home = homeOf(way.from);
    return isSound(way) && (home === null || (home !== undefined && takesPart(home)));
  };
  return design.ways.filter(takesPart);
}

/**
 * Names the nodes of what can be solved.
 *
 * @param usable ids of ways whose drivers can all be solved
 * @param isLeftOut parts to leave out: in series they are wires, in shunt and as bridges nothing
 */
export function wire(
  design: Design,
  usable: ReadonlySet<string>,
  isLeftOut: (part: Part) => boolean,
): Wiring {
  const homeOf = homesOf(design.ways, design.terminals);
  const present = waysTakingPart(design, usable, homeOf);
  const ids = new Set(present.map(({ id }) => id));
  const isThere = (node: NodeRef) => {
    const home = homeOf(node);
    return home === null || (home !== undefined && ids.has(home.id));
  };
  const stacked = new Set(
    present.flatMap(({ from }) => (from.kind === 'return' ? [from.wayId] : [])),
  );
  const backOf = (wayId: WayId) => (stacked.has(wayId) ? `return of ${wayId}` : '0');

  const starts = new Map<string, string>();
  const ends = new Map<string, string>();
  const behind = new Map<string, string>();
  const nodeOf = (node: NodeRef): string => {
    switch (node.kind) {
      case 'ground':
        return '0';
      case 'terminals':
        return terminalNode(design, node.pairId);
      case 'start':
        return starts.get(node.wayId)!;
      case 'end':
        return ends.get(node.wayId)!;
      case 'return':
        return backOf(node.wayId);
      case 'after':
        return behind.get(node.partId)!;
    }
  };
  const depthOf = (way: Way): number => {
    const home = homeOf(way.from);
    return home ? depthOf(home) + 1 : 0;
  };
  const wired = present
    .map((way) => ({ way, depth: depthOf(way) }))
    .sort((one, other) => one.depth - other.depth)
    .map(({ way }): WiredWay => {
      let node = nodeOf(way.from);
      starts.set(way.id, node);
      const back = backOf(way.id);
      const positions = positionsOf(way).flatMap((position) => {
        const left = without(position.branch, isLeftOut);
        const a = node;
        const isSeries = position.place === 'series';
        if (left && isSeries) node = `after ${partsIn(left)[0].id}`;
        for (const { id } of partsIn(position.branch)) behind.set(id, node);
        return left ? [{ ...position, branch: left, a, b: isSeries ? node : back }] : [];
      });
      ends.set(way.id, node);
      return { way, positions, end: node, back };
    });
  return {
    ways: wired,
    bridges: design.bridges.filter(
      ({ part, a, b }) => !isLeftOut(part) && isThere(a) && isThere(b),
    ),
    nodeOf,
  };
}

import type { WayId } from '@/core/fields';
import { homesOf } from './networkSchema';
import type { Design, NodeRef, Way } from './schema';

/** A place of the network in words: "the end of Woofer". */
export function nodeInWords(design: Pick<Design, 'ways' | 'terminals'>, node: NodeRef): string {
  const wayName = (id: string) => design.ways.find((way) => way.id === id)?.name ?? '?';
  switch (node.kind) {
    case 'ground':
      return 'ground';
    case 'terminals':
      return design.terminals.length === 1
        ? 'the terminals'
        : `the pair ${design.terminals.find(({ id }) => id === node.pairId)?.name ?? '?'}`;
    case 'start':
    case 'end':
    case 'return':
      return `the ${node.kind} of ${wayName(node.wayId)}`;
    case 'after': {
      const way = design.ways.find(({ parts }) => parts.some(({ id }) => id === node.partId));
      const part = way?.parts.find(({ id }) => id === node.partId);
      return `behind ${part?.name ?? '?'} of ${way?.name ?? '?'}`;
    }
  }
}

/** A place as text that no other place has, for menus and comparisons. */
export const nodeKey = (node: NodeRef): string =>
  node.kind === 'ground'
    ? node.kind
    : node.kind === 'terminals'
      ? `terminals ${node.pairId}`
      : node.kind === 'after'
        ? `after ${node.partId}`
        : `${node.kind} ${node.wayId}`;

/** Places from which a way may start: no place on itself or on what is connected to it. */
export function startsFor(design: Design, wayId: WayId): NodeRef[] {
  const homeOf = homesOf(design.ways, design.terminals);
  const standsOnIt = (node: NodeRef): boolean => {
    const home = homeOf(node);
    return home ? home.id === wayId || standsOnIt(home.from) : false;
  };
  return allPlaces(design).filter((node) => node.kind !== 'start' && !standsOnIt(node));
}

/** The place of the rail in front of what is at an index of a way's parts. */
export function placeAt({ id, from, parts }: Way, index: number): NodeRef {
  const before = parts.slice(0, index).findLast(({ place }) => place === 'series');
  if (before) return { kind: 'after', partId: before.id };
  return from.kind === 'terminals' ? from : { kind: 'start', wayId: id };
}

/** Every place that a way has or a pair of terminals is. */
export function allPlaces({ terminals, ways }: Design): NodeRef[] {
  return [
    ...terminals.map(({ id }): NodeRef => ({ kind: 'terminals', pairId: id })),
    ...ways.flatMap(({ id, parts, from }): NodeRef[] => {
      const inSeries = parts.filter(({ place }) => place === 'series');
      return [
        ...(from.kind === 'terminals' ? [] : [{ kind: 'start', wayId: id } as const]),
        ...inSeries
          .filter(({ groupId }, i) => groupId === null || inSeries.at(i + 1)?.groupId !== groupId)
          .map((part): NodeRef => ({ kind: 'after', partId: part.id })),
        { kind: 'end', wayId: id },
        { kind: 'return', wayId: id },
      ];
    }),
  ];
}

/**
 * The design after a change with every way and bridge at a place that is there. What was behind a
 * part that is gone, or that went to another way, now is behind what is before it; what was
 * connected to a way that is gone is where that way started.
 *
 * @param before the design before the change
 */
export function withSoundPlaces(before: Design, after: Design): Design {
  if (before.ways === after.ways && before.terminals === after.terminals) return after;
  const was = homesOf(before.ways, before.terminals);
  const is = homesOf(after.ways, after.terminals);
  const settled = (node: NodeRef): NodeRef => {
    const [old, now] = [was(node), is(node)];
    // Newly made places, and those that stayed on their way.
    if (old === undefined || (now !== undefined && now?.id === old?.id)) return node;
    if (node.kind === 'ground' || node.kind === 'terminals' || old === null)
      return { kind: 'terminals', pairId: after.terminals[0].id };
    if (node.kind !== 'after') return settled(old.from);
    const at = old.parts.findIndex(({ id }) => id === node.partId);
    const start = is({ kind: 'start', wayId: old.id });
    if (!start) return settled(old.from);
    const previous = old.parts
      .slice(0, at)
      .findLast(
        ({ id, place }) => place === 'series' && is({ kind: 'after', partId: id }) === start,
      );
    return previous ? { kind: 'after', partId: previous.id } : { kind: 'start', wayId: old.id };
  };
  return {
    ...after,
    ways: after.ways.map((way) => {
      const from = settled(way.from);
      return nodeKey(from) === nodeKey(way.from) ? way : { ...way, from };
    }),
    bridges: after.bridges.map((bridge) => {
      const [a, b] = [settled(bridge.a), settled(bridge.b)];
      return nodeKey(a) === nodeKey(bridge.a) && nodeKey(b) === nodeKey(bridge.b)
        ? bridge
        : { ...bridge, a, b };
    }),
  };
}

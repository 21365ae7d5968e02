import type { Capacitor, Coil, Resistor } from '@/core/network/netlist';

export type PartElement = Resistor | Coil | Capacitor;

/**
 * A part, or several joined to one two-pole, between two nodes. Members in series go from `a` to
 * `b`.
 */
export type Edge =
  | { readonly kind: 'leaf'; readonly a: string; readonly b: string; readonly element: PartElement }
  | {
      readonly kind: 'join';
      readonly a: string;
      readonly b: string;
      readonly join: 'series' | 'parallel';
      readonly members: readonly Edge[];
    };

/** The same, seen from its other end. */
export function flipped(edge: Edge): Edge {
  const ends = { a: edge.b, b: edge.a };
  if (edge.kind === 'leaf') return { ...edge, ...ends };
  const members = edge.members.map(flipped);
  return { ...edge, ...ends, members: edge.join === 'series' ? members.reverse() : members };
}

export const leavesOf = (edge: Edge): (Edge & { readonly kind: 'leaf' })[] =>
  edge.kind === 'leaf' ? [edge] : edge.members.flatMap(leavesOf);

/**
 * Parts joined as far as they are in parallel or in series: a node that only two of them touch lies
 * inside.
 *
 * @param keep nodes that something else touches
 */
export function reduced(elements: readonly PartElement[], keep: ReadonlySet<string>): Edge[] {
  let edges: Edge[] = elements.map((element) => ({
    kind: 'leaf',
    a: element.a,
    b: element.b,
    element,
  }));
  for (;;) {
    const next = joinParallel(edges) ?? joinSeries(edges, keep);
    if (!next) return edges;
    edges = next;
  }
}

const membersOf = (edge: Edge, join: 'series' | 'parallel'): readonly Edge[] =>
  edge.kind === 'join' && edge.join === join ? edge.members : [edge];

function joinParallel(edges: readonly Edge[]): Edge[] | null {
  for (const [i, first] of edges.entries()) {
    const others = edges.filter(
      (one, k) =>
        k > i &&
        ((one.a === first.a && one.b === first.b) || (one.a === first.b && one.b === first.a)),
    );
    if (others.length === 0) continue;
    const { a, b } = first;
    const all = [first, ...others].map((one) => (one.a === a ? one : flipped(one)));
    const members = all.flatMap((one) => membersOf(one, 'parallel'));
    const joined: Edge = { kind: 'join', join: 'parallel', a, b, members };
    return edges.flatMap((one) => (one === first ? [joined] : others.includes(one) ? [] : [one]));
  }
  return null;
}

function joinSeries(edges: readonly Edge[], keep: ReadonlySet<string>): Edge[] | null {
  const touching = new Map<string, Edge[]>();
  for (const edge of edges)
    for (const node of [edge.a, edge.b]) touching.set(node, [...(touching.get(node) ?? []), edge]);
  for (const [node, [first, second, ...more]] of touching) {
    if (keep.has(node) || !second || more.length > 0 || first === second) continue;
    const before = first.b === node ? first : flipped(first);
    const after = second.a === node ? second : flipped(second);
    const members = [...membersOf(before, 'series'), ...membersOf(after, 'series')];
    const joined: Edge = { kind: 'join', join: 'series', a: before.a, b: after.b, members };
    return edges.flatMap((one) => (one === first ? [joined] : one === second ? [] : [one]));
  }
  return null;
}

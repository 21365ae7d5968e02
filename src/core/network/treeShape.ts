import { mergedEdges, type BranchTree, type Edge } from './merge';
import { ground, type Netlist } from './netlist';
import type { Probe } from './outputs';

/**
 * A network whose nodes hang on its source like a tree: each node is reached from its parent by one
 * branch in series, and may have one branch to ground. Ladders are such networks, and so are ways
 * that part behind something they share.
 */
export interface TreeShape {
  /** Number of the source in the netlist, and its name. */
  readonly source: number;
  readonly sourceName: string;
  /** +1 when the source's a-end is the root. */
  readonly sign: number;
  /** Node 0 is the source's hot side; each other follows its parent. */
  readonly names: readonly string[];
  /** Parent of each node; −1 for the root. */
  readonly parents: readonly number[];
  /** Branch from the parent; null for the root. */
  readonly series: readonly (BranchTree | null)[];
  /** Branch to ground; null where there is none. */
  readonly shunts: readonly (BranchTree | null)[];
}

/** @returns null when the network is not a tree, has several sources, or coils that are coupled */
export function treeShapeOf(netlist: Netlist, probes: readonly Probe[]): TreeShape | null {
  if (netlist.couplings.length > 0) return null;
  const kept = new Set(
    probes.flatMap((probe) => (probe.kind === 'voltage' ? [probe.plus, probe.minus] : [])),
  );
  const edges = mergedEdges(netlist, kept);
  const sources = edges.filter(({ isSource }) => isSource);
  if (sources.length !== 1) return null;
  const [{ a, b, tree }] = sources;
  if (tree.join !== 'none' || (a !== ground && b !== ground)) return null;
  const root = a === ground ? b : a;
  const names = [root];
  const parents = [-1];
  const series: (BranchTree | null)[] = [null];
  const passive = edges.filter(({ isSource }) => !isSource);
  const between = passive.filter((edge) => edge.a !== ground && edge.b !== ground);
  const taken = new Set<Edge>();
  for (let k = 0; k < names.length; k++)
    for (const edge of between) {
      if (taken.has(edge) || (edge.a !== names[k] && edge.b !== names[k])) continue;
      const far = edge.a === names[k] ? edge.b : edge.a;
      // A ring: two ways lead there.
      if (names.includes(far)) return null;
      taken.add(edge);
      names.push(far);
      parents.push(k);
      series.push(edge.tree);
    }
  const isReached = passive.every(({ a: one, b: other }) =>
    [one, other].every((node) => node === ground || names.includes(node)),
  );
  if (!isReached || [...kept].some((node) => node !== ground && !names.includes(node))) return null;
  return {
    source: tree.element,
    sourceName: netlist.elements[tree.element].name,
    sign: a === ground ? -1 : 1,
    ...{ names, parents, series },
    shunts: names.map(
      (name) =>
        passive.find(
          (edge) =>
            (edge.a === name && edge.b === ground) || (edge.b === name && edge.a === ground),
        )?.tree ?? null,
    ),
  };
}

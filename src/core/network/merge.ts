import { ground, type Element, type Netlist } from './netlist';
import { planNetwork, type NetworkPlan } from './plan';

/** Elements that are one branch to the rest of a network, by their numbers in the netlist. */
export type BranchTree =
  | { readonly join: 'none'; readonly element: number }
  | { readonly join: 'series' | 'parallel'; readonly members: readonly BranchTree[] };

/**
 * A plan of fewer, larger branches. Numbers of elements in it are those of the netlist that was
 * given.
 */
interface MergedPlan {
  readonly plan: NetworkPlan;
  /** What each branch of the plan is made of. */
  readonly trees: readonly BranchTree[];
}

/** What joins two nodes: an element, or several merged. */
export interface Edge {
  readonly tree: BranchTree;
  readonly a: string;
  readonly b: string;
  /** Number of the coupled coil that is in it, whose current runs from a to b; −1 for none. */
  readonly coupled: number;
  readonly isSource: boolean;
}

/** Every branch of a plan as the single element that it is. */
export const unmergedTrees = ({ branches }: NetworkPlan): BranchTree[] =>
  branches.map(({ element }) => ({ join: 'none', element }));

/**
 * Plans a network with everything that is in series or in parallel merged to one branch: its nodes
 * inside need no equation of their own. Nothing of what is inside is known in the end but by what
 * is around it.
 *
 * @param netlist one that `planNetwork` accepts
 * @param kept nodes whose voltage must be known
 * @returns null when nothing can be merged
 */
export function planMerged(netlist: Netlist, kept: ReadonlySet<string>): MergedPlan | null {
  const edges = mergedEdges(netlist, kept);
  return edges.length === netlist.elements.length ? null : planOf(netlist, edges);
}

/**
 * A netlist with everything that is in series or in parallel merged to one edge.
 *
 * @param kept nodes that stay
 */
export function mergedEdges(netlist: Netlist, kept: ReadonlySet<string>): readonly Edge[] {
  const coupledNames = new Set(netlist.couplings.flatMap(({ coilA, coilB }) => [coilA, coilB]));
  let edges = netlist.elements.map(({ name, kind, a, b }, element): Edge => ({
    ...{ a, b, tree: { join: 'none', element } },
    coupled: coupledNames.has(name) ? element : -1,
    isSource: kind === 'source',
  }));
  for (;;) {
    const merged = withParallel(edges) ?? withSeries(edges, kept);
    if (!merged) return edges;
    edges = merged;
  }
}

const joined = (join: 'series' | 'parallel', trees: readonly BranchTree[]): BranchTree => ({
  join,
  members: trees.flatMap((tree) => (tree.join === join ? tree.members : [tree])),
});

/** The edges with one pair of parallel ones merged; null when there is none. */
function withParallel(edges: readonly Edge[]): Edge[] | null {
  const seen = new Map<string, Edge>();
  for (const edge of edges) {
    if (edge.isSource || edge.coupled >= 0) continue;
    const key = [edge.a, edge.b].sort().join('\t');
    const other = seen.get(key);
    if (other)
      return [
        ...edges.filter((one) => one !== edge && one !== other),
        { ...other, tree: joined('parallel', [other.tree, edge.tree]) },
      ];
    seen.set(key, edge);
  }
  return null;
}

/**
 * The edges with one node taken out that joins two of them and nothing else; null when there is
 * none.
 */
function withSeries(edges: readonly Edge[], kept: ReadonlySet<string>): Edge[] | null {
  const at = new Map<string, Edge[]>();
  for (const edge of edges)
    for (const node of [edge.a, edge.b]) at.set(node, [...(at.get(node) ?? []), edge]);
  for (const [node, around] of at) {
    if (node === ground || kept.has(node) || around.length !== 2) continue;
    const [one, other] = around;
    if (one.isSource || other.isSource || (one.coupled >= 0 && other.coupled >= 0)) continue;
    const far = ({ a, b }: Edge) => (a === node ? b : a);
    // A ring of two is parallel to nothing.
    if (far(one) === far(other)) continue;
    // The current of a coupled coil keeps its direction.
    const [lead, follow] = other.coupled >= 0 ? [other, one] : [one, other];
    const [a, b] = lead.b === node ? [lead.a, far(follow)] : [far(follow), lead.b];
    return [
      ...edges.filter((edge) => edge !== one && edge !== other),
      {
        ...{ a, b, coupled: lead.coupled, isSource: false },
        tree: joined('series', [lead.tree, follow.tree]),
      },
    ];
  }
  return null;
}

function planOf({ elements, couplings }: Netlist, edges: readonly Edge[]): MergedPlan {
  /**
   * Stands for a merged branch while planning: what it is made of does not matter there, but for a
   * coupled coil.
   */
  const standIn = ({ tree, a, b, coupled }: Edge, e: number): Element => {
    if (coupled >= 0) return { ...elements[coupled], a, b };
    return tree.join === 'none'
      ? elements[tree.element]
      : { kind: 'oneport', name: `merged ${e}`, a, b };
  };
  const plan = planNetwork({ elements: edges.map(standIn), couplings });
  const elementOf = (e: number): number => {
    const { tree, coupled } = edges[e];
    return coupled >= 0 ? coupled : tree.join === 'none' ? tree.element : -1;
  };
  return {
    trees: plan.branches.map(({ element }) => edges[element].tree),
    plan: {
      ...plan,
      branches: plan.branches.map((branch) => ({ ...branch, element: elementOf(branch.element) })),
      sourceSteps: plan.sourceSteps.map((step) => ({ ...step, element: elementOf(step.element) })),
      mutuals: plan.mutuals.map((mutual) => ({
        ...mutual,
        coilA: elementOf(mutual.coilA),
        coilB: elementOf(mutual.coilB),
      })),
    },
  };
}

import { problem } from '@/core/problem';
import type { Netlist } from './netlist';
import type { NetworkPlan } from './plan';

/**
 * What to report: a voltage between two nodes, or the current of a source, into its a-end as SPICE
 * counts it.
 */
export type Probe =
  | { readonly kind: 'voltage'; readonly plus: string; readonly minus: string }
  | { readonly kind: 'current'; readonly source: string };

/** A reported quantity as a sum of node voltages (branch −1) and branch currents. */
export interface Output {
  readonly terms: readonly {
    readonly sign: number;
    readonly node: number;
    readonly branch: number;
  }[];
}

/**
 * Probes in terms of the plan.
 *
 * @throws ProblemError for a probe that names nothing
 */
export function resolveProbes(
  plan: NetworkPlan,
  netlist: Netlist,
  probes: readonly Probe[],
): Output[] {
  const nodeOf = (name: string) => {
    const node = plan.nodeNames.indexOf(name);
    if (node < 0)
      throw problem(
        'probe_unknown_node',
        `v(${name})`,
        `There is no node ${name} in this network.`,
        `Its nodes are ${plan.nodeNames.slice(0, 12).join(', ')}.`,
        'Probe one of these.',
      );
    return node;
  };
  return probes.map((probe) => {
    if (probe.kind === 'voltage')
      return {
        terms: [
          { sign: 1, node: nodeOf(probe.plus), branch: -1 },
          { sign: -1, node: nodeOf(probe.minus), branch: -1 },
        ],
      };
    const step = plan.sourceSteps.find(
      ({ element }) => netlist.elements[element].name === probe.source,
    );
    if (!step)
      throw problem(
        'probe_unknown_source',
        `i(${probe.source})`,
        `There is no voltage source ${probe.source} in this network.`,
        'Only the current of a source can be probed.',
        'Name one of its sources.',
      );
    // Kirchhoff's current law over everything that hangs on the far side of the source in its tree.
    const beyond = new Set([step.node]);
    for (const { node, from } of plan.sourceSteps) if (beyond.has(from)) beyond.add(node);
    return {
      terms: plan.branches.flatMap(({ a, b }, branch) =>
        beyond.has(a) === beyond.has(b)
          ? []
          : [{ sign: beyond.has(a) ? -step.sign : step.sign, node: -1, branch }],
      ),
    };
  });
}

/**
 * Which unknowns have anything on the right-hand side by the time they are eliminated, and which
 * must be known in the end: those that are reported, and those that the wanted ones follow from.
 */
export function whatToCarry(plan: NetworkPlan, outputs: readonly Output[]) {
  const { unknownCount: n, rowStart, rows, branches, unknownOfNode } = plan;
  const carriesRight = plan.isDriven.slice();
  const isWanted = new Uint8Array(n);
  for (const { node, branch } of outputs.flatMap(({ terms }) => terms)) {
    const { unknownA, unknownB, current } =
      branch < 0 ? { unknownA: unknownOfNode[node], unknownB: -1, current: -1 } : branches[branch];
    for (const unknown of [unknownA, unknownB, current]) if (unknown >= 0) isWanted[unknown] = 1;
  }
  for (let p = 0; p < n; p++)
    for (let r = rowStart[p]; r < rowStart[p + 1]; r++) {
      carriesRight[rows[r]] |= carriesRight[p];
      isWanted[rows[r]] |= isWanted[p];
    }
  return { carriesRight, isWanted };
}

import { block, createBlockSystem, type BlockSystem, type OnePortImpedance } from './blockSystem';
import { planMerged, unmergedTrees, type BranchTree } from './merge';
import type { Netlist } from './netlist';
import { resolveProbes, whatToCarry, type Probe } from './outputs';
import type { NetworkPlan } from './plan';

export interface Solver {
  /**
   * Solves the network for the values in `netlist`, which must have the topology that was planned.
   * Writes into `re` and `im`; allocates nothing.
   *
   * @throws ProblemError `resonance_without_loss` where no finite solution exists
   */
  solve(netlist: Netlist): void;
  /** Per probe, over frequency: volts or amperes. */
  readonly re: readonly Float64Array[];
  readonly im: readonly Float64Array[];
}

/**
 * Prepares a sweep. What is in series or in parallel and not asked about is merged to one branch,
 * which leaves half as many equations or fewer; where a merged branch resonates without loss, the
 * block is solved again with all of them.
 *
 * @param plan of the netlist's topology
 * @param netlist the netlist that was planned
 * @param onePorts impedances by element name, one value per frequency
 * @param probes what to report
 * @param frequencyHz positive frequencies in any order
 * @throws ProblemError for a probe that names nothing, a one-port without data, or a frequency that
 *   isn't positive
 */
export function createSolver(
  plan: NetworkPlan,
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
  frequencyHz: Float64Array,
): Solver {
  const points = frequencyHz.length;
  const prepare = (by: NetworkPlan, trees: readonly BranchTree[]): BlockSystem => {
    const outputs = resolveProbes(by, netlist, probes);
    const { carriesRight, isWanted } = whatToCarry(by, outputs);
    return createBlockSystem(
      by,
      netlist,
      onePorts,
      frequencyHz,
      carriesRight,
      isWanted,
      trees,
      outputs,
    );
  };
  const kept = new Set(
    probes.flatMap((probe) => (probe.kind === 'voltage' ? [probe.plus, probe.minus] : [])),
  );
  const merged = planMerged(netlist, kept);
  const usual = merged ? prepare(merged.plan, merged.trees) : prepare(plan, unmergedTrees(plan));
  let whole: BlockSystem | null = merged ? null : usual;

  /** Solves a block with all nodes kept. */
  function solveWhole(values: Netlist, first: number, count: number): void {
    whole ??= prepare(plan, unmergedTrees(plan));
    if (whole !== usual) whole.load(values);
    whole.solve(first, count);
    whole.report(first, count);
    if (whole === usual) return;
    for (let o = 0; o < probes.length; o++) {
      usual.outRe[o].set(whole.outRe[o].subarray(first, first + count), first);
      usual.outIm[o].set(whole.outIm[o].subarray(first, first + count), first);
    }
  }

  return {
    re: usual.outRe,
    im: usual.outIm,
    solve(values) {
      usual.load(values);
      for (let first = 0; first < points; first += block) {
        const count = Math.min(block, points - first);
        if (usual.attempt(first, count)) usual.report(first, count);
        else solveWhole(values, first, count);
      }
    },
  };
}

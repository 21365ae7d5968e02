import {
  block,
  createBlockSystem,
  stride,
  type BlockSystem,
  type OnePortImpedance,
} from './blockSystem';
import { planMerged, unmergedTrees, type BranchTree } from './merge';
import type { Netlist } from './netlist';
import { resolveProbes, whatToCarry, type Output, type Probe } from './outputs';
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
 * Prepares a sweep. What is in series or in parallel and not asked about is merged to one branch, which leaves half as many
 * equations or fewer; where a merged branch resonates without loss, the block is solved again with all of them.
 *
 * @param plan of the netlist's topology
 * @param netlist the netlist that was planned
 * @param onePorts impedances by element name, one value per frequency
 * @param probes what to report
 * @param frequencyHz positive frequencies in any order
 * @throws ProblemError for a probe that names nothing, a one-port without data, or a frequency that isn't positive
 */
export function createSolver(
  plan: NetworkPlan,
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
  frequencyHz: Float64Array,
): Solver {
  const points = frequencyHz.length;
  const re = probes.map(() => new Float64Array(points));
  const im = probes.map(() => new Float64Array(points));
  const prepare = (by: NetworkPlan, trees: readonly BranchTree[]): Prepared => {
    const outputs = resolveProbes(by, netlist, probes);
    const { carriesRight, isWanted } = whatToCarry(by, outputs);
    const system = createBlockSystem(
      by,
      netlist,
      onePorts,
      frequencyHz,
      carriesRight,
      isWanted,
      trees,
    );
    return { system, report: createReport(by, system, outputs, re, im) };
  };
  const kept = new Set(
    probes.flatMap((probe) => (probe.kind === 'voltage' ? [probe.plus, probe.minus] : [])),
  );
  const merged = planMerged(netlist, kept);
  const usual = merged ? prepare(merged.plan, merged.trees) : prepare(plan, unmergedTrees(plan));
  let whole: Prepared | null = merged ? null : usual;
  return {
    re,
    im,
    solve(values) {
      usual.system.load(values);
      let isWholeLoaded = usual === whole;
      for (let first = 0; first < points; first += block) {
        const count = Math.min(block, points - first);
        if (usual.system.attempt(first, count)) {
          usual.report(first, count);
          continue;
        }
        whole ??= prepare(plan, unmergedTrees(plan));
        if (!isWholeLoaded) whole.system.load(values);
        isWholeLoaded = true;
        whole.system.solve(first, count);
        whole.report(first, count);
      }
    },
  };
}

/** Equations, and what writes the probes from their solution for the block that starts at frequency `first`. */
interface Prepared {
  readonly system: BlockSystem;
  readonly report: (first: number, count: number) => void;
}

function createReport(
  plan: NetworkPlan,
  { xRe, xIm, yRe, yIm, offsetRe, offsetIm }: BlockSystem,
  outputs: readonly Output[],
  re: readonly Float64Array[],
  im: readonly Float64Array[],
): Prepared['report'] {
  const { branches } = plan;
  return (first, count) => {
    for (let o = 0; o < outputs.length; o++) {
      const outRe = re[o];
      const outIm = im[o];
      const { terms } = outputs[o];
      for (let b = 0; b < count; b++) {
        outRe[first + b] = 0;
        outIm[first + b] = 0;
      }
      for (const { sign, node, branch: k } of terms) {
        if (k < 0) {
          const unknown = plan.unknownOfNode[node];
          addVoltage(outRe, first, sign, offsetRe[node], xRe, unknown, count);
          addVoltage(outIm, first, sign, offsetIm[node], xIm, unknown, count);
          continue;
        }
        const { a, b: nodeB, unknownA, unknownB, current } = branches[k];
        for (let b = 0; b < count; b++) {
          if (current >= 0) {
            outRe[first + b] += sign * xRe[current * stride + b];
            outIm[first + b] += sign * xIm[current * stride + b];
            continue;
          }
          const vRe =
            offsetRe[a] -
            offsetRe[nodeB] +
            (unknownA < 0 ? 0 : xRe[unknownA * stride + b]) -
            (unknownB < 0 ? 0 : xRe[unknownB * stride + b]);
          const vIm =
            offsetIm[a] -
            offsetIm[nodeB] +
            (unknownA < 0 ? 0 : xIm[unknownA * stride + b]) -
            (unknownB < 0 ? 0 : xIm[unknownB * stride + b]);
          const gRe = yRe[k * stride + b];
          const gIm = yIm[k * stride + b];
          outRe[first + b] += sign * (gRe * vRe - gIm * vIm);
          outIm[first + b] += sign * (gRe * vIm + gIm * vRe);
        }
      }
    }
  };
}

/** out += sign·(offset + x), for one part of a node's voltage; an unknown below 0 is none. */
function addVoltage(
  out: Float64Array,
  first: number,
  sign: number,
  offset: number,
  x: Float64Array,
  unknown: number,
  count: number,
): void {
  if (offset !== 0) for (let b = 0; b < count; b++) out[first + b] += sign * offset;
  if (unknown < 0) return;
  const at = unknown * stride;
  for (let b = 0; b < count; b++) out[first + b] += sign * x[at + b];
}

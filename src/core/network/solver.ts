import { block, createBlockSystem, stride, type OnePortImpedance } from './blockSystem';
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
 * Prepares a sweep.
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
  const { branches } = plan;
  const outputs = resolveProbes(plan, netlist, probes);
  const { carriesRight, isWanted } = whatToCarry(plan, outputs);
  const system = createBlockSystem(plan, netlist, onePorts, frequencyHz, carriesRight, isWanted);
  const { xRe, xIm, yRe, yIm, offsetRe, offsetIm } = system;
  const re = probes.map(() => new Float64Array(points));
  const im = probes.map(() => new Float64Array(points));

  /** Writes the probes for the block that starts at frequency `first`. */
  function report(first: number, count: number): void {
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
  }

  return {
    re,
    im,
    solve(values) {
      system.load(values);
      for (let first = 0; first < points; first += block) {
        const count = Math.min(block, points - first);
        system.solve(first, count);
        report(first, count);
      }
    },
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

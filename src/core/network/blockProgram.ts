import { createWriter, exceeds } from './blockCode';
import { block, laneBytes, layOut, stride } from './blockLayout';
import type { BranchTree } from './merge';
import type { Netlist } from './netlist';
import type { Output } from './outputs';
import type { NetworkPlan } from './plan';
import { constant, load, or, overrun, compileRoutines } from './wasm';

/** The routines of one topology, and views on their memory. */
interface BlockProgram {
  /** At all frequencies of the sweep, rad/s. */
  readonly omega: Float64Array;
  readonly values: Float64Array;
  readonly push: Float64Array;
  readonly mutual: Float64Array;
  readonly offsets: Float64Array;
  readonly limits: Float64Array;
  /** Admittances; those of resistors are written by whoever sets their values. */
  readonly yRe: Float64Array;
  readonly yIm: Float64Array;
  readonly aRe: Float64Array;
  readonly aIm: Float64Array;
  readonly xRe: Float64Array;
  readonly xIm: Float64Array;
  readonly zRe: Float64Array;
  readonly zIm: Float64Array;
  /**
   * Two per frequency; not 0 where a factor or an unknown exceeded its limit, or is not a number.
   */
  readonly poor: Int32Array;
  /** Per element, the impedance of a one-port at all frequencies; null for others. */
  readonly loads: readonly ({ readonly re: Float64Array; readonly im: Float64Array } | null)[];
  /**
   * Assembles and solves the equations of `count` frequencies from number `first` of the sweep on.
   */
  solve(first: number, count: number): void;
  /** The first half of that: the matrix and the right-hand side. */
  assemble(first: number, count: number): void;
  /** Factors what was assembled. */
  factor(count: number): void;
  /** Per output, over the sweep. */
  readonly outRe: readonly Float64Array[];
  readonly outIm: readonly Float64Array[];
  /** Writes the outputs of the last block, which began at number `first`. */
  report(first: number, count: number): void;
  /** Solves for the right-hand side in `z`, in place, with the factors of the last block. */
  solveAlso(count: number): void;
}

/**
 * Writes and compiles the machine code that solves one topology: no loop over the structure is
 * left, every address is a constant.
 *
 * @param carriesRight per unknown, whether the right-hand side reaches it during elimination
 * @param isWanted per unknown, whether it must be known in the end
 * @param trees per branch of the plan, the elements that it is made of
 * @param outputs sums of voltages and currents that are reported
 */
export function createBlockProgram(
  plan: NetworkPlan,
  netlist: Netlist,
  points: number,
  carriesRight: Uint8Array,
  isWanted: Uint8Array,
  trees: readonly BranchTree[],
  outputs: readonly Output[],
): BlockProgram {
  const layout = layOut(plan, netlist, points, outputs.length);
  const write = createWriter(plan, netlist, points, layout, carriesRight, isWanted, trees);
  // Routines of their own rather than one: together they are more than the processor's cache for
  // code holds.
  const { memory, run } = compileRoutines(
    [
      {
        name: 'assemble',
        body: (code) => {
          write.branches(code);
          write.assembly(code);
        },
      },
      {
        name: 'factor',
        body: (code) => {
          const watch = code.variable(constant(0));
          write.elimination(code, watch);
          code.store(layout.poor, exceeds(watch.value, layout.limits));
        },
      },
      {
        name: 'back',
        body: (code) => {
          const watch = code.variable(constant(0));
          write.back(code, layout.x, watch);
          code.store(layout.poor, or(load(layout.poor), exceeds(watch.value, layout.limits + 8)));
        },
      },
      {
        name: 'also',
        body: (code) => {
          write.forward(code, layout.z);
          write.back(code, layout.z, code.variable(constant(0)));
        },
      },
      { name: 'report', body: (code) => write.report(code, outputs) },
    ],
    layout.end,
  );
  const doubles = (at: number, count: number) => new Float64Array(memory, at, count);
  /** Real parts of some lanes, then their imaginary parts. */
  const lanes = (at: number, count: number) =>
    [doubles(at, count * stride), doubles(at + count * laneBytes, count * stride)] as const;
  const { branches, mutuals, slotCount, unknownCount: n } = plan;
  const [yRe, yIm] = lanes(layout.y, branches.length);
  const [aRe, aIm] = lanes(layout.a, slotCount);
  const [xRe, xIm] = lanes(layout.x, n);
  const [zRe, zIm] = lanes(layout.z, n);
  return {
    ...{ yRe, yIm, aRe, aIm, xRe, xIm, zRe, zIm },
    omega: doubles(layout.omega, points),
    values: doubles(layout.values, netlist.elements.length * 2),
    push: doubles(layout.push, branches.length * 2),
    mutual: doubles(layout.mutual, mutuals.length),
    offsets: doubles(layout.offsets, plan.nodeNames.length * 2),
    limits: doubles(layout.limits, 2),
    poor: new Int32Array(memory, layout.poor, block * 2),
    loads: layout.loads.map((at) =>
      at < 0 ? null : { re: doubles(at, points), im: doubles(at + (points + overrun) * 8, points) },
    ),
    solve(first, count) {
      run.assemble(first * 8, count * 8);
      run.factor(0, count * 8);
      run.back(0, count * 8);
    },
    outRe: layout.outputs.map((at) => doubles(at, points)),
    outIm: layout.outputs.map((at) => doubles(at + (points + overrun) * 8, points)),
    report: (first, count) => run.report(first * 8, count * 8),
    assemble: (first, count) => run.assemble(first * 8, count * 8),
    factor: (count) => run.factor(0, count * 8),
    solveAlso: (count) => run.also(0, count * 8),
  };
}

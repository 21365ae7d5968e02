import type { Netlist } from './netlist';
import type { NetworkPlan } from './plan';
import { overrun } from './wasm';

/**
 * Frequencies worked on together. Each routine runs down a block, some frequencies at a time, so
 * that calling it is paid once per block. From 8 to 64 took the same time for a large network; at
 * 16 everything of a usual one stays in the processor's first cache (`npm run bench`).
 */
export const block = 16;
/**
 * Numbers from one lane to the next. Lanes a power of two apart would share a few sets of the
 * processor's cache and drive each other out of it.
 */
export const stride = block + 2;
export const laneBytes = stride * 8;

/**
 * Where everything is in the memory, in bytes. Lanes hold one number for each frequency of a block.
 */
export interface Layout {
  /** At all frequencies of the sweep, as the impedances of one-ports. */
  readonly omega: number;
  /** Per element, two scalars: L or C and the series resistance; for a resistor 1/R and R. */
  readonly values: number;
  /** Per branch, two scalars: what ideal sources put across it, real and imaginary. */
  readonly push: number;
  /** Per mutual term, M. */
  readonly mutual: number;
  /**
   * Per node, two scalars: what ideal sources put between it and its unknown, real and imaginary.
   */
  readonly offsets: number;
  /** What the sizes of all factors, and of all unknowns, may not exceed together. */
  readonly limits: number;
  readonly y: number;
  readonly a: number;
  readonly x: number;
  readonly z: number;
  readonly inverse: number;
  readonly poor: number;
  /**
   * Per one-port, by element: its impedance at all frequencies of the sweep, real, then imaginary.
   */
  readonly loads: readonly number[];
  /** Per output: at all frequencies of the sweep, real, then imaginary. */
  readonly outputs: readonly number[];
  readonly end: number;
}

export function layOut(
  plan: NetworkPlan,
  netlist: Netlist,
  points: number,
  outputCount: number,
): Layout {
  let end = 0;
  const take = (bytes: number) => {
    const at = end;
    end += Math.ceil(bytes / 16) * 16;
    return at;
  };
  const { branches, mutuals, slotCount, unknownCount: n } = plan;
  return {
    omega: take((points + overrun) * 8),
    values: take(netlist.elements.length * 16),
    push: take(branches.length * 16),
    mutual: take(mutuals.length * 8),
    offsets: take(plan.nodeNames.length * 16),
    limits: take(16),
    y: take(2 * branches.length * laneBytes),
    a: take(2 * slotCount * laneBytes),
    x: take(2 * n * laneBytes),
    z: take(2 * n * laneBytes),
    inverse: take(2 * n * laneBytes),
    poor: take(laneBytes),
    // A sweep may end within a round: what is behind its end is read, and its result ignored.
    loads: netlist.elements.map(({ kind }) =>
      kind === 'oneport' ? take(2 * (points + overrun) * 8) : -1,
    ),
    outputs: Array.from({ length: outputCount }, () => take(2 * (points + overrun) * 8)),
    end,
  };
}

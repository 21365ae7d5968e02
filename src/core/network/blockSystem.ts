import { problem } from '@/core/problem';
import { stride } from './blockLayout';
import { createBlockProgram } from './blockProgram';
import { createDenseSolver } from './dense';
import { elementLoss, elementValue, isPassive } from './immittance';
import { unmergedTrees, type BranchTree } from './merge';
import type { Netlist } from './netlist';
import type { Output } from './outputs';
import type { NetworkPlan } from './plan';

/** Impedance of a one-port in ohms at each frequency of the sweep. */
export interface OnePortImpedance {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

export { block, stride } from './blockLayout';

/**
 * A factor or an unknown this large means that a pivot cancelled and lost digits; the frequency is
 * solved again, with pivoting. Factors of a sound network are about 1, and 1e5 leaves ten digits.
 */
const growthLimit = 1e5;

/**
 * The equations of a network over one block of frequencies at a time: item k of a block of number
 * `i` is at `i · block + k`.
 */
export interface BlockSystem {
  /** Solution: the unknowns of the plan. */
  readonly xRe: Float64Array;
  readonly xIm: Float64Array;
  /**
   * Admittance of each branch of the plan; minus the impedance of a coil whose current is an
   * unknown.
   */
  readonly yRe: Float64Array;
  readonly yIm: Float64Array;
  /**
   * Known part of each node's voltage: what ideal sources put between it and its unknown, or
   * ground.
   */
  readonly offsetRe: Float64Array;
  readonly offsetIm: Float64Array;
  /** At all frequencies, rad/s. */
  readonly omega: Float64Array;
  /** Right-hand side of {@link solveAlso}, and its solution. */
  readonly zRe: Float64Array;
  readonly zIm: Float64Array;
  /** Takes the values of a netlist with the planned topology. */
  load(netlist: Netlist): void;
  /**
   * Fills `x` for `count` frequencies from number `first` on. Allocates nothing, but for
   * frequencies at which a pivot cancelled.
   *
   * @throws ProblemError `resonance_without_loss` where no finite solution exists
   */
  solve(first: number, count: number): void;
  /**
   * Fills `x` as {@link solve} does, but mends nothing.
   *
   * @returns whether no pivot cancelled
   */
  attempt(first: number, count: number): boolean;
  /** Per output, over the sweep. */
  readonly outRe: readonly Float64Array[];
  readonly outIm: readonly Float64Array[];
  /** Writes the outputs of the last block, which began at frequency `first`. */
  report(first: number, count: number): void;
  /** Solves the equations of the last block for another right-hand side, in place in `z`. */
  solveAlso(first: number, count: number): void;
}

/**
 * @param plan of the netlist's topology
 * @param netlist the netlist that was planned
 * @param onePorts impedances by element name, one value per frequency
 * @param frequencyHz positive frequencies in any order
 * @param carriesRight per unknown, whether the right-hand side reaches it during elimination
 * @param isWanted per unknown, whether it must be known in the end; `solveAlso` needs all of both
 * @param trees per branch of the plan, the elements that it is made of
 * @param outputs what `report` writes
 * @throws ProblemError for a one-port without data, or a frequency that isn't positive
 */
export function createBlockSystem(
  plan: NetworkPlan,
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  frequencyHz: Float64Array,
  carriesRight: Uint8Array,
  isWanted: Uint8Array,
  trees: readonly BranchTree[] = unmergedTrees(plan),
  outputs: readonly Output[] = [],
): BlockSystem {
  const bad = frequencyHz.find((f) => !(f > 0 && Number.isFinite(f)));
  if (bad !== undefined)
    throw problem(
      'frequency_not_positive',
      'frequencies',
      `${bad} Hz can’t be solved.`,
      'The AC solution needs positive frequencies.',
      'Remove it.',
    );

  const { branches, mutuals, unknownCount: n, diagonal, rowStart, rows, rowSlots } = plan;
  const points = frequencyHz.length;
  const program = createBlockProgram(plan, netlist, points, carriesRight, isWanted, trees, outputs);
  const { xRe, xIm, yRe, yIm, zRe, zIm, aRe, aIm, omega, poor } = program;
  netlist.elements.forEach((element, e) => {
    const place = program.loads[e];
    if (!place) return;
    const load = onePorts.get(element.name);
    if (load?.re.length !== points)
      throw problem(
        'oneport_without_data',
        element.where ?? element.name,
        `${element.name} has no impedance on these frequencies.`,
        '',
        'Assign an impedance measurement to it.',
      );
    place.re.set(load.re);
    place.im.set(load.im);
  });
  for (let i = 0; i < points; i++) omega[i] = 2 * Math.PI * frequencyHz[i];
  const value = new Float64Array(netlist.elements.length);
  const offsetRe = new Float64Array(plan.nodeNames.length);
  const offsetIm = new Float64Array(plan.nodeNames.length);
  const savedRe = new Float64Array(n * stride);
  const savedIm = new Float64Array(n * stride);
  const dense = createDenseSolver(n);

  /** Matrices of the frequencies of the last block whose pivots cancelled. */
  let cancelled: { readonly b: number; readonly re: Float64Array; readonly im: Float64Array }[] =
    [];

  function loadValues({ elements, couplings }: Netlist): void {
    let largestVolts = 1e-300;
    for (const { element, node, from, sign } of plan.sourceSteps) {
      const source = elements[element];
      if (source.kind !== 'source') continue;
      offsetRe[node] = offsetRe[from] + sign * source.voltsRe;
      offsetIm[node] = offsetIm[from] + sign * source.voltsIm;
      largestVolts = Math.max(largestVolts, Math.abs(source.voltsRe) + Math.abs(source.voltsIm));
    }
    for (let node = 0; node < offsetRe.length; node++) {
      program.offsets[2 * node] = offsetRe[node];
      program.offsets[2 * node + 1] = offsetIm[node];
    }
    for (let e = 0; e < elements.length; e++) {
      const element = elements[e];
      if (!isPassive(element)) continue;
      value[e] = elementValue(element);
      const isResistor = element.kind === 'resistor';
      program.values[2 * e] = isResistor ? 1 / value[e] : value[e];
      program.values[2 * e + 1] = isResistor ? value[e] : elementLoss(element);
    }
    for (let k = 0; k < branches.length; k++) {
      const { a, b } = branches[k];
      const tree = trees[k];
      const element = tree.join === 'none' ? elements[tree.element] : null;
      if (element?.kind === 'resistor') yRe.fill(1 / element.ohms, k * stride, (k + 1) * stride);
      program.push[2 * k] = offsetRe[b] - offsetRe[a];
      program.push[2 * k + 1] = offsetIm[b] - offsetIm[a];
    }
    for (let m = 0; m < mutuals.length; m++) {
      const { coilA, coilB, coupling } = mutuals[m];
      program.mutual[m] = couplings[coupling].coefficient * Math.sqrt(value[coilA] * value[coilB]);
    }
    program.limits[0] = growthLimit;
    program.limits[1] = growthLimit * largestVolts;
  }

  /** Full matrix and right-hand side of frequency b of the block, as assembled. */
  function gather(b: number): void {
    const { re: m, im: mi, rightRe, rightIm } = dense;
    m.fill(0);
    mi.fill(0);
    for (let p = 0; p < n; p++) {
      rightRe[p] = xRe[p * stride + b];
      rightIm[p] = xIm[p * stride + b];
      m[p * n + p] = aRe[diagonal[p] * stride + b];
      mi[p * n + p] = aIm[diagonal[p] * stride + b];
      for (let r = rowStart[p]; r < rowStart[p + 1]; r++) {
        const slot = rowSlots[r] * stride + b;
        m[rows[r] * n + p] = m[p * n + rows[r]] = aRe[slot];
        mi[rows[r] * n + p] = mi[p * n + rows[r]] = aIm[slot];
      }
    }
  }

  function solveDensely(hz: number): void {
    if (!dense.solve())
      throw problem(
        'resonance_without_loss',
        `${Number(hz.toPrecision(6))} Hz`,
        'The network has no finite solution at this frequency.',
        'Coils and capacitors without any loss resonate there, or nothing fixes a voltage.',
        'Give the coils their series resistance.',
      );
  }

  /**
   * Solves the marked frequencies again with pivoting; the factors of the others are made anew
   * afterwards.
   */
  function repair(first: number, count: number): void {
    const keptRe = xRe.slice();
    const keptIm = xIm.slice();
    program.assemble(first, count);
    for (let b = 0; b < count; b++) {
      if (poor[2 * b] === 0) continue;
      gather(b);
      cancelled.push({ b, re: dense.re.slice(), im: dense.im.slice() });
      solveDensely(frequencyHz[first + b]);
      for (let p = 0; p < n; p++) {
        keptRe[p * stride + b] = dense.rightRe[p];
        keptIm[p * stride + b] = dense.rightIm[p];
      }
    }
    program.factor(count);
    xRe.set(keptRe);
    xIm.set(keptIm);
  }

  function attempt(first: number, count: number): boolean {
    if (cancelled.length > 0) cancelled = [];
    program.solve(first, count);
    for (let b = 0; b < count; b++) if (poor[2 * b] !== 0) return false;
    return true;
  }

  return {
    ...{ xRe, xIm, yRe, yIm, zRe, zIm, offsetRe, offsetIm, omega },
    load: loadValues,
    solve(first, count) {
      // Rare: a loss-free coil and capacitor cancel in a pivot.
      if (!attempt(first, count)) repair(first, count);
    },
    attempt,
    outRe: program.outRe,
    outIm: program.outIm,
    report: (first, count) => program.report(first, count),
    solveAlso(first, count) {
      for (const { b } of cancelled)
        for (let p = 0; p < n; p++) {
          savedRe[p * stride + b] = zRe[p * stride + b];
          savedIm[p * stride + b] = zIm[p * stride + b];
        }
      program.solveAlso(count);
      for (const { b, re, im } of cancelled) {
        dense.re.set(re);
        dense.im.set(im);
        for (let p = 0; p < n; p++) {
          dense.rightRe[p] = savedRe[p * stride + b];
          dense.rightIm[p] = savedIm[p * stride + b];
        }
        solveDensely(frequencyHz[first + b]);
        for (let p = 0; p < n; p++) {
          zRe[p * stride + b] = dense.rightRe[p];
          zIm[p * stride + b] = dense.rightIm[p];
        }
      }
    },
  };
}

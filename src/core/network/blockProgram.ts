import type { Netlist } from './netlist';
import type { BranchTree } from './merge';
import type { NetworkPlan, PlannedBranch } from './plan';
import {
  abs,
  add,
  compileRoutines,
  constant,
  difference,
  divide,
  lessThan,
  load,
  loadScalar,
  multiply,
  negate,
  not,
  or,
  overrun,
  product,
  type Code,
  type ComplexVector,
  type Vector,
} from './wasm';

/**
 * Frequencies worked on together. Each routine runs down a block, some frequencies at a time, so that calling it is paid once
 * per block. From 8 to 64 took the same time for a large network; at 16 everything of a usual one stays in the processor's
 * first cache (`npm run bench`).
 */
export const block = 16;
/**
 * Numbers from one lane to the next. Lanes a power of two apart would share a few sets of the processor's cache and drive each
 * other out of it.
 */
export const stride = block + 2;
const laneBytes = stride * 8;

/** Where everything stands in the memory, in bytes. Lanes hold one number for each frequency of a block. */
interface Layout {
  /** At all frequencies of the sweep, as the impedances of one-ports. */
  readonly omega: number;
  /** Per element, two scalars: L or C and the series resistance; for a resistor 1/R and R. */
  readonly values: number;
  /** Per branch, two scalars: what ideal sources put across it, real and imaginary. */
  readonly push: number;
  /** Per mutual term, M. */
  readonly mutual: number;
  /** What the sizes of all factors, and of all unknowns, may not exceed together. */
  readonly limits: number;
  readonly y: number;
  readonly a: number;
  readonly x: number;
  readonly z: number;
  readonly inverse: number;
  readonly poor: number;
  /** Per one-port, by element: its impedance at all frequencies of the sweep, real, then imaginary. */
  readonly loads: readonly number[];
  readonly end: number;
}

function layOut(plan: NetworkPlan, netlist: Netlist, points: number): Layout {
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
    limits: take(16),
    y: take(2 * branches.length * laneBytes),
    a: take(2 * slotCount * laneBytes),
    x: take(2 * n * laneBytes),
    z: take(2 * n * laneBytes),
    inverse: take(2 * n * laneBytes),
    poor: take(laneBytes),
    // A sweep may end within a round: what stands behind its end is read, and its result ignored.
    loads: netlist.elements.map(({ kind }) =>
      kind === 'oneport' ? take(2 * (points + overrun) * 8) : -1,
    ),
    end,
  };
}

/** The routines of one topology, and views on their memory. */
export interface BlockProgram {
  /** At all frequencies of the sweep, rad/s. */
  readonly omega: Float64Array;
  readonly values: Float64Array;
  readonly push: Float64Array;
  readonly mutual: Float64Array;
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
  /** Two per frequency; not 0 where a factor or an unknown exceeded its limit, or is not a number. */
  readonly poor: Int32Array;
  /** Per element, the impedance of a one-port at all frequencies; null for others. */
  readonly loads: readonly ({ readonly re: Float64Array; readonly im: Float64Array } | null)[];
  /** Assembles and solves the equations of `count` frequencies from number `first` of the sweep on. */
  solve(first: number, count: number): void;
  /** The first half of that: the matrix and the right-hand side. */
  assemble(first: number, count: number): void;
  /** Factors what was assembled. */
  factor(count: number): void;
  /** Solves for the right-hand side in `z`, in place, with the factors of the last block. */
  solveAlso(count: number): void;
}

/**
 * Writes and compiles the machine code that solves one topology: no loop over the structure is left, every address is a
 * constant.
 *
 * @param carriesRight per unknown, whether the right-hand side reaches it during elimination
 * @param isWanted per unknown, whether it must be known in the end
 * @param trees per branch of the plan, the elements that it is made of
 */
export function createBlockProgram(
  plan: NetworkPlan,
  netlist: Netlist,
  points: number,
  carriesRight: Uint8Array,
  isWanted: Uint8Array,
  trees: readonly BranchTree[],
): BlockProgram {
  const layout = layOut(plan, netlist, points);
  const write = createWriter(plan, netlist, points, layout, carriesRight, isWanted, trees);
  // Routines of their own rather than one: together they are more than the processor's cache for code holds.
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
    assemble: (first, count) => run.assemble(first * 8, count * 8),
    factor: (count) => run.factor(0, count * 8),
    solveAlso: (count) => run.also(0, count * 8),
  };
}

/** A sum whose parts may still be empty; an empty part is 0. */
interface Sum {
  readonly re: Vector | null;
  readonly im: Vector | null;
}

const plus = (before: Vector | null, term: Vector | null) =>
  before && term ? add(before, term) : (before ?? term);

const minus = ({ re, im }: Sum): Sum => ({ re: re && negate(re), im: im && negate(im) });

/** All ones where a sum is not below the limit at an address. */
const exceeds = (sum: Vector, limit: number): Vector => not(lessThan(sum, loadScalar(limit)));

type Watch = ReturnType<Code['variable']>;

/** Writes the steps of a solution as code. */
function createWriter(
  plan: NetworkPlan,
  { elements }: Netlist,
  points: number,
  layout: Layout,
  carriesRight: Uint8Array,
  isWanted: Uint8Array,
  trees: readonly BranchTree[],
) {
  const { branches, mutuals, unknownCount: n, slotCount, diagonal, rowStart, rows } = plan;
  const { rowSlots, updateStart, updateTargets } = plan;
  const sourced = new Set(plan.sourceSteps.map(({ node }) => node));
  const isPushed = ({ a, b }: PlannedBranch) => sourced.has(a) || sourced.has(b);
  const isResistor = (tree: BranchTree): tree is BranchTree & { readonly join: 'none' } =>
    tree.join === 'none' && elements[tree.element].kind === 'resistor';
  const lane = (base: number, count: number, index: number) => ({
    re: base + index * laneBytes,
    im: base + (count + index) * laneBytes,
  });
  const slot = (index: number) => lane(layout.a, slotCount, index);
  const unknown = (base: number, index: number) => lane(base, n, index);
  const at = ({ re, im }: { readonly re: number; readonly im: number }): ComplexVector => ({
    re: load(re),
    im: load(im),
  });
  const put = (
    code: Code,
    { re, im }: { readonly re: number; readonly im: number },
    value: ComplexVector,
  ) => {
    code.store(re, value.re);
    code.store(im, value.im);
  };
  const inverse = (code: Code, value: ComplexVector): ComplexVector => {
    const { re, im } = code.keepComplex(value);
    const scale = code.keep(divide(constant(1), add(multiply(re, re), multiply(im, im))));
    return { re: multiply(re, scale), im: negate(multiply(im, scale)) };
  };
  /** Adds the size of a number to what is watched: a sum shows the largest, and keeps what is not a number. */
  const check = (watch: Watch, { re, im }: ComplexVector) =>
    watch.set(add(watch.value, add(abs(re), abs(im))));

  const ofElement = (element: number) => layout.values + element * 16;
  const filled = ({ re, im }: Sum): ComplexVector => ({
    re: re ?? constant(0),
    im: im ?? constant(0),
  });
  const total = (sums: readonly Sum[]): Sum => ({
    re: sums.reduce<Vector | null>((sum, { re }) => plus(sum, re), null),
    im: sums.reduce<Vector | null>((sum, { im }) => plus(sum, im), null),
  });

  /** Impedance of what a branch is made of. */
  function impedance(code: Code, tree: BranchTree): Sum {
    if (tree.join !== 'none')
      return tree.join === 'series'
        ? total(tree.members.map((one) => impedance(code, one)))
        : inverse(code, filled(admittance(code, tree)));
    const at = ofElement(tree.element);
    const omega = load(layout.omega, 'fromFirst');
    switch (elements[tree.element].kind) {
      case 'resistor':
        return { re: loadScalar(at + 8), im: null };
      case 'coil':
        return { re: loadScalar(at + 8), im: multiply(omega, loadScalar(at)) };
      case 'capacitor':
        return {
          re: loadScalar(at + 8),
          im: code.keep(divide(constant(-1), multiply(omega, loadScalar(at)))),
        };
      default: {
        const from = layout.loads[tree.element];
        const imaginary = from + (points + overrun) * 8;
        return { re: load(from, 'fromFirst'), im: load(imaginary, 'fromFirst') };
      }
    }
  }

  /** Admittance of what a branch is made of. */
  function admittance(code: Code, tree: BranchTree): Sum {
    if (tree.join !== 'none')
      return tree.join === 'parallel'
        ? total(tree.members.map((one) => admittance(code, one)))
        : inverse(code, filled(impedance(code, tree)));
    const at = ofElement(tree.element);
    switch (elements[tree.element].kind) {
      case 'resistor':
        return { re: loadScalar(at), im: null };
      case 'capacitor': {
        // 1/(r + 1/jωC), so that r = 0 needs no case of its own.
        const s = code.keep(multiply(load(layout.omega, 'fromFirst'), loadScalar(at)));
        const t = code.keep(multiply(loadScalar(at + 8), s));
        const scale = code.keep(divide(s, add(constant(1), multiply(t, t))));
        return { re: multiply(t, scale), im: scale };
      }
      default:
        return inverse(code, filled(impedance(code, tree)));
    }
  }

  return {
    branches(code: Code): void {
      branches.forEach(({ current }, k) => {
        const tree = trees[k];
        if (isResistor(tree)) return;
        code.scope(() =>
          put(
            code,
            lane(layout.y, branches.length, k),
            filled(current >= 0 ? minus(impedance(code, tree)) : admittance(code, tree)),
          ),
        );
      });
    },

    /** Every entry of the matrix and of the right-hand side as the sum of what reaches it. */
    assembly(code: Code): void {
      const empty: Sum = { re: null, im: null };
      const entries = Array.from({ length: slotCount }, () => empty);
      const right = Array.from({ length: n }, () => empty);
      const sum = (list: Sum[], index: number, { re, im }: Sum) => {
        const before = list[index];
        list[index] = { re: plus(before.re, re), im: plus(before.im, im) };
      };
      branches.forEach((branch, k) => {
        const { unknownA, unknownB, current, slotA, slotB, slotBetween } = branch;
        const tree = trees[k];
        const whole = at(lane(layout.y, branches.length, k));
        const y: Sum = isResistor(tree)
          ? { re: loadScalar(ofElement(tree.element)), im: null }
          : whole;
        const push = {
          re: loadScalar(layout.push + k * 16),
          im: loadScalar(layout.push + k * 16 + 8),
        };
        if (current >= 0) {
          sum(entries, slotBetween, y);
          if (slotA >= 0) sum(entries, slotA, { re: constant(1), im: null });
          if (slotB >= 0) sum(entries, slotB, { re: constant(-1), im: null });
          if (isPushed(branch)) sum(right, current, push);
          return;
        }
        if (slotA >= 0) sum(entries, slotA, y);
        if (slotB >= 0) sum(entries, slotB, y);
        if (slotBetween >= 0) sum(entries, slotBetween, minus(y));
        if (!isPushed(branch) || unknownA === unknownB) return;
        if (unknownA >= 0) sum(right, unknownA, product(whole, push));
        if (unknownB >= 0) sum(right, unknownB, minus(product(whole, push)));
      });
      mutuals.forEach((mutual, m) => {
        const reactance = multiply(
          load(layout.omega, 'fromFirst'),
          loadScalar(layout.mutual + m * 8),
        );
        sum(entries, mutual.slot, { re: null, im: negate(reactance) });
      });
      entries.forEach((entry, s) => put(code, slot(s), filled(entry)));
      right.forEach((entry, p) => put(code, unknown(layout.x, p), filled(entry)));
    },

    /** L·D·Lᵀ in place, with the right-hand side carried along. */
    elimination(code: Code, watch: Watch): void {
      for (let p = 0; p < n; p++)
        code.scope(() => {
          const pivot = code.keepComplex(inverse(code, at(slot(diagonal[p]))));
          if (isWanted[p] === 1) put(code, unknown(layout.inverse, p), pivot);
          // Downward, so that the entries above a row are still the unscaled ones when it needs them.
          for (let r = rowStart[p + 1] - 1; r >= rowStart[p]; r--)
            code.scope(() => {
              const entry = slot(rowSlots[r]);
              const factor = code.keepComplex(product(code.keepComplex(at(entry)), pivot));
              check(watch, factor);
              for (let u = updateStart[r], s = rowStart[p]; u < updateStart[r + 1]; u++, s++) {
                const target = slot(updateTargets[u]);
                put(
                  code,
                  target,
                  difference(at(target), product(factor, code.keepComplex(at(slot(rowSlots[s]))))),
                );
              }
              if (carriesRight[p] === 1) {
                const target = unknown(layout.x, rows[r]);
                put(
                  code,
                  target,
                  difference(
                    at(target),
                    product(factor, code.keepComplex(at(unknown(layout.x, p)))),
                  ),
                );
              }
              if (isWanted[p] === 1) put(code, entry, factor);
            });
        });
    },

    /** First half of a solution for another right-hand side. */
    forward(code: Code, base: number): void {
      for (let p = 0; p < n; p++)
        code.scope(() => {
          if (rowStart[p + 1] === rowStart[p]) return;
          const own = code.keepComplex(at(unknown(base, p)));
          for (let r = rowStart[p]; r < rowStart[p + 1]; r++) {
            const target = unknown(base, rows[r]);
            put(
              code,
              target,
              difference(at(target), product(code.keepComplex(at(slot(rowSlots[r]))), own)),
            );
          }
        });
    },

    /** Second half of a solution: divided by the pivots, then backward. */
    back(code: Code, base: number, watch: Watch): void {
      for (let p = n - 1; p >= 0; p--) {
        if (isWanted[p] === 0) continue;
        code.scope(() => {
          const own = code.keepComplex(at(unknown(base, p)));
          let value = code.keepComplex(
            product(own, code.keepComplex(at(unknown(layout.inverse, p)))),
          );
          check(watch, value);
          for (let r = rowStart[p]; r < rowStart[p + 1]; r++)
            value = code.keepComplex(
              difference(
                value,
                product(
                  code.keepComplex(at(slot(rowSlots[r]))),
                  code.keepComplex(at(unknown(base, rows[r]))),
                ),
              ),
            );
          put(code, unknown(base, p), value);
        });
      }
    },
  };
}

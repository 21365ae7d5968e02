import { laneBytes, type Layout } from './blockLayout';
import type { BranchTree } from './merge';
import type { Netlist } from './netlist';
import type { Output } from './outputs';
import type { NetworkPlan, PlannedBranch } from './plan';
import {
  abs,
  add,
  constant,
  difference,
  divide,
  lessThan,
  load,
  loadScalar,
  multiply,
  negate,
  not,
  overrun,
  product,
  type Code,
  type ComplexVector,
  type Vector,
} from './wasm';

/** A sum whose parts may still be empty; an empty part is 0. */
interface Sum {
  readonly re: Vector | null;
  readonly im: Vector | null;
}

const empty: Sum = { re: null, im: null };

const plus = (before: Vector | null, term: Vector | null) =>
  before && term ? add(before, term) : (before ?? term);

const minus = ({ re, im }: Sum): Sum => ({ re: re && negate(re), im: im && negate(im) });

/** All ones where a sum is not below the limit at an address. */
export const exceeds = (sum: Vector, limit: number): Vector =>
  not(lessThan(sum, loadScalar(limit)));

type Watch = ReturnType<Code['variable']>;

/** Writes the steps of a solution as code. */
export function createWriter(
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
  /**
   * Adds the size of a number to what is watched: a sum shows the largest, and keeps what is not a
   * number.
   */
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

    /** Every output as the sum of voltages and currents that it is. */
    report(code: Code, outputs: readonly Output[]): void {
      const offset = (node: number): Sum =>
        sourced.has(node)
          ? {
              re: loadScalar(layout.offsets + node * 16),
              im: loadScalar(layout.offsets + node * 16 + 8),
            }
          : empty;
      const solved = (index: number): Sum => (index < 0 ? empty : at(unknown(layout.x, index)));
      const voltage = (node: number) => total([offset(node), solved(plan.unknownOfNode[node])]);
      const current = (k: number): Sum => {
        const { a, b, current: own } = branches[k];
        if (own >= 0) return solved(own);
        const across = code.keepComplex(filled(total([voltage(a), minus(voltage(b))])));
        return product(code.keepComplex(at(lane(layout.y, branches.length, k))), across);
      };
      outputs.forEach(({ terms }, o) =>
        code.scope(() => {
          const sum = total(
            terms.map(({ sign, node, branch }) => {
              const term = branch < 0 ? voltage(node) : current(branch);
              return sign < 0 ? minus(term) : term;
            }),
          );
          const { re, im } = filled(sum);
          code.store(layout.outputs[o], re, 'fromFirst');
          code.store(layout.outputs[o] + (points + overrun) * 8, im, 'fromFirst');
        }),
      );
    },

    /** L·D·Lᵀ in place, with the right-hand side carried along. */
    elimination(code: Code, watch: Watch): void {
      for (let p = 0; p < n; p++)
        code.scope(() => {
          const pivot = code.keepComplex(inverse(code, at(slot(diagonal[p]))));
          if (isWanted[p] === 1) put(code, unknown(layout.inverse, p), pivot);
          // Downward, so that the entries above a row are still the unscaled ones when it needs
          // them.
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

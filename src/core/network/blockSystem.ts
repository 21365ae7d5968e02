import { problem } from '@/core/problem';
import { createDenseSolver } from './dense';
import {
  addBlock,
  addTimes,
  capacitorAdmittance,
  coilAdmittance,
  invertBlock,
  multiplyAndWatch,
  negativeCoilImpedance,
  resistorAdmittance,
  storeBlock,
  subtractBlock,
  subtractProduct,
  subtractTimes,
} from './kernels';
import type { Netlist } from './netlist';
import type { NetworkPlan } from './plan';

/** Impedance of a one-port in ohms at each frequency of the sweep. */
export interface OnePortImpedance {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/**
 * Frequencies worked on together. Each step of the plan runs down a block, so that its look-ups are paid once per
 * block. Anything from 32 to 128 took the same time when it was measured (`npm run bench`).
 */
export const block = 64;

/**
 * A factor or an unknown this large means that a pivot cancelled and lost digits; the frequency is solved again, with
 * pivoting. Factors of a sound network are about 1, and 1e5 leaves ten digits.
 */
const growthLimit = 1e5;

/**
 * The equations of a network over one block of frequencies at a time: item k of a block of number `i` stands at
 * `i · block + k`.
 */
export interface BlockSystem {
  /** Solution: the unknowns of the plan. */
  readonly xRe: Float64Array;
  readonly xIm: Float64Array;
  /** Admittance of each branch of the plan; minus the impedance of a coil whose current is an unknown. */
  readonly yRe: Float64Array;
  readonly yIm: Float64Array;
  /** Known part of each node's voltage: what ideal sources put between it and its unknown, or ground. */
  readonly offsetRe: Float64Array;
  readonly offsetIm: Float64Array;
  readonly omega: Float64Array;
  /** Takes the values of a netlist with the planned topology. */
  load(netlist: Netlist): void;
  /**
   * Fills `x` for `count` frequencies from number `first` on. Allocates nothing, but for frequencies at which a pivot
   * cancelled.
   *
   * @throws ProblemError `resonance_without_loss` where no finite solution exists
   */
  solve(netlist: Netlist, first: number, count: number): void;
  /** Solves the equations of the last block for other right-hand sides, in place. */
  solveAlso(zRe: Float64Array, zIm: Float64Array, first: number, count: number): void;
}

/**
 * @param plan of the netlist's topology
 * @param netlist the netlist that was planned
 * @param onePorts impedances by element name, one value per frequency
 * @param frequencyHz positive frequencies in any order
 * @param carriesRight per unknown, whether the right-hand side reaches it during elimination
 * @param isWanted per unknown, whether it must be known in the end; `solveAlso` needs all of both
 * @throws ProblemError for a one-port without data, or a frequency that isn't positive
 */
export function createBlockSystem(
  plan: NetworkPlan,
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  frequencyHz: Float64Array,
  carriesRight: Uint8Array,
  isWanted: Uint8Array,
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

  const {
    branches,
    mutuals,
    unknownCount: n,
    diagonal,
    rowStart,
    rows,
    rowSlots,
    updateStart,
    updateTargets,
  } = plan;
  const points = frequencyHz.length;
  const loads = netlist.elements.map((element) => {
    if (element.kind !== 'oneport') return null;
    const load = onePorts.get(element.name);
    if (load?.re.length !== points)
      throw problem(
        'oneport_without_data',
        element.where ?? element.name,
        `${element.name} has no impedance on these frequencies.`,
        '',
        'Assign an impedance measurement to it.',
      );
    return load;
  });
  const value = new Float64Array(netlist.elements.length);
  const loss = new Float64Array(netlist.elements.length);
  const mutualHenries = new Float64Array(mutuals.length);
  const offsetRe = new Float64Array(plan.nodeNames.length);
  const offsetIm = new Float64Array(plan.nodeNames.length);

  const omega = new Float64Array(block);
  const yRe = new Float64Array(branches.length * block);
  const yIm = new Float64Array(branches.length * block);
  const aRe = new Float64Array(plan.slotCount * block);
  const aIm = new Float64Array(plan.slotCount * block);
  const xRe = new Float64Array(n * block);
  const xIm = new Float64Array(n * block);
  const savedRe = new Float64Array(n * block);
  const savedIm = new Float64Array(n * block);
  const inverseRe = new Float64Array(n * block);
  const inverseIm = new Float64Array(n * block);
  const factorRe = new Float64Array(block);
  const factorIm = new Float64Array(block);
  const poor = new Uint8Array(block);
  const dense = createDenseSolver(n);
  let largestVolts = 1;

  /** Matrices of the frequencies of the last block whose pivots cancelled. */
  let cancelled: { readonly b: number; readonly re: Float64Array; readonly im: Float64Array }[] =
    [];

  function loadValues({ elements, couplings }: Netlist): void {
    for (let e = 0; e < elements.length; e++) {
      const element = elements[e];
      if (element.kind === 'resistor') value[e] = element.ohms;
      else if (element.kind === 'coil') {
        value[e] = element.henries;
        loss[e] = element.seriesOhms;
      } else if (element.kind === 'capacitor') {
        value[e] = element.farads;
        loss[e] = element.seriesOhms;
      }
    }
    for (let m = 0; m < mutuals.length; m++) {
      const { coilA, coilB, coupling } = mutuals[m];
      mutualHenries[m] = couplings[coupling].coefficient * Math.sqrt(value[coilA] * value[coilB]);
    }
    largestVolts = 1e-300;
    for (const { element, node, from, sign } of plan.sourceSteps) {
      const source = elements[element];
      if (source.kind !== 'source') continue;
      offsetRe[node] = offsetRe[from] + sign * source.voltsRe;
      offsetIm[node] = offsetIm[from] + sign * source.voltsIm;
      largestVolts = Math.max(largestVolts, Math.abs(source.voltsRe) + Math.abs(source.voltsIm));
    }
  }

  /** Admittance of every branch (negative impedance of coupled coils) over the block that starts at frequency `first`. */
  function fillBranches(netlist: Netlist, first: number, count: number): void {
    for (let k = 0; k < branches.length; k++) {
      const { element: e, current } = branches[k];
      const at = k * block;
      switch (netlist.elements[e].kind) {
        case 'resistor':
          resistorAdmittance(yRe, yIm, at, value[e], count);
          break;
        case 'coil':
          if (current >= 0) negativeCoilImpedance(yRe, yIm, at, omega, value[e], loss[e], count);
          else coilAdmittance(yRe, yIm, at, omega, value[e], loss[e], count);
          break;
        case 'capacitor':
          capacitorAdmittance(yRe, yIm, at, omega, value[e], loss[e], count);
          break;
        case 'oneport':
          invertBlock(yRe, yIm, at, loads[e]!.re, loads[e]!.im, first, count);
      }
    }
  }

  function assemble(count: number): void {
    aRe.fill(0);
    aIm.fill(0);
    xRe.fill(0);
    xIm.fill(0);
    for (let k = 0; k < branches.length; k++) {
      const { a, b: nodeB, unknownA, unknownB, current, slotA, slotB, slotBetween } = branches[k];
      const from = k * block;
      const pushRe = offsetRe[nodeB] - offsetRe[a];
      const pushIm = offsetIm[nodeB] - offsetIm[a];
      if (current >= 0) {
        addBlock(aRe, aIm, slotBetween * block, yRe, yIm, from, count);
        for (let b = 0; b < count; b++) {
          if (slotA >= 0) aRe[slotA * block + b] += 1;
          if (slotB >= 0) aRe[slotB * block + b] -= 1;
          xRe[current * block + b] += pushRe;
          xIm[current * block + b] += pushIm;
        }
        continue;
      }
      if (slotA >= 0) addBlock(aRe, aIm, slotA * block, yRe, yIm, from, count);
      if (slotB >= 0) addBlock(aRe, aIm, slotB * block, yRe, yIm, from, count);
      if (slotBetween >= 0) subtractBlock(aRe, aIm, slotBetween * block, yRe, yIm, from, count);
      if ((pushRe === 0 && pushIm === 0) || unknownA === unknownB) continue;
      if (unknownA >= 0)
        addTimes(xRe, xIm, unknownA * block, yRe, yIm, from, pushRe, pushIm, count);
      if (unknownB >= 0)
        addTimes(xRe, xIm, unknownB * block, yRe, yIm, from, -pushRe, -pushIm, count);
    }
    for (let m = 0; m < mutuals.length; m++)
      for (let b = 0; b < count; b++)
        aIm[mutuals[m].slot * block + b] -= omega[b] * mutualHenries[m];
  }

  /** L·D·Lᵀ in place, with the right-hand side carried along. Marks frequencies whose pivots cancelled. */
  function eliminate(count: number): void {
    for (let p = 0; p < n; p++) {
      const at = p * block;
      invertBlock(inverseRe, inverseIm, at, aRe, aIm, diagonal[p] * block, count);
      // Downward, so that the entries above a row are still the unscaled ones when it needs them.
      for (let r = rowStart[p + 1] - 1; r >= rowStart[p]; r--) {
        const entry = rowSlots[r] * block;
        multiplyAndWatch(
          factorRe,
          factorIm,
          aRe,
          aIm,
          entry,
          inverseRe,
          inverseIm,
          at,
          growthLimit,
          poor,
          count,
        );
        for (let u = updateStart[r], s = rowStart[p]; u < updateStart[r + 1]; u++, s++)
          subtractProduct(
            aRe,
            aIm,
            updateTargets[u] * block,
            factorRe,
            factorIm,
            aRe,
            aIm,
            rowSlots[s] * block,
            count,
          );
        if (carriesRight[p] === 1)
          subtractProduct(xRe, xIm, rows[r] * block, factorRe, factorIm, xRe, xIm, at, count);
        if (isWanted[p] === 1) storeBlock(aRe, aIm, entry, factorRe, factorIm, count);
      }
    }
  }

  /** Second half of a solution, in place: divided by the pivots, then backward. */
  function substituteBack(zRe: Float64Array, zIm: Float64Array, count: number): void {
    for (let p = n - 1; p >= 0; p--) {
      if (isWanted[p] === 0) continue;
      const at = p * block;
      multiplyAndWatch(
        factorRe,
        factorIm,
        zRe,
        zIm,
        at,
        inverseRe,
        inverseIm,
        at,
        growthLimit * largestVolts,
        poor,
        count,
      );
      storeBlock(zRe, zIm, at, factorRe, factorIm, count);
      for (let r = rowStart[p]; r < rowStart[p + 1]; r++)
        subtractTimes(zRe, zIm, at, aRe, aIm, rowSlots[r] * block, rows[r] * block, count);
    }
  }

  /** Full matrix and right-hand side of frequency b of the block, as assembled. */
  function gather(b: number): void {
    const { re: m, im: mi, rightRe, rightIm } = dense;
    m.fill(0);
    mi.fill(0);
    for (let p = 0; p < n; p++) {
      rightRe[p] = xRe[p * block + b];
      rightIm[p] = xIm[p * block + b];
      m[p * n + p] = aRe[diagonal[p] * block + b];
      mi[p * n + p] = aIm[diagonal[p] * block + b];
      for (let r = rowStart[p]; r < rowStart[p + 1]; r++) {
        const slot = rowSlots[r] * block + b;
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

  /** Solves the marked frequencies again with pivoting; the factors of the others are made anew afterwards. */
  function repair(first: number, count: number): void {
    const keptRe = xRe.slice();
    const keptIm = xIm.slice();
    assemble(count);
    for (let b = 0; b < count; b++) {
      if (poor[b] === 0) continue;
      gather(b);
      cancelled.push({ b, re: dense.re.slice(), im: dense.im.slice() });
      solveDensely(frequencyHz[first + b]);
      for (let p = 0; p < n; p++) {
        keptRe[p * block + b] = dense.rightRe[p];
        keptIm[p * block + b] = dense.rightIm[p];
      }
    }
    eliminate(count);
    xRe.set(keptRe);
    xIm.set(keptIm);
  }

  return {
    xRe,
    xIm,
    yRe,
    yIm,
    offsetRe,
    offsetIm,
    omega,
    load: loadValues,
    solve(values, first, count) {
      for (let b = 0; b < count; b++) omega[b] = 2 * Math.PI * frequencyHz[first + b];
      fillBranches(values, first, count);
      assemble(count);
      poor.fill(0);
      if (cancelled.length > 0) cancelled = [];
      eliminate(count);
      substituteBack(xRe, xIm, count);
      // Rare: a loss-free coil and capacitor cancel in a pivot.
      for (let b = 0; b < count; b++)
        if (poor[b] !== 0) {
          repair(first, count);
          break;
        }
    },
    solveAlso(zRe, zIm, first, count) {
      for (const { b } of cancelled)
        for (let p = 0; p < n; p++) {
          savedRe[p * block + b] = zRe[p * block + b];
          savedIm[p * block + b] = zIm[p * block + b];
        }
      for (let p = 0; p < n; p++)
        for (let r = rowStart[p]; r < rowStart[p + 1]; r++)
          subtractTimes(zRe, zIm, rows[r] * block, aRe, aIm, rowSlots[r] * block, p * block, count);
      substituteBack(zRe, zIm, count);
      for (const { b, re, im } of cancelled) {
        dense.re.set(re);
        dense.im.set(im);
        for (let p = 0; p < n; p++) {
          dense.rightRe[p] = savedRe[p * block + b];
          dense.rightIm[p] = savedIm[p * block + b];
        }
        solveDensely(frequencyHz[first + b]);
        for (let p = 0; p < n; p++) {
          zRe[p * block + b] = dense.rightRe[p];
          zIm[p * block + b] = dense.rightIm[p];
        }
      }
    },
  };
}

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
import { resolveProbes, whatToCarry, type Probe } from './outputs';
import type { NetworkPlan } from './plan';

/** Impedance of a one-port in ohms at each frequency of the sweep. */
export interface OnePortImpedance {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

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
 * Frequencies worked on together. Each step of the plan runs down a block, so that its look-ups are paid once per
 * block. Anything from 32 to 128 took the same time when it was measured (`npm run bench`).
 */
const block = 64;

/**
 * A factor or an unknown this large means that a pivot cancelled and lost digits; the frequency is solved again, with
 * pivoting. Factors of a sound network are about 1, and 1e5 leaves ten digits.
 */
const growthLimit = 1e5;

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
  const outputs = resolveProbes(plan, netlist, probes);
  const { carriesRight, isWanted } = whatToCarry(plan, outputs);
  const re = probes.map(() => new Float64Array(points));
  const im = probes.map(() => new Float64Array(points));

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
  const inverseRe = new Float64Array(n * block);
  const inverseIm = new Float64Array(n * block);
  const factorRe = new Float64Array(block);
  const factorIm = new Float64Array(block);
  const poor = new Uint8Array(block);
  const dense = createDenseSolver(n);
  let largestVolts = 1;

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

  function substituteBack(count: number): void {
    for (let p = n - 1; p >= 0; p--) {
      if (isWanted[p] === 0) continue;
      const at = p * block;
      multiplyAndWatch(
        factorRe,
        factorIm,
        xRe,
        xIm,
        at,
        inverseRe,
        inverseIm,
        at,
        growthLimit * largestVolts,
        poor,
        count,
      );
      storeBlock(xRe, xIm, at, factorRe, factorIm, count);
      for (let r = rowStart[p]; r < rowStart[p + 1]; r++)
        subtractTimes(xRe, xIm, at, aRe, aIm, rowSlots[r] * block, rows[r] * block, count);
    }
  }

  /** Solves frequency b of the block again with pivoting, from freshly assembled equations. */
  function solveDensely(b: number, count: number, hz: number): void {
    assemble(count);
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
    if (!dense.solve())
      throw problem(
        'resonance_without_loss',
        `${Number(hz.toPrecision(6))} Hz`,
        'The network has no finite solution at this frequency.',
        'Coils and capacitors without any loss resonate there, or nothing fixes a voltage.',
        'Give the coils their series resistance.',
      );
  }

  /** Writes the probes for places `from`…`to` of the block that starts at frequency `first`. */
  function report(first: number, from: number, to: number): void {
    for (let o = 0; o < outputs.length; o++) {
      const outRe = re[o];
      const outIm = im[o];
      const { terms } = outputs[o];
      for (let b = from; b < to; b++) {
        outRe[first + b] = 0;
        outIm[first + b] = 0;
      }
      for (const { sign, node, branch: k } of terms) {
        if (k < 0) {
          const unknown = plan.unknownOfNode[node] * block;
          for (let b = from; b < to; b++) {
            outRe[first + b] += sign * (offsetRe[node] + (unknown < 0 ? 0 : xRe[unknown + b]));
            outIm[first + b] += sign * (offsetIm[node] + (unknown < 0 ? 0 : xIm[unknown + b]));
          }
          continue;
        }
        const { a, b: nodeB, unknownA, unknownB, current } = branches[k];
        for (let b = from; b < to; b++) {
          if (current >= 0) {
            outRe[first + b] += sign * xRe[current * block + b];
            outIm[first + b] += sign * xIm[current * block + b];
            continue;
          }
          const vRe =
            offsetRe[a] -
            offsetRe[nodeB] +
            (unknownA < 0 ? 0 : xRe[unknownA * block + b]) -
            (unknownB < 0 ? 0 : xRe[unknownB * block + b]);
          const vIm =
            offsetIm[a] -
            offsetIm[nodeB] +
            (unknownA < 0 ? 0 : xIm[unknownA * block + b]) -
            (unknownB < 0 ? 0 : xIm[unknownB * block + b]);
          const gRe = yRe[k * block + b];
          const gIm = yIm[k * block + b];
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
      loadValues(values);
      for (let first = 0; first < points; first += block) {
        const count = Math.min(block, points - first);
        for (let b = 0; b < count; b++) omega[b] = 2 * Math.PI * frequencyHz[first + b];
        fillBranches(values, first, count);
        assemble(count);
        poor.fill(0);
        eliminate(count);
        substituteBack(count);
        report(first, 0, count);
        // Rare: a loss-free coil and capacitor cancel in a pivot. The rest of the block is reported already.
        for (let b = 0; b < count; b++) {
          if (poor[b] === 0) continue;
          solveDensely(b, count, frequencyHz[first + b]);
          for (let p = 0; p < n; p++) {
            xRe[p * block + b] = dense.rightRe[p];
            xIm[p * block + b] = dense.rightIm[p];
          }
          report(first, b, b + 1);
        }
      }
    },
  };
}

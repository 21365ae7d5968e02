import { problem } from '@/core/problem';
import { createDenseSolver } from './dense';
import type { Netlist } from './netlist';
import type { NetworkPlan } from './plan';

/** What to report: a voltage between two nodes, or the current of a source, into its a-end as SPICE counts it. */
export type Probe =
  | { readonly kind: 'voltage'; readonly plus: string; readonly minus: string }
  | { readonly kind: 'current'; readonly source: string };

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
 * block. Measured best between 16 and 128. See `npm run bench`.
 */
const block = 64;

/** A pivot this small against what was added up in it has lost digits; that frequency is solved again, densely. */
const cancellation = 1e-5;

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
  const scale = new Float64Array(n * block);
  const factorRe = new Float64Array(block);
  const factorIm = new Float64Array(block);
  const poor = new Uint8Array(block);
  const dense = createDenseSolver(n);

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
    for (let s = 0; s < plan.sourceSteps.length; s++) {
      const { element, node, from, sign } = plan.sourceSteps[s];
      const source = elements[element];
      if (source.kind !== 'source') continue;
      offsetRe[node] = offsetRe[from] + sign * source.voltsRe;
      offsetIm[node] = offsetIm[from] + sign * source.voltsIm;
    }
  }

  /** Admittance of every branch (impedance of coupled coils) over the block that starts at frequency `first`. */
  function fillBranches(netlist: Netlist, first: number, count: number): void {
    for (let k = 0; k < branches.length; k++) {
      const { element: e, current } = branches[k];
      const at = k * block;
      const v = value[e];
      const r = loss[e];
      switch (netlist.elements[e].kind) {
        case 'resistor':
          for (let b = 0; b < count; b++) {
            yRe[at + b] = 1 / v;
            yIm[at + b] = 0;
          }
          break;
        case 'coil':
          for (let b = 0; b < count; b++) {
            const x = omega[b] * v;
            const d = current >= 0 ? 1 : r * r + x * x;
            yRe[at + b] = r / d;
            yIm[at + b] = (current >= 0 ? x : -x) / d;
          }
          break;
        case 'capacitor':
          for (let b = 0; b < count; b++) {
            // (r + 1/jωC)⁻¹, written so that r = 0 needs no case of its own.
            const s = omega[b] * v;
            const d = 1 + r * s * (r * s);
            yRe[at + b] = (r * s * s) / d;
            yIm[at + b] = s / d;
          }
          break;
        case 'oneport': {
          const load = loads[e]!;
          for (let b = 0; b < count; b++) {
            const zRe = load.re[first + b];
            const zIm = load.im[first + b];
            const d = zRe * zRe + zIm * zIm;
            yRe[at + b] = zRe / d;
            yIm[at + b] = -zIm / d;
          }
        }
      }
    }
  }

  /** Adds ±(branch k's y or z) to a slot, and its size to the scale of the unknown whose diagonal the slot is. */
  function add(slot: number, sign: number, k: number, count: number, unknown: number): void {
    const at = slot * block;
    const from = k * block;
    for (let b = 0; b < count; b++) {
      aRe[at + b] += sign * yRe[from + b];
      aIm[at + b] += sign * yIm[from + b];
    }
    if (unknown < 0) return;
    const monitor = unknown * block;
    for (let b = 0; b < count; b++)
      scale[monitor + b] += Math.abs(yRe[from + b]) + Math.abs(yIm[from + b]);
  }

  function assemble(count: number): void {
    aRe.fill(0);
    aIm.fill(0);
    xRe.fill(0);
    xIm.fill(0);
    scale.fill(0);
    for (let k = 0; k < branches.length; k++) {
      const { a, b: nodeB, unknownA, unknownB, current, slotA, slotB, slotBetween } = branches[k];
      const pushRe = offsetRe[nodeB] - offsetRe[a];
      const pushIm = offsetIm[nodeB] - offsetIm[a];
      const from = k * block;
      if (current >= 0) {
        if (slotA >= 0) for (let b = 0; b < count; b++) aRe[slotA * block + b] += 1;
        if (slotB >= 0) for (let b = 0; b < count; b++) aRe[slotB * block + b] -= 1;
        add(slotBetween, -1, k, count, current);
        for (let b = 0; b < count; b++) {
          xRe[current * block + b] += pushRe;
          xIm[current * block + b] += pushIm;
        }
        continue;
      }
      if (slotA >= 0) add(slotA, 1, k, count, unknownA);
      if (slotB >= 0) add(slotB, 1, k, count, unknownB);
      if (slotBetween >= 0) add(slotBetween, -1, k, count, -1);
      if ((pushRe === 0 && pushIm === 0) || unknownA === unknownB) continue;
      for (let b = 0; b < count; b++) {
        const re = yRe[from + b] * pushRe - yIm[from + b] * pushIm;
        const im = yRe[from + b] * pushIm + yIm[from + b] * pushRe;
        if (unknownA >= 0) {
          xRe[unknownA * block + b] += re;
          xIm[unknownA * block + b] += im;
        }
        if (unknownB >= 0) {
          xRe[unknownB * block + b] -= re;
          xIm[unknownB * block + b] -= im;
        }
      }
    }
    for (let m = 0; m < mutuals.length; m++)
      for (let b = 0; b < count; b++)
        aIm[mutuals[m].slot * block + b] -= omega[b] * mutualHenries[m];
  }

  /** L·D·Lᵀ in place, with the right-hand side carried along. Marks frequencies whose pivots cancelled. */
  function eliminate(count: number): void {
    for (let p = 0; p < n; p++) {
      const d = diagonal[p] * block;
      const at = p * block;
      for (let b = 0; b < count; b++) {
        const dRe = aRe[d + b];
        const dIm = aIm[d + b];
        const size = dRe * dRe + dIm * dIm;
        if (!(Math.abs(dRe) + Math.abs(dIm) > cancellation * scale[at + b])) poor[b] = 1;
        inverseRe[at + b] = dRe / size;
        inverseIm[at + b] = -dIm / size;
      }
      // Downward, so that the entries above a row are still the unscaled ones when it needs them.
      for (let r = rowStart[p + 1] - 1; r >= rowStart[p]; r--) {
        const entry = rowSlots[r] * block;
        for (let b = 0; b < count; b++) {
          const re = aRe[entry + b];
          const im = aIm[entry + b];
          factorRe[b] = re * inverseRe[at + b] - im * inverseIm[at + b];
          factorIm[b] = re * inverseIm[at + b] + im * inverseRe[at + b];
        }
        const last = updateStart[r + 1] - 1;
        for (let u = updateStart[r], s = rowStart[p]; u <= last; u++, s++) {
          const target = updateTargets[u] * block;
          const other = rowSlots[s] * block;
          for (let b = 0; b < count; b++) {
            const fRe = factorRe[b];
            const fIm = factorIm[b];
            const oRe = aRe[other + b];
            const oIm = aIm[other + b];
            aRe[target + b] -= fRe * oRe - fIm * oIm;
            aIm[target + b] -= fRe * oIm + fIm * oRe;
          }
        }
        const row = rows[r] * block;
        for (let b = 0; b < count; b++) {
          const fRe = factorRe[b];
          const fIm = factorIm[b];
          xRe[row + b] -= fRe * xRe[at + b] - fIm * xIm[at + b];
          xIm[row + b] -= fRe * xIm[at + b] + fIm * xRe[at + b];
          scale[row + b] +=
            (Math.abs(fRe) + Math.abs(fIm)) * (Math.abs(aRe[entry + b]) + Math.abs(aIm[entry + b]));
          aRe[entry + b] = fRe;
          aIm[entry + b] = fIm;
        }
      }
    }
  }

  function substituteBack(count: number): void {
    for (let p = n - 1; p >= 0; p--) {
      const at = p * block;
      for (let b = 0; b < count; b++) {
        const re = xRe[at + b];
        const im = xIm[at + b];
        xRe[at + b] = re * inverseRe[at + b] - im * inverseIm[at + b];
        xIm[at + b] = re * inverseIm[at + b] + im * inverseRe[at + b];
      }
      for (let r = rowStart[p]; r < rowStart[p + 1]; r++) {
        const entry = rowSlots[r] * block;
        const row = rows[r] * block;
        for (let b = 0; b < count; b++) {
          xRe[at + b] -= aRe[entry + b] * xRe[row + b] - aIm[entry + b] * xIm[row + b];
          xIm[at + b] -= aRe[entry + b] * xIm[row + b] + aIm[entry + b] * xRe[row + b];
        }
      }
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
      for (let t = 0; t < terms.length; t++) {
        const { sign, node, branch: k } = terms[t];
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

/** A reported quantity as a sum of node voltages (branch −1) and branch currents. */
interface Output {
  readonly terms: readonly {
    readonly sign: number;
    readonly node: number;
    readonly branch: number;
  }[];
}

function resolveProbes(plan: NetworkPlan, netlist: Netlist, probes: readonly Probe[]): Output[] {
  const nodeOf = (name: string) => {
    const node = plan.nodeNames.indexOf(name);
    if (node < 0)
      throw problem(
        'probe_unknown_node',
        `v(${name})`,
        `There is no node ${name} in this network.`,
        `Its nodes are ${plan.nodeNames.slice(0, 12).join(', ')}.`,
        'Probe one of these.',
      );
    return node;
  };
  return probes.map((probe) => {
    if (probe.kind === 'voltage')
      return {
        terms: [
          { sign: 1, node: nodeOf(probe.plus), branch: -1 },
          { sign: -1, node: nodeOf(probe.minus), branch: -1 },
        ],
      };
    const step = plan.sourceSteps.find(
      ({ element }) => netlist.elements[element].name === probe.source,
    );
    if (!step)
      throw problem(
        'probe_unknown_source',
        `i(${probe.source})`,
        `There is no voltage source ${probe.source} in this network.`,
        'Only the current of a source can be probed.',
        'Name one of its sources.',
      );
    // Kirchhoff's current law over everything that hangs on the far side of the source in its tree.
    const beyond = new Set([step.node]);
    for (const { node, from } of plan.sourceSteps) if (beyond.has(from)) beyond.add(node);
    return {
      terms: plan.branches.flatMap(({ a, b }, branch) =>
        beyond.has(a) === beyond.has(b)
          ? []
          : [{ sign: beyond.has(a) ? -step.sign : step.sign, node: -1, branch }],
      ),
    };
  });
}

import {
  block,
  createBlockSystem,
  stride,
  type BlockSystem,
  type OnePortImpedance,
} from './blockSystem';
import { isPassive, reactanceSlope, seriesFormOf } from './immittance';
import type { Netlist } from './netlist';
import { resolveProbes, type Output, type Probe } from './outputs';
import type { NetworkPlan } from './plan';

/** A solution with its exact derivatives. */
export interface GradientSolver {
  /**
   * Solves the network and differentiates every probe with respect to the logarithm of each wanted
   * element's value, its loss following by `lossSlopes`.
   *
   * @param lossSlopes per wanted element, ohms by which its series resistance rises for a factor of
   *   e in its value; null leaves the derivatives as they are, in a third of the time
   */
  solve(netlist: Netlist, lossSlopes: Float64Array | null): void;
  /** Per probe, over frequency: volts or amperes. */
  readonly re: readonly Float64Array[];
  readonly im: readonly Float64Array[];
  /** Per probe and wanted element, over frequency: change for a factor of e in the value. */
  readonly slopeRe: readonly (readonly Float64Array[])[];
  readonly slopeIm: readonly (readonly Float64Array[])[];
}

/**
 * Prepares a sweep with derivatives by the adjoint network (Director and Rohrer 1969): with A·x = b
 * symmetric, a probe cᵀx changes by −λᵀ·(∂A/∂p)·x, where A·λ = c. One more substitution per probe
 * gives its derivative with respect to every element.
 *
 * @param wanted names of resistors, coils and capacitors
 * @throws ProblemError as createSolver does
 */
export function createGradientSolver(
  plan: NetworkPlan,
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
  wanted: readonly string[],
  frequencyHz: Float64Array,
): GradientSolver {
  const points = frequencyHz.length;
  const outputs = resolveProbes(plan, netlist, probes);
  const all = new Uint8Array(plan.unknownCount).fill(1);
  const system = createBlockSystem(plan, netlist, onePorts, frequencyHz, all, all);
  const curves = () => new Float64Array(points);
  const blocks = () => new Float64Array(block);
  const sweep: Sweep = {
    ...system,
    ...{ plan, outputs, branches: plan.branches },
    places: placesOf(plan, netlist, wanted),
    re: probes.map(curves),
    im: probes.map(curves),
    slopeRe: probes.map(() => wanted.map(curves)),
    slopeIm: probes.map(() => wanted.map(curves)),
    actRe: wanted.map(blocks),
    actIm: wanted.map(blocks),
  };
  const { re, im, slopeRe, slopeIm } = sweep;

  return {
    re,
    im,
    slopeRe,
    slopeIm,
    solve(values, lossSlopes) {
      system.load(values);
      for (let first = 0; first < points; first += block) {
        const count = Math.min(block, points - first);
        system.solve(first, count);
        if (lossSlopes) act(sweep, values, lossSlopes, first, count);
        for (let o = 0; o < outputs.length; o++) {
          probe(sweep, outputs[o], o, first, count);
          if (!lossSlopes) continue;
          system.solveAlso(first, count);
          differentiate(sweep, values, o, first, count);
        }
      }
    },
  };
}

/**
 * An element that is differentiated by: where it is in the plan, and the coils that it is coupled
 * to.
 */
interface WantedPlace {
  readonly element: number;
  readonly branch: number;
  readonly mutuals: readonly {
    readonly other: number;
    readonly coupling: number;
    /** Unknown that is the other coil's current. */
    readonly current: number;
  }[];
}

/** Everything that the three steps of a block share. */
interface Sweep extends Pick<
  BlockSystem,
  'xRe' | 'xIm' | 'yRe' | 'yIm' | 'zRe' | 'zIm' | 'offsetRe' | 'offsetIm' | 'omega'
> {
  readonly plan: NetworkPlan;
  readonly branches: NetworkPlan['branches'];
  readonly outputs: readonly Output[];
  readonly places: readonly WantedPlace[];
  readonly re: readonly Float64Array[];
  readonly im: readonly Float64Array[];
  readonly slopeRe: readonly (readonly Float64Array[])[];
  readonly slopeIm: readonly (readonly Float64Array[])[];
  /** Per wanted element over the block: what a change of it injects. */
  readonly actRe: readonly Float64Array[];
  readonly actIm: readonly Float64Array[];
}

function placesOf(
  { branches, mutuals }: NetworkPlan,
  { elements }: Netlist,
  wanted: readonly string[],
): WantedPlace[] {
  const numbers = new Map(elements.map(({ name }, e) => [name, e]));
  return wanted.map((name) => {
    const element = numbers.get(name)!;
    return {
      element,
      branch: branches.findIndex((one) => one.element === element),
      mutuals: mutuals.flatMap(({ coilA, coilB, coupling }) => {
        const other = coilA === element ? coilB : coilB === element ? coilA : -1;
        return other < 0
          ? []
          : [{ other, coupling, current: branches.find((one) => one.element === other)!.current }];
      }),
    };
  });
}

function voltageRe({ branches, offsetRe, xRe }: Sweep, branch: number, b: number): number {
  const { a, b: nodeB, unknownA, unknownB } = branches[branch];
  return (
    offsetRe[a] -
    offsetRe[nodeB] +
    (unknownA < 0 ? 0 : xRe[unknownA * stride + b]) -
    (unknownB < 0 ? 0 : xRe[unknownB * stride + b])
  );
}
function voltageIm({ branches, offsetIm, xIm }: Sweep, branch: number, b: number): number {
  const { a, b: nodeB, unknownA, unknownB } = branches[branch];
  return (
    offsetIm[a] -
    offsetIm[nodeB] +
    (unknownA < 0 ? 0 : xIm[unknownA * stride + b]) -
    (unknownB < 0 ? 0 : xIm[unknownB * stride + b])
  );
}

/**
 * What a change of each wanted element injects: dy/d ln p · v, or for a coupled coil dz/d ln p · i.
 */
function act(
  sweep: Sweep,
  { elements, couplings }: Netlist,
  lossSlopes: Float64Array,
  first: number,
  count: number,
): void {
  const { places, branches, omega, xRe, xIm, yRe, yIm, actRe, actIm } = sweep;
  places.forEach(({ element: e, branch, mutuals: coupled }, w) => {
    const element = elements[e];
    if (!isPassive(element)) return;
    const form = seriesFormOf(element);
    const current = branches[branch].current;
    const lossSlope = lossSlopes[w];
    for (let b = 0; b < count; b++) {
      const k = branch * stride + b;
      if (current >= 0) {
        const reactance = reactanceSlope(form, omega[first + b]);
        const [iRe, iIm] = [xRe[current * stride + b], xIm[current * stride + b]];
        let [sumRe, sumIm] = [lossSlope * iRe - reactance * iIm, lossSlope * iIm + reactance * iRe];
        for (const { other, coupling, current: otherCurrent } of coupled) {
          const half =
            0.5 * omega[first + b] * mutualHenries(elements, couplings, e, other, coupling);
          sumRe -= half * xIm[otherCurrent * stride + b];
          sumIm += half * xRe[otherCurrent * stride + b];
        }
        actRe[w][b] = sumRe;
        actIm[w][b] = sumIm;
        continue;
      }
      const [gRe, gIm] = [yRe[k], yIm[k]];
      const [vRe, vIm] = [voltageRe(sweep, branch, b), voltageIm(sweep, branch, b)];
      // y = 1/z: dy = −y²·dz.
      const [dzRe, dzIm] = [lossSlope + form.ohmsSlope, reactanceSlope(form, omega[first + b])];
      const [qRe, qIm] = [gRe * gRe - gIm * gIm, 2 * gRe * gIm];
      const [dyRe, dyIm] = [dzIm * qIm - dzRe * qRe, -dzRe * qIm - dzIm * qRe];
      actRe[w][b] = dyRe * vRe - dyIm * vIm;
      actIm[w][b] = dyRe * vIm + dyIm * vRe;
    }
  });
}

/** Writes a probe, and its derivative with respect to the unknowns into `z`. */
function probe(sweep: Sweep, { terms }: Output, o: number, first: number, count: number): void {
  const { plan, branches, re, im, xRe, xIm, yRe, yIm, zRe, zIm, offsetRe, offsetIm } = sweep;
  zRe.fill(0);
  zIm.fill(0);
  const [outRe, outIm] = [re[o], im[o]];
  outRe.fill(0, first, first + count);
  outIm.fill(0, first, first + count);
  for (const { sign, node, branch } of terms) {
    if (branch < 0) {
      const unknown = plan.unknownOfNode[node] * stride;
      for (let b = 0; b < count; b++) {
        outRe[first + b] += sign * (offsetRe[node] + (unknown < 0 ? 0 : xRe[unknown + b]));
        outIm[first + b] += sign * (offsetIm[node] + (unknown < 0 ? 0 : xIm[unknown + b]));
        if (unknown >= 0) zRe[unknown + b] += sign;
      }
      continue;
    }
    const { unknownA, unknownB, current } = branches[branch];
    for (let b = 0; b < count; b++) {
      if (current >= 0) {
        outRe[first + b] += sign * xRe[current * stride + b];
        outIm[first + b] += sign * xIm[current * stride + b];
        zRe[current * stride + b] += sign;
        continue;
      }
      const [gRe, gIm] = [yRe[branch * stride + b], yIm[branch * stride + b]];
      const [vRe, vIm] = [voltageRe(sweep, branch, b), voltageIm(sweep, branch, b)];
      outRe[first + b] += sign * (gRe * vRe - gIm * vIm);
      outIm[first + b] += sign * (gRe * vIm + gIm * vRe);
      if (unknownA >= 0) {
        zRe[unknownA * stride + b] += sign * gRe;
        zIm[unknownA * stride + b] += sign * gIm;
      }
      if (unknownB >= 0) {
        zRe[unknownB * stride + b] -= sign * gRe;
        zIm[unknownB * stride + b] -= sign * gIm;
      }
    }
  }
}

/** Derivatives of a probe with respect to every wanted element, once `z` holds its adjoint. */
function differentiate(
  sweep: Sweep,
  netlist: Netlist,
  o: number,
  first: number,
  count: number,
): void {
  const { outputs, places, branches, omega, xRe, xIm, zRe, zIm, actRe, actIm, slopeRe, slopeIm } =
    sweep;
  const direct = outputs[o].terms;
  places.forEach(({ element: e, branch, mutuals: coupled }, w) => {
    const { unknownA, unknownB, current } = branches[branch];
    const [outRe, outIm] = [slopeRe[o][w], slopeIm[o][w]];
    const [fRe, fIm] = [actRe[w], actIm[w]];
    // The current of this very branch may be part of the probe.
    let own = 0;
    if (current < 0) for (const term of direct) if (term.branch === branch) own += term.sign;
    for (let b = 0; b < count; b++) {
      let [lRe, lIm] = [0, 0];
      if (current >= 0) {
        // Row of the coil: v − z·i = 0.
        lRe = zRe[current * stride + b];
        lIm = zIm[current * stride + b];
      } else {
        if (unknownA >= 0) {
          lRe -= zRe[unknownA * stride + b];
          lIm -= zIm[unknownA * stride + b];
        }
        if (unknownB >= 0) {
          lRe += zRe[unknownB * stride + b];
          lIm += zIm[unknownB * stride + b];
        }
      }
      outRe[first + b] = lRe * fRe[b] - lIm * fIm[b] + own * fRe[b];
      outIm[first + b] = lRe * fIm[b] + lIm * fRe[b] + own * fIm[b];
    }
    for (const { other, coupling, current: otherCurrent } of coupled)
      for (let b = 0; b < count; b++) {
        // The other coil's row holds jωM times this one's current.
        const half =
          0.5 *
          omega[first + b] *
          mutualHenries(netlist.elements, netlist.couplings, e, other, coupling);
        const [iRe, iIm] = [xRe[current * stride + b], xIm[current * stride + b]];
        const [lRe, lIm] = [zRe[otherCurrent * stride + b], zIm[otherCurrent * stride + b]];
        outRe[first + b] += half * (-lRe * iIm - lIm * iRe);
        outIm[first + b] += half * (lRe * iRe - lIm * iIm);
      }
  });
}

function mutualHenries(
  elements: Netlist['elements'],
  couplings: Netlist['couplings'],
  a: number,
  b: number,
  coupling: number,
): number {
  const [coilA, coilB] = [elements[a], elements[b]];
  if (coilA.kind !== 'coil' || coilB.kind !== 'coil') return 0;
  return couplings[coupling].coefficient * Math.sqrt(coilA.henries * coilB.henries);
}

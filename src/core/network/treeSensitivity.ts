import type { OnePortImpedance } from './blockSystem';
import { ground, type Netlist } from './netlist';
import type { Probe } from './outputs';
import { addWeighted, type Curve, type Quantity, type Sensitivity } from './sensitivity';
import { createBranchImpedance, type BranchImpedance } from './treeBranches';
import { treeShapeOf } from './treeShape';

/**
 * Quantities of a network that hangs on one source like a tree, with their derivatives. No
 * equations are solved: admittances are summed up from the ends and voltages walk down from the
 * source. The adjoint network of a quantity (Director and Rohrer 1969: currents of its weights into
 * its nodes, the source shorted) is walked in the same way, once for the whole quantity. Not for
 * resonances without any loss: values are not finite there.
 *
 * @returns null when the network is not of that shape
 */
export function createTreeSensitivity(
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
  quantities: readonly Quantity[],
  wanted: readonly string[],
  frequencyHz: Float64Array,
): Sensitivity | null {
  const shape = treeShapeOf(netlist, probes);
  if (!shape) return null;
  const { names, parents, source, sign } = shape;
  const points = frequencyHz.length;
  const omega = frequencyHz.map((hz) => 2 * Math.PI * hz);
  const curve = (length = points): Curve => ({
    re: new Float64Array(length),
    im: new Float64Array(length),
  });
  const nodeCount = names.length;
  const branchOf = (tree: (typeof shape.series)[number]) =>
    tree && createBranchImpedance(tree, netlist, onePorts, omega);
  const series = shape.series.map(branchOf);
  const shunts = shape.shunts.map(branchOf);
  /** Admittance from each node down, its shunt included. */
  const below = names.map(() => curve());
  /** Voltage of each node over its parent's. */
  const down = names.map(() => curve());
  const volts = names.map(() => curve());
  const injected = names.map(() => curve());
  const adjoint = names.map(() => curve());
  const acts = wanted.map(() => curve());
  const places = wanted.map((name) => placeOf(series, shunts, netlist, name));

  const nodeOf = (name: string) => (name === ground ? -1 : names.indexOf(name));
  const nodesOf = (probe: Probe) =>
    probe.kind === 'current'
      ? []
      : [
          { node: nodeOf(probe.plus), sign: 1 },
          { node: nodeOf(probe.minus), sign: -1 },
        ].filter(({ node }) => node >= 0);
  /** Each quantity as voltages of nodes, and as currents of the source. */
  const atNodes = quantities.map((terms) =>
    terms.flatMap(({ probe, weight }) =>
      nodesOf(probes[probe]).map((one) => ({ ...one, weight: signed(weight, one.sign, points) })),
    ),
  );
  // SPICE counts a source's current into its a-end.
  const ofSource = quantities.map((terms) =>
    terms.flatMap(({ probe, weight }) =>
      probes[probe].kind === 'current' ? [signed(weight, -sign, points)] : [],
    ),
  );
  const values = quantities.map(() => curve());
  /** Made when they are first asked for: many never are. */
  const slopes: (Curve | undefined)[] = [];
  const isMade = new Uint8Array(quantities.length);
  const current = curve();

  function walk(given: Netlist): void {
    const emf = given.elements[source];
    if (emf.kind !== 'source') return;
    for (let node = 0; node < nodeCount; node++) {
      series[node]?.evaluate(given);
      const shunt = shunts[node];
      if (shunt) {
        shunt.evaluate(given);
        invert(shunt, below[node]);
      } else clear(below[node]);
    }
    for (let node = nodeCount - 1; node > 0; node--)
      enter(series[node]!, below[node], down[node], below[parents[node]]);
    volts[0].re.fill(sign * emf.voltsRe);
    volts[0].im.fill(sign * emf.voltsIm);
    for (let node = 1; node < nodeCount; node++)
      multiply(volts[parents[node]], down[node], volts[node]);
    multiply(below[0], volts[0], current);
  }

  /** What a change of each wanted element does where it stands: (dz/z²)·v. */
  function act(given: Netlist, lossSlopes: Float64Array): void {
    for (let w = 0; w < places.length; w++) {
      const { element, node, isSeries, branch } = places[w];
      branch.slope(given, element, lossSlopes[w], acts[w].re, acts[w].im);
      if (isSeries) multiplyByDifference(volts[parents[node]], volts[node], acts[w]);
      else multiply(volts[node], acts[w], acts[w]);
    }
  }

  /** Voltages of the adjoint network of a quantity. */
  function adjoin(q: number): void {
    for (const one of injected) clear(one);
    for (const { node, weight } of atNodes[q]) addTo(weight, injected[node]);
    for (let node = nodeCount - 1; node > 0; node--)
      if (parents[node] > 0) accumulate(down[node], injected[node], injected[parents[node]]);
    clear(adjoint[0]);
    for (let node = 1; node < nodeCount; node++)
      descend(series[node]!, injected[node], adjoint[parents[node]], down[node], adjoint[node]);
    // By reciprocity the adjoint of the source's current is the solution, for a source of 1 V.
    for (const weight of ofSource[q]) {
      const eRe = volts[0].re[0];
      const eIm = volts[0].im[0];
      for (let node = 0; node < nodeCount; node++)
        subtractOver(weight, volts[node], eRe, eIm, adjoint[node]);
    }
  }

  return {
    values,
    solve(given, lossSlopes) {
      walk(given);
      isMade.fill(0);
      for (let q = 0; q < quantities.length; q++) {
        clear(values[q]);
        for (const { node, weight } of atNodes[q])
          addWeighted(volts[node].re, volts[node].im, weight, values[q], 0);
        for (const weight of ofSource[q]) addWeighted(current.re, current.im, weight, values[q], 0);
      }
      if (lossSlopes) act(given, lossSlopes);
    },
    slopes(q) {
      const own = (slopes[q] ??= curve(points * wanted.length));
      if (isMade[q]) return own;
      isMade[q] = 1;
      adjoin(q);
      for (let w = 0; w < places.length; w++) {
        const { node, isSeries } = places[w];
        differentiate(
          isSeries ? adjoint[parents[node]] : null,
          adjoint[node],
          acts[w],
          own,
          w * points,
        );
      }
      return own;
    },
  };
}

/** Where an element stands: in the branch into a node, or in that from it to ground. */
function placeOf(
  series: readonly (BranchImpedance | null)[],
  shunts: readonly (BranchImpedance | null)[],
  { elements }: Netlist,
  name: string,
) {
  const element = elements.findIndex((one) => one.name === name);
  const holds = (one: BranchImpedance | null) => one?.elements.includes(element) ?? false;
  const node = series.findIndex(holds);
  const isSeries = node >= 0;
  const at = isSeries ? node : shunts.findIndex(holds);
  return { element, isSeries, node: at, branch: (isSeries ? series : shunts)[at]! };
}

/** A weight times a sign, as a curve. */
const signed = (weight: Curve | null, sign: number, points: number): Curve => ({
  re: weight ? weight.re.map((value) => sign * value) : new Float64Array(points).fill(sign),
  im: weight ? weight.im.map((value) => sign * value) : new Float64Array(points),
});

function clear({ re, im }: Curve): void {
  re.fill(0);
  im.fill(0);
}

/** Writes 1/a. */
function invert({ re, im }: Curve, { re: outRe, im: outIm }: Curve): void {
  for (let i = 0; i < outRe.length; i++) {
    const scale = 1 / (re[i] * re[i] + im[i] * im[i]);
    outRe[i] = re[i] * scale;
    outIm[i] = -im[i] * scale;
  }
}

/** Writes a·b; `out` may be one of them. */
function multiply(
  { re: aRe, im: aIm }: Curve,
  { re: bRe, im: bIm }: Curve,
  { re: outRe, im: outIm }: Curve,
): void {
  for (let i = 0; i < outRe.length; i++) {
    const re = aRe[i] * bRe[i] - aIm[i] * bIm[i];
    outIm[i] = aRe[i] * bIm[i] + aIm[i] * bRe[i];
    outRe[i] = re;
  }
}

/** Writes (a − b)·out into `out`. */
function multiplyByDifference(
  { re: aRe, im: aIm }: Curve,
  { re: bRe, im: bIm }: Curve,
  { re: outRe, im: outIm }: Curve,
): void {
  for (let i = 0; i < outRe.length; i++) {
    const x = aRe[i] - bRe[i];
    const y = aIm[i] - bIm[i];
    const re = outRe[i] * x - outIm[i] * y;
    outIm[i] = outRe[i] * y + outIm[i] * x;
    outRe[i] = re;
  }
}

/** Adds a to a sum. */
function addTo({ re, im }: Curve, { re: outRe, im: outIm }: Curve): void {
  for (let i = 0; i < outRe.length; i++) {
    outRe[i] += re[i];
    outIm[i] += im[i];
  }
}

/** Adds a·b to a sum. */
function accumulate(
  { re: aRe, im: aIm }: Curve,
  { re: bRe, im: bIm }: Curve,
  { re: outRe, im: outIm }: Curve,
): void {
  for (let i = 0; i < outRe.length; i++) {
    outRe[i] += aRe[i] * bRe[i] - aIm[i] * bIm[i];
    outIm[i] += aRe[i] * bIm[i] + aIm[i] * bRe[i];
  }
}

/** Subtracts w·v/e from a sum. */
function subtractOver(
  { re: wRe, im: wIm }: Curve,
  { re: vRe, im: vIm }: Curve,
  eRe: number,
  eIm: number,
  { re: outRe, im: outIm }: Curve,
): void {
  const scale = 1 / (eRe * eRe + eIm * eIm);
  for (let i = 0; i < outRe.length; i++) {
    const x = (vRe[i] * eRe + vIm[i] * eIm) * scale;
    const y = (vIm[i] * eRe - vRe[i] * eIm) * scale;
    outRe[i] -= wRe[i] * x - wIm[i] * y;
    outIm[i] -= wRe[i] * y + wIm[i] * x;
  }
}

/**
 * Through a series branch toward the source: with r = 1/(1 + z·y) a node's voltage is r times its
 * parent's, and y·r is what the parent sees.
 */
function enter(
  { re: zRe, im: zIm }: Curve,
  { re: yRe, im: yIm }: Curve,
  { re: rRe, im: rIm }: Curve,
  { re: sumRe, im: sumIm }: Curve,
): void {
  for (let i = 0; i < rRe.length; i++) {
    const a = 1 + zRe[i] * yRe[i] - zIm[i] * yIm[i];
    const b = zRe[i] * yIm[i] + zIm[i] * yRe[i];
    const scale = 1 / (a * a + b * b);
    const x = a * scale;
    const y = -b * scale;
    rRe[i] = x;
    rIm[i] = y;
    sumRe[i] += yRe[i] * x - yIm[i] * y;
    sumIm[i] += yRe[i] * y + yIm[i] * x;
  }
}

/** Away from the source in the adjoint network: (z·current + parent's voltage)·r. */
function descend(
  { re: zRe, im: zIm }: Curve,
  { re: iRe, im: iIm }: Curve,
  { re: pRe, im: pIm }: Curve,
  { re: rRe, im: rIm }: Curve,
  { re: outRe, im: outIm }: Curve,
): void {
  for (let i = 0; i < outRe.length; i++) {
    const x = zRe[i] * iRe[i] - zIm[i] * iIm[i] + pRe[i];
    const y = zRe[i] * iIm[i] + zIm[i] * iRe[i] + pIm[i];
    outRe[i] = x * rRe[i] - y * rIm[i];
    outIm[i] = x * rIm[i] + y * rRe[i];
  }
}

/** Writes (parent − node)·act, or node·act for a branch to ground, from a place on. */
function differentiate(
  parent: Curve | null,
  { re: nRe, im: nIm }: Curve,
  { re: aRe, im: aIm }: Curve,
  { re: outRe, im: outIm }: Curve,
  from: number,
): void {
  if (!parent) {
    for (let i = 0; i < aRe.length; i++) {
      outRe[from + i] = nRe[i] * aRe[i] - nIm[i] * aIm[i];
      outIm[from + i] = nRe[i] * aIm[i] + nIm[i] * aRe[i];
    }
    return;
  }
  const { re: pRe, im: pIm } = parent;
  for (let i = 0; i < aRe.length; i++) {
    const x = pRe[i] - nRe[i];
    const y = pIm[i] - nIm[i];
    outRe[from + i] = x * aRe[i] - y * aIm[i];
    outIm[from + i] = x * aIm[i] + y * aRe[i];
  }
}

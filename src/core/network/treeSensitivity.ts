import type { OnePortImpedance } from './blockSystem';
import { ground, type Netlist } from './netlist';
import type { Probe } from './outputs';
import type { Curve, Sensitivity } from './sensitivity';
import { createBranchImpedance, type BranchImpedance } from './treeBranches';
import { treeShapeOf } from './treeShape';

/**
 * Probes of a network that hangs on one source like a tree, with their derivatives. No equations
 * are solved: admittances are summed up from the ends and voltages walk down from the source. The
 * adjoint network of a probe (Director and Rohrer 1969: a current of 1 A into its nodes, the source
 * shorted) is walked in the same way. Not for resonances without any loss: values are not finite
 * there.
 *
 * @returns null when the network is not of that shape
 */
export function createTreeSensitivity(
  netlist: Netlist,
  onePorts: ReadonlyMap<string, OnePortImpedance>,
  probes: readonly Probe[],
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
  const isInjected = new Uint8Array(nodeCount);
  const adjoint = names.map(() => curve());
  const acts = wanted.map(() => curve());
  const places = wanted.map((name) => placeOf(series, shunts, netlist, name));
  const current = curve();

  const nodeOf = (name: string) => (name === ground ? -1 : names.indexOf(name));
  /** Nodes of a probe with their signs; null for the source's current. */
  const ends = probes.map((probe) =>
    probe.kind === 'current'
      ? null
      : [
          { node: nodeOf(probe.plus), sign: 1 },
          { node: nodeOf(probe.minus), sign: -1 },
        ].filter(({ node }) => node >= 0),
  );
  const isNodeAlone = (own: (typeof ends)[number]) => own?.length === 1 && own[0].sign === 1;
  const values = ends.map((own) =>
    own === null ? current : isNodeAlone(own) ? volts[own[0].node] : curve(),
  );
  /** Made when they are first asked for: many never are. */
  const slopes: (Curve | undefined)[] = [];
  const isMade = new Uint8Array(probes.length);

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
    // SPICE counts a source's current into its a-end.
    multiply(below[0], volts[0], current);
    scale(current, -sign, 0, current);
  }

  /** What a change of each wanted element does in its place: (dz/z²)·v. */
  function act(given: Netlist, lossSlopes: Float64Array): void {
    for (let w = 0; w < places.length; w++) {
      const { element, node, isSeries, branch } = places[w];
      branch.slope(given, element, lossSlopes[w], acts[w].re, acts[w].im);
      if (isSeries) multiplyByDifference(volts[parents[node]], volts[node], acts[w]);
      else multiply(volts[node], acts[w], acts[w]);
    }
  }

  /** Voltages of the adjoint network of a probe. */
  function adjoin(p: number): void {
    const own = ends[p];
    if (own === null) {
      // By reciprocity the adjoint of the source's current is the solution, for a source of 1 V.
      const eRe = volts[0].re[0];
      const eIm = volts[0].im[0];
      const factor = sign / (eRe * eRe + eIm * eIm);
      for (let node = 0; node < nodeCount; node++)
        scale(volts[node], eRe * factor, -eIm * factor, adjoint[node]);
      return;
    }
    isInjected.fill(0);
    for (const { node } of own) {
      clear(injected[node]);
      isInjected[node] = 1;
    }
    for (const one of own) addNumber(one.sign, injected[one.node]);
    for (let node = nodeCount - 1; node > 0; node--) {
      const parent = parents[node];
      if (!isInjected[node] || parent === 0) continue;
      if (isInjected[parent]) accumulate(down[node], injected[node], injected[parent]);
      else multiply(down[node], injected[node], injected[parent]);
      isInjected[parent] = 1;
    }
    clear(adjoint[0]);
    for (let node = 1; node < nodeCount; node++)
      if (isInjected[node])
        descend(series[node]!, injected[node], adjoint[parents[node]], down[node], adjoint[node]);
      else multiply(adjoint[parents[node]], down[node], adjoint[node]);
  }

  return {
    values,
    solve(given, lossSlopes) {
      walk(given);
      isMade.fill(0);
      ends.forEach((own, p) => {
        if (own === null || isNodeAlone(own)) return;
        clear(values[p]);
        for (const one of own) addTimes(volts[one.node], one.sign, values[p]);
      });
      if (lossSlopes) act(given, lossSlopes);
    },
    slopes(p) {
      const own = (slopes[p] ??= curve(points * wanted.length));
      if (isMade[p]) return own;
      isMade[p] = 1;
      adjoin(p);
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

/** Where an element is: in the branch into a node, or in that from it to ground. */
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

function clear({ re, im }: Curve): void {
  re.fill(0);
  im.fill(0);
}

function addNumber(number: number, { re }: Curve): void {
  for (let i = 0; i < re.length; i++) re[i] += number;
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

/** Adds a, times a sign, to a sum. */
function addTimes({ re, im }: Curve, sign: number, { re: outRe, im: outIm }: Curve): void {
  for (let i = 0; i < outRe.length; i++) {
    outRe[i] += sign * re[i];
    outIm[i] += sign * im[i];
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

/** Writes a times a number; `out` may be a. */
function scale(
  { re: aRe, im: aIm }: Curve,
  bRe: number,
  bIm: number,
  { re: outRe, im: outIm }: Curve,
): void {
  for (let i = 0; i < outRe.length; i++) {
    const re = aRe[i] * bRe - aIm[i] * bIm;
    outIm[i] = aRe[i] * bIm + aIm[i] * bRe;
    outRe[i] = re;
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

import { problem, ProblemError } from '@/core/problem';
import { checkNetlist } from './check';
import { ground, type Element, type Netlist } from './netlist';

/**
 * Everything about a solution that does not depend on values or frequency.
 *
 * Equations: modified nodal analysis (Ho, Ruehli, Brennan 1975) in a form that stays symmetric and
 * has no zero pivots by structure. Ideal sources tie nodes together into trees; only one node of
 * each tree is an unknown, and the tree with ground in it is known. Coupled coils keep their
 * current as an unknown. Factored as L·D·Lᵀ in an order of least degree, without pivoting.
 */
export interface NetworkPlan {
  readonly nodeNames: readonly string[];
  /** Per node: the unknown its voltage hangs on, or −1 when it hangs on ground. */
  readonly unknownOfNode: Int32Array;
  /**
   * Source branches in an order in which each reaches one new node: v(node) = v(from) + sign·volts.
   */
  readonly sourceSteps: readonly SourceStep[];
  /**
   * Per element: its two nodes, its unknowns (−1 for ground), and its current's unknown when it is
   * a coupled coil.
   */
  readonly branches: readonly PlannedBranch[];
  /** Mutual terms: slot to receive −jωM, and the two coils' element indices. */
  readonly mutuals: readonly {
    readonly slot: number;
    readonly coilA: number;
    readonly coilB: number;
    readonly coupling: number;
  }[];
  /** Per unknown: 1 when its equation has a source in it. */
  readonly isDriven: Uint8Array;
  readonly unknownCount: number;
  readonly slotCount: number;
  /** Slot of the diagonal of each unknown; unknowns are numbered in the order of elimination. */
  readonly diagonal: Int32Array;
  /** Per pivot: start in `rows`; length unknownCount + 1. */
  readonly rowStart: Int32Array;
  /** Unknowns below each pivot that it touches, rising. */
  readonly rows: Int32Array;
  /** Slot of each of those entries. */
  readonly rowSlots: Int32Array;
  /** Per entry of `rows`: start in `updateTargets`; length rows + 1. */
  readonly updateStart: Int32Array;
  /**
   * Slots that change when the entry's row is cleared: one for each entry of the same pivot up to
   * it.
   */
  readonly updateTargets: Int32Array;
}

interface SourceStep {
  readonly element: number;
  readonly node: number;
  readonly from: number;
  /** +1 when `node` is the source's a-end. */
  readonly sign: number;
}

export interface PlannedBranch {
  readonly element: number;
  readonly a: number;
  readonly b: number;
  readonly unknownA: number;
  readonly unknownB: number;
  /** Unknown that is this coil's current from a to b, or −1. */
  readonly current: number;
  /**
   * Slots for +y at both ends and −y between (or ±1 and −z for a coil with its own current); −1
   * where none.
   */
  readonly slotA: number;
  readonly slotB: number;
  readonly slotBetween: number;
}

/**
 * Far more than a loudspeaker has; each topology gets machine code of its own, which grows with it.
 */
const mostElements = 500;
/**
 * Entries of the factored matrix: a network of few elements that are joined in every way can fill
 * it too.
 */
const mostSlots = 1200;

const tooLarge = (what: string, limit: string) =>
  problem(
    'network_too_large',
    '',
    what,
    limit,
    'Remove what is not part of the network, or split it.',
    'too-large',
  );

/**
 * Analyses a netlist once.
 *
 * @throws ProblemError the first of {@link checkNetlist}'s findings, `network_too_large`
 */
export function planNetwork(netlist: Netlist): NetworkPlan {
  if (netlist.elements.length > mostElements)
    throw tooLarge(
      `The network has ${netlist.elements.length.toLocaleString('en')} elements.`,
      `Up to ${mostElements} are solved.`,
    );
  const [first] = checkNetlist(netlist);
  if (first) throw new ProblemError(first);

  const { elements, couplings } = netlist;
  const nodeNames = [...new Set([ground, ...elements.flatMap((e) => [e.a, e.b])])];
  const nodeIndex = new Map(nodeNames.map((name, i) => [name, i]));
  const { rootOfNode, sourceSteps } = plantSourceTrees(elements, nodeIndex);

  // Raw unknowns: one per tree of nodes without ground, then one per coupled coil.
  const rawOfRoot = new Map<number, number>();
  const rawOfNode = nodeNames.map((_, node) => {
    const root = rootOfNode[node];
    if (root === rootOfNode[0]) return -1;
    if (!rawOfRoot.has(root)) rawOfRoot.set(root, rawOfRoot.size);
    return rawOfRoot.get(root)!;
  });
  const elementIndex = new Map(elements.map((e, i) => [e.name, i]));
  const coupled = new Set(couplings.flatMap((k) => [k.coilA, k.coilB]));
  let rawCount = rawOfRoot.size;
  const rawCurrent = elements.map((e) => (coupled.has(e.name) ? rawCount++ : -1));

  // Structure of the matrix before any elimination.
  const neighbours = Array.from({ length: rawCount }, () => new Set<number>());
  const hasDiagonal = new Array<boolean>(rawCount).fill(false);
  const touch = (i: number, j: number) => {
    if (i < 0 || j < 0 || i === j) return;
    neighbours[i].add(j);
    neighbours[j].add(i);
  };
  elements.forEach((element, e) => {
    if (element.kind === 'source') return;
    const [a, b] = [rawOfNode[nodeIndex.get(element.a)!], rawOfNode[nodeIndex.get(element.b)!]];
    if (a === b) return;
    if (rawCurrent[e] >= 0) {
      touch(a, rawCurrent[e]);
      touch(b, rawCurrent[e]);
      return;
    }
    touch(a, b);
    for (const i of [a, b]) if (i >= 0) hasDiagonal[i] = true;
  });
  for (const current of rawCurrent) if (current >= 0) hasDiagonal[current] = true;
  for (const { coilA, coilB } of couplings)
    touch(rawCurrent[elementIndex.get(coilA)!], rawCurrent[elementIndex.get(coilB)!]);

  // Unknowns beside a source come last: until then the right-hand side is 0 and need not be carried
  // along.
  const isDriven = new Array<boolean>(rawCount).fill(false);
  const reached = new Set(sourceSteps.map(({ node }) => node));
  elements.forEach((element, e) => {
    const [a, b] = [nodeIndex.get(element.a)!, nodeIndex.get(element.b)!];
    if (element.kind === 'source' || !(reached.has(a) || reached.has(b))) return;
    for (const i of rawCurrent[e] >= 0 ? [rawCurrent[e]] : [rawOfNode[a], rawOfNode[b]])
      if (i >= 0) isDriven[i] = true;
  });
  const { order, structure } = leastDegreeOrder(neighbours, hasDiagonal, isDriven);
  const placeOf = new Int32Array(rawCount);
  order.forEach((raw, place) => (placeOf[raw] = place));
  const program = layOutSlots(order, structure, placeOf);
  if (program.slotCount > mostSlots)
    throw tooLarge(
      `The network joins its nodes in ${program.slotCount.toLocaleString('en')} ways.`,
      `Up to ${mostSlots.toLocaleString('en')} are solved.`,
    );

  const place = (raw: number) => (raw < 0 ? -1 : placeOf[raw]);
  const unknownOfNode = Int32Array.from(rawOfNode, place);
  const { slotOf } = program;
  const branches = elements.flatMap((element, e): PlannedBranch[] => {
    if (element.kind === 'source') return [];
    const [a, b] = [nodeIndex.get(element.a)!, nodeIndex.get(element.b)!];
    const [unknownA, unknownB, current] = [
      unknownOfNode[a],
      unknownOfNode[b],
      place(rawCurrent[e]),
    ];
    const apart = unknownA !== unknownB;
    const slots =
      current >= 0
        ? {
            slotA: apart && unknownA >= 0 ? slotOf(unknownA, current) : -1,
            slotB: apart && unknownB >= 0 ? slotOf(unknownB, current) : -1,
            slotBetween: slotOf(current, current),
          }
        : {
            slotA: apart && unknownA >= 0 ? slotOf(unknownA, unknownA) : -1,
            slotB: apart && unknownB >= 0 ? slotOf(unknownB, unknownB) : -1,
            slotBetween: apart && unknownA >= 0 && unknownB >= 0 ? slotOf(unknownA, unknownB) : -1,
          };
    return [{ element: e, a, b, unknownA, unknownB, current, ...slots }];
  });
  const mutuals = couplings.map(({ coilA, coilB }, coupling) => {
    const [i, j] = [elementIndex.get(coilA)!, elementIndex.get(coilB)!];
    return {
      slot: slotOf(place(rawCurrent[i]), place(rawCurrent[j])),
      coilA: i,
      coilB: j,
      coupling,
    };
  });
  return {
    nodeNames,
    unknownOfNode,
    sourceSteps,
    branches,
    mutuals,
    isDriven: Uint8Array.from(order, (raw) => Number(isDriven[raw])),
    unknownCount: rawCount,
    slotCount: program.slotCount,
    diagonal: program.diagonal,
    rowStart: program.rowStart,
    rows: program.rows,
    rowSlots: program.rowSlots,
    updateStart: program.updateStart,
    updateTargets: program.updateTargets,
  };
}

/**
 * Walks the ideal sources from ground, then from any node left, so that each source reaches one new
 * node.
 */
function plantSourceTrees(elements: readonly Element[], nodeIndex: ReadonlyMap<string, number>) {
  const sources = elements.flatMap((e, element) =>
    e.kind === 'source' ? [{ element, a: nodeIndex.get(e.a)!, b: nodeIndex.get(e.b)! }] : [],
  );
  const rootOfNode = new Int32Array(nodeIndex.size).fill(-1);
  const sourceSteps: SourceStep[] = [];
  for (let root = 0; root < rootOfNode.length; root++) {
    if (rootOfNode[root] >= 0) continue;
    rootOfNode[root] = root;
    const queue = [root];
    for (const from of queue)
      for (const { element, a, b } of sources) {
        if (a !== from && b !== from) continue;
        const node = a === from ? b : a;
        if (rootOfNode[node] >= 0) continue;
        rootOfNode[node] = root;
        sourceSteps.push({ element, node, from, sign: node === a ? 1 : -1 });
        queue.push(node);
      }
  }
  return { rootOfNode, sourceSteps };
}

/**
 * Order of elimination by least degree, fill-in included, among unknowns that have something on the
 * diagonal, the late ones after all others. Ties go to the lower number, so the order is the same
 * on every run.
 */
function leastDegreeOrder(
  neighbours: Set<number>[],
  hasDiagonal: boolean[],
  isLate: readonly boolean[],
) {
  const left = new Set(neighbours.keys());
  const order: number[] = [];
  const structure: number[][] = [];
  while (left.size > 0) {
    let best = -1;
    const cost = (i: number) => neighbours[i].size + (isLate[i] ? neighbours.length : 0);
    for (const i of left) if (hasDiagonal[i] && (best < 0 || cost(i) < cost(best))) best = i;
    // Only a node with nothing but sources on it has no diagonal in the end; connection was checked
    // before.
    if (best < 0) throw new Error('leastDegreeOrder: an unknown is not tied to anything');
    left.delete(best);
    const touched = [...neighbours[best]];
    order.push(best);
    structure.push(touched);
    for (const i of touched) {
      neighbours[i].delete(best);
      hasDiagonal[i] = true;
      for (const j of touched) if (i !== j) neighbours[i].add(j);
    }
  }
  return { order, structure };
}

/**
 * Gives every entry of the lower triangle a slot and writes down which slots each step of
 * elimination changes.
 */
function layOutSlots(
  order: readonly number[],
  structure: readonly number[][],
  placeOf: Int32Array,
) {
  const n = order.length;
  const slots = new Map<number, number>();
  const slotOf = (i: number, j: number) => {
    const key = Math.max(i, j) * n + Math.min(i, j);
    const slot = slots.get(key) ?? slots.size;
    slots.set(key, slot);
    return slot;
  };
  const diagonal = Int32Array.from({ length: n }, (_, i) => slotOf(i, i));
  const rowStart = [0];
  const rows: number[] = [];
  const rowSlots: number[] = [];
  const updateStart = [0];
  const updateTargets: number[] = [];
  structure.forEach((touched, pivot) => {
    const below = touched.map((raw) => placeOf[raw]).sort((x, y) => x - y);
    below.forEach((row, r) => {
      rows.push(row);
      rowSlots.push(slotOf(row, pivot));
      for (const column of below.slice(0, r + 1)) updateTargets.push(slotOf(row, column));
      updateStart.push(updateTargets.length);
    });
    rowStart.push(rows.length);
  });
  return {
    slotOf,
    slotCount: slots.size,
    diagonal,
    rowStart: Int32Array.from(rowStart),
    rows: Int32Array.from(rows),
    rowSlots: Int32Array.from(rowSlots),
    updateStart: Int32Array.from(updateStart),
    updateTargets: Int32Array.from(updateTargets),
  };
}

import { problem, type Problem } from '@/core/problem';
import { elementKinds, elementLoss, elementValue, isPassive } from './immittance';
import { ground, type Coupling, type Element, type Netlist } from './netlist';

const place = (item: Element | Coupling) => item.where ?? item.name;

/**
 * Everything that keeps a netlist from being solved: values that no part can have, names used
 * twice, nodes without a path to ground, loops of ideal sources and coils. Empty when it can be
 * solved.
 */
export function checkNetlist(netlist: Netlist): Problem[] {
  return [
    ...checkNames(netlist),
    ...checkValues(netlist),
    ...checkCouplings(netlist),
    ...checkConnection(netlist.elements),
    ...checkIdealLoops(netlist.elements),
  ];
}

/**
 * Values that no part can have. Cheap enough for every solution of a topology that was checked
 * before.
 */
export function checkValues({ elements }: Netlist): Problem[] {
  return elements.flatMap(checkValue);
}

function checkNames({ elements, couplings }: Netlist): Problem[] {
  const seen = new Set<string>();
  const found: Problem[] = [];
  for (const item of [...elements, ...couplings]) {
    if (seen.has(item.name))
      found.push(
        problem(
          'name_used_twice',
          place(item),
          `The name ${item.name} is used twice.`,
          'Each branch needs a name of its own.',
          'Rename one of the two.',
        ).problem,
      );
    seen.add(item.name);
  }
  if (elements.length === 0)
    found.push(
      problem(
        'empty_network',
        '',
        'The network is empty.',
        'There is nothing to solve.',
        'Add a source and a load.',
      ).problem,
    );
  return found;
}

/** The value of a part with its unit, and the loss that may be 0. */
function checkValue(element: Element): Problem[] {
  const found: Problem[] = [];
  const positive = (value: number, unit: string) => {
    if (value > 0 && Number.isFinite(value)) return;
    const what = Number.isNaN(value)
      ? `The value of ${element.name} is not a number.`
      : `${element.name} is ${value} ${unit}.`;
    found.push(
      problem(
        'value_not_positive',
        place(element),
        what,
        'A passive part has a value above zero.',
        `Give a positive value, or remove ${element.name}.`,
      ).problem,
    );
  };
  const loss = (value: number) => {
    if (value >= 0 && Number.isFinite(value)) return;
    found.push(
      problem(
        'loss_negative',
        place(element),
        `The series resistance of ${element.name} is ${value} Ω.`,
        'A loss is zero or more.',
        'Give 0 or a positive resistance.',
      ).problem,
    );
  };
  if (isPassive(element)) {
    positive(elementValue(element), elementKinds[element.kind].unit);
    loss(elementLoss(element));
  }
  if (
    element.kind === 'source' &&
    !(Number.isFinite(element.voltsRe) && Number.isFinite(element.voltsIm))
  )
    found.push(
      problem(
        'source_not_a_number',
        place(element),
        `The voltage of ${element.name} is not a number.`,
        '',
        'Give its AC magnitude in volts.',
      ).problem,
    );
  if (element.a === element.b && element.kind === 'source')
    found.push(
      problem(
        'source_shorted',
        place(element),
        `Both ends of ${element.name} are at node ${element.a}.`,
        'A source across nothing has no solution.',
        'Connect it to two different nodes.',
      ).problem,
    );
  return found;
}

function checkCouplings({ elements, couplings }: Netlist): Problem[] {
  const coils = new Map(elements.flatMap((e) => (e.kind === 'coil' ? [[e.name, e] as const] : [])));
  const found: Problem[] = [];
  for (const coupling of couplings) {
    for (const coil of [coupling.coilA, coupling.coilB])
      if (!coils.has(coil))
        found.push(
          problem(
            'coupling_without_coil',
            place(coupling),
            `${coupling.name} couples ${coil}, which is not a coil of this network.`,
            '',
            'Name two coils that are there.',
          ).problem,
        );
    if (coupling.coilA === coupling.coilB)
      found.push(
        problem(
          'coupling_to_itself',
          place(coupling),
          `${coupling.name} couples ${coupling.coilA} to itself.`,
          '',
          'Name two different coils.',
        ).problem,
      );
    if (!(Math.abs(coupling.coefficient) <= 1) || coupling.coefficient === 0)
      found.push(
        problem(
          'coupling_out_of_range',
          place(coupling),
          `The coefficient of ${coupling.name} is ${coupling.coefficient}.`,
          'Two coils share at most all of their flux.',
          'Give a value between −1 and 1, not 0.',
        ).problem,
      );
  }
  if (found.length === 0 && !canCoexist(couplings))
    found.push(
      problem(
        'coupling_impossible',
        couplings.map((k) => k.name).join(', '),
        'These couplings can’t exist together.',
        'Their inductance matrix would give out energy.',
        'Reduce the coefficients between coils that share a third one.',
      ).problem,
    );
  return found;
}

/** Cholesky of the matrix of coefficients, allowing for perfectly coupled pairs. */
function canCoexist(couplings: readonly Coupling[]): boolean {
  const names = [...new Set(couplings.flatMap((k) => [k.coilA, k.coilB]))];
  const n = names.length;
  const m = names.map((_, i) => names.map((_, j) => Number(i === j)));
  for (const { coilA, coilB, coefficient } of couplings) {
    const [i, j] = [names.indexOf(coilA), names.indexOf(coilB)];
    m[i][j] = m[j][i] = coefficient;
  }
  for (let k = 0; k < n; k++) {
    if (m[k][k] < -1e-12) return false;
    for (let i = k + 1; i < n; i++) {
      if (m[k][k] <= 1e-12) {
        if (Math.abs(m[i][k]) > 1e-6) return false;
        continue;
      }
      const factor = m[i][k] / m[k][k];
      for (let j = k; j < n; j++) m[i][j] -= factor * m[k][j];
    }
  }
  return true;
}

/** Sets of things that belong together; union by name. */
function createUnion() {
  const parent = new Map<string, string>();
  const find = (node: string): string => {
    let root = node;
    for (let up = parent.get(root); up !== undefined && up !== root; up = parent.get(root))
      root = up;
    parent.set(node, root);
    return root;
  };
  return {
    find,
    /** False when both were together already. */
    join(a: string, b: string): boolean {
      const [rootA, rootB] = [find(a), find(b)];
      parent.set(rootA, rootB);
      return rootA !== rootB;
    },
  };
}

function checkConnection(elements: readonly Element[]): Problem[] {
  const union = createUnion();
  for (const { a, b } of elements) union.join(a, b);
  const islands = new Map<string, { nodes: Set<string>; first: Element }>();
  for (const element of elements)
    for (const node of [element.a, element.b]) {
      const root = union.find(node);
      if (root === union.find(ground)) continue;
      const island = islands.get(root) ?? { nodes: new Set(), first: element };
      island.nodes.add(node);
      islands.set(root, island);
    }
  return [...islands.values()].map(({ nodes, first }) => {
    const list = [...nodes];
    const named =
      list.length === 1 ? `Node ${list[0]} floats` : `Nodes ${list.slice(0, 6).join(', ')} float`;
    return problem(
      'floating_node',
      place(first),
      `${named}: no path leads to ground.`,
      `${first.name} hangs there, and its voltage against node 0 is not determined.`,
      'Connect one of these nodes to the rest of the network or to node 0.',
    ).problem;
  });
}

/**
 * A loop of nothing but ideal sources and loss-free coils has no limit to its current at DC (and a
 * loop of sources alone none at any frequency). Loops of coils alone are harmless in an AC solution
 * and are let through.
 */
function checkIdealLoops(elements: readonly Element[]): Problem[] {
  const ideal = elements.filter((e) => e.kind === 'coil' && e.seriesOhms === 0);
  const union = createUnion();
  for (const { a, b } of ideal) union.join(a, b);
  const found: Problem[] = [];
  for (const source of elements) {
    if (source.kind !== 'source' || source.a === source.b) continue;
    if (!union.join(source.a, source.b)) {
      const loop = [...pathBetween(ideal, source.a, source.b), source];
      found.push(
        problem(
          'ideal_loop',
          loop.map(place).join(', '),
          `${loop.map(({ name }) => name).join(', ')} form a loop of ideal sources and coils.`,
          'Nothing in it limits the current.',
          'Give the amplifier an output resistance, or the coils their series resistance.',
        ).problem,
      );
    }
    ideal.push(source);
  }
  return found;
}

/** Elements of a shortest path from one node to another; breadth first. */
function pathBetween(elements: readonly Element[], from: string, to: string): Element[] {
  const cameBy = new Map<string, { from: string; by: Element } | null>([[from, null]]);
  const queue = [from];
  for (const node of queue) {
    for (const element of elements) {
      if (element.a !== node && element.b !== node) continue;
      const next = element.a === node ? element.b : element.a;
      if (cameBy.has(next)) continue;
      cameBy.set(next, { from: node, by: element });
      queue.push(next);
    }
  }
  const path: Element[] = [];
  for (let step = cameBy.get(to); step; step = cameBy.get(step.from)) path.unshift(step.by);
  return path;
}

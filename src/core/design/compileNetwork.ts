import type { Coupling, Element, Netlist } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';
import { partsIn, positionsOf, without, type Branch } from './positions';
import type { Design, Part, Way } from './schema';

/** A design's rails as a circuit. Driver one-ports and their probes stand in the order of `ways`. */
export interface CompiledNetwork {
  readonly netlist: Netlist;
  readonly ways: readonly { readonly way: Way; readonly onePort: string }[];
  /** One voltage per way, then the amplifier's terminal voltage, then its current. */
  readonly probes: readonly Probe[];
}

const terminal = 'terminal';
const source = 'amplifier';

/**
 * Compiles the rails to a netlist: each starts at the amplifier's terminals and ends in its driver.
 *
 * @param design the document
 * @param usable ways to include: those whose driver has an impedance
 * @param bypassedPartId a part to leave out: a series part becomes a wire, a shunt part is taken away
 */
export function compileNetwork(
  design: Design,
  usable: readonly Way[],
  bypassedPartId: string | null,
): CompiledNetwork {
  const { volts, outputOhms } = design.amplifier;
  const elements: Element[] = [
    {
      kind: 'source',
      name: source,
      a: outputOhms > 0 ? 'emf' : terminal,
      b: '0',
      voltsRe: volts,
      voltsIm: 0,
    },
  ];
  if (outputOhms > 0)
    elements.push({
      kind: 'resistor',
      name: 'amplifier output',
      a: 'emf',
      b: terminal,
      ohms: outputOhms,
    });
  const ways = usable.map((way) => {
    let node = terminal;
    for (const { place, branch } of positionsOf(way)) {
      const left = without(branch, ({ id, isOff }) => isOff || id === bypassedPartId);
      if (!left) continue;
      const next = place === 'series' ? `after ${partsIn(left)[0].id}` : '0';
      addBranch(elements, left, node, next);
      node = place === 'series' ? next : node;
    }
    const onePort = `driver of ${way.id}`;
    elements.push({ kind: 'oneport', name: onePort, a: node, b: '0', where: way.name });
    return { way, onePort, node };
  });
  return {
    netlist: { elements, couplings: couplingsOf(design, elements) },
    ways,
    probes: [
      ...ways.map(({ node }): Probe => ({ kind: 'voltage', plus: node, minus: '0' })),
      { kind: 'voltage', plus: terminal, minus: '0' },
      { kind: 'current', source },
    ],
  };
}

/** Couplings between coils that are in the circuit, by the names of these. */
function couplingsOf({ couplings, ways }: Design, elements: readonly Element[]): Coupling[] {
  const names = new Map(ways.flatMap(({ parts }) => parts.map(({ id, name }) => [id, name])));
  const present = new Set(elements.map(({ name }) => name));
  return couplings.flatMap(({ partA, partB, coefficient }, i) => {
    const [coilA, coilB] = [names.get(partA)!, names.get(partB)!];
    return present.has(coilA) && present.has(coilB)
      ? [{ name: `coupling ${i + 1}`, coilA, coilB, coefficient }]
      : [];
  });
}

/** Elements of a branch between two nodes; members of a series group have nodes of their own between them. */
function addBranch(elements: Element[], branch: Branch, a: string, b: string): void {
  if (branch.kind === 'part') {
    elements.push(partElement(branch.part, a, b));
    return;
  }
  const { group, members } = branch;
  members.forEach((member, i) => {
    if (group.join === 'parallel') addBranch(elements, member, a, b);
    else
      addBranch(
        elements,
        member,
        i === 0 ? a : `${group.id} ${i}`,
        i === members.length - 1 ? b : `${group.id} ${i + 1}`,
      );
  });
}

function partElement(part: Part, a: string, b: string): Element {
  const branch = { name: part.name, a, b };
  switch (part.kind) {
    case 'resistor':
      return { ...branch, kind: part.kind, ohms: part.ohms };
    case 'coil':
      return { ...branch, kind: part.kind, henries: part.henries, seriesOhms: part.seriesOhms };
    case 'capacitor':
      return { ...branch, kind: part.kind, farads: part.farads, seriesOhms: part.seriesOhms };
  }
}

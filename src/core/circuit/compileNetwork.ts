import type { PartId } from '@/core/fields';
import { partKinds, partLoss, partValue } from '@/core/document/partKinds';
import { makeElement } from '@/core/network/immittance';
import type { Coupling, Element, Netlist } from '@/core/network/netlist';
import type { Probe } from '@/core/network/outputs';
import type { Branch } from '@/core/document/positions';
import {
  partsOf,
  type Design,
  type NodeRef,
  type Part,
  type TerminalPair,
  type Way,
} from '@/core/document/schema';
import { wire } from './wiring';

/** A design's network as a circuit. */
export interface CompiledNetwork {
  readonly netlist: Netlist;
  /** Names of the drivers' one-ports, way by way in the order of what was given, end by end. */
  readonly onePorts: readonly string[];
  /** Amplifiers, each driving a pair of terminals, or all of them when they are joined. */
  readonly amplifiers: readonly TerminalPair[];
  /**
   * One voltage per driver; then for each amplifier the voltage at its terminals and its current.
   */
  readonly probes: readonly Probe[];
}

/**
 * Compiles rails, bridges and amplifiers to a netlist.
 *
 * @param design the document
 * @param usable the ways with drivers that take part, from `usableWays`
 * @param bypassedPartId a part to leave out: a series part becomes a wire, any other is taken away
 */
export function compileNetwork(
  design: Design,
  usable: readonly { readonly way: Way }[],
  bypassedPartId: PartId | null,
): CompiledNetwork {
  const wiring = wire(
    design,
    new Set(usable.map(({ way }) => way.id)),
    ({ id, isOff }) => isOff || id === bypassedPartId,
  );
  const elements: Element[] = [];
  const amplifiers = amplifiersOf(design, new Set(wiring.ways.map(({ way }) => way.id)));
  const ampProbes = amplifiers.flatMap((pair, k) => {
    const name = amplifiers.length === 1 ? 'amplifier' : `amplifier ${k + 1}`;
    return addAmplifier(elements, name, design, pair, wiring.nodeOf);
  });
  for (const { positions } of wiring.ways)
    for (const { branch, a, b } of positions) addBranch(elements, branch, a, b);
  for (const { part, a, b } of wiring.bridges)
    elements.push(partElement(part, wiring.nodeOf(a), wiring.nodeOf(b)));
  const drivers = usable.flatMap(({ way }) => {
    const { end, back } = wiring.ways.find((one) => one.way.id === way.id)!;
    return way.ends.map((_, e) => {
      const name = `driver ${e + 1} of ${way.id}`;
      const [plus, minus] = endNodes(way, e, end, back);
      elements.push({ kind: 'oneport', name, a: plus, b: minus, where: way.name });
      return { name, probe: { kind: 'voltage', plus, minus } as const };
    });
  });
  return {
    netlist: { elements, couplings: couplingsOf(design, elements) },
    onePorts: drivers.map(({ name }) => name),
    amplifiers,
    probes: [...drivers.map(({ probe }): Probe => probe), ...ampProbes],
  };
}

/** Pairs that an amplifier of their own drives, and that something hangs on. */
function amplifiersOf(design: Design, present: ReadonlySet<string>): TerminalPair[] {
  if (design.isJoined) return [design.terminals[0]];
  return design.terminals.filter(({ id }) => {
    const isHere = (node: NodeRef) => node.kind === 'terminals' && node.pairId === id;
    return (
      design.ways.some((way) => present.has(way.id) && isHere(way.from)) ||
      design.bridges.some(({ a, b }) => isHere(a) || isHere(b))
    );
  });
}

/** An ideal source behind the resistance of amplifier and cable. Gives the probes of its load. */
function addAmplifier(
  elements: Element[],
  name: string,
  { amplifier }: Design,
  { id, gainDb, polarity, outputOhms = amplifier.outputOhms }: TerminalPair,
  nodeOf: (node: NodeRef) => string,
): Probe[] {
  const terminal = nodeOf({ kind: 'terminals', pairId: id });
  const ohms = outputOhms + amplifier.cableOhms;
  const emf = ohms > 0 ? `emf of ${id}` : terminal;
  const sign = polarity === 'reversed' ? -1 : 1;
  elements.push({
    kind: 'source',
    name,
    a: emf,
    b: '0',
    voltsRe: sign * amplifier.volts * 10 ** (gainDb / 20),
    voltsIm: 0,
  });
  if (ohms > 0)
    elements.push({ kind: 'resistor', name: `output of ${name}`, a: emf, b: terminal, ohms });
  return [
    { kind: 'voltage', plus: terminal, minus: '0' },
    { kind: 'current', source: name },
  ];
}

/** Nodes of one of a way's drivers, the one nearer to the rail first. */
function endNodes({ id, ends, endsJoin }: Way, e: number, end: string, back: string) {
  if (endsJoin === 'parallel') return [end, back];
  const between = (k: number) => `between drivers ${k} and ${k + 1} of ${id}`;
  return [e === 0 ? end : between(e), e === ends.length - 1 ? back : between(e + 1)];
}

/** Couplings between coils that are in the circuit, by the names of these. */
function couplingsOf(design: Design, elements: readonly Element[]): Coupling[] {
  if (design.couplings.length === 0) return [];
  const names = new Map(partsOf(design).map(({ id, name }) => [id, name]));
  const present = new Set(elements.map(({ name }) => name));
  return design.couplings.flatMap(({ partA, partB, coefficient }, i) => {
    const [coilA, coilB] = [names.get(partA)!, names.get(partB)!];
    return present.has(coilA) && present.has(coilB)
      ? [{ name: `coupling ${i + 1}`, coilA, coilB, coefficient }]
      : [];
  });
}

/**
 * Elements of a branch between two nodes; members of a series group have nodes of their own between
 * them.
 */
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

const partElement = (part: Part, a: string, b: string): Element =>
  makeElement(
    { name: part.name, a, b },
    partKinds[part.kind].element,
    partValue(part),
    partLoss(part),
  );

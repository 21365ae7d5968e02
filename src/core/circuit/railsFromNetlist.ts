import { checkNetlist } from '@/core/network/check';
import { ground, type Element, type Netlist, type Source } from '@/core/network/netlist';
import { problem, ProblemError } from '@/core/problem';
import { createMaker, type Rail } from './netlistParts';
import { reduced, ifReversed, leavesOf, type Edge, type PartElement } from './netlistEdges';
import {
  designSchema,
  firstPair,
  type Bridge,
  type Design,
  type NodeRef,
  type TerminalPair,
} from '@/core/document/schema';

/** A design with the network of a netlist, and what of it could not be taken over. */
export interface LaidOutNetlist {
  readonly design: Design;
  readonly warnings: readonly string[];
}

/** More than this is no loudspeaker's network. */
const mostElements = 300;

/** Resistance of amplifier and cable, by the name that `compileNetwork` gives it. */
const isOutput = ({ kind, name }: Element) => kind === 'resistor' && name.includes('output');
/** Series resistance of a part, by the name that `writeSpice` gives it. */
const isLoss = ({ kind, name }: Element) => kind === 'resistor' && name.startsWith('r_loss_of');

/**
 * Lays a netlist out on rails: each driver gets a rail along the shortest way from what is laid already; what hangs from a
 * rail to its return is in shunt; what is left becomes open rails and bridges. The circuit stays the same.
 *
 * @param drivers which driver of the design is in the place of an element, by the element's name
 * @param design gets the network; its own is replaced
 * @param newId gives ids that nothing in the design has
 * @throws ProblemError for a netlist that can't be solved, a source that is not grounded, no amplifier or no driver, a driver
 *   between two rails, a value that no part has
 */
export function railsFromNetlist(
  netlist: Netlist,
  drivers: ReadonlyMap<string, string>,
  design: Design,
  newId: () => string,
): LaidOutNetlist {
  if (netlist.elements.length > mostElements)
    throw problem(
      'netlist_too_long',
      design.name,
      `This netlist has ${netlist.elements.length} elements.`,
      `Up to ${mostElements} are laid out.`,
      'Take out what does not belong to the network.',
    );
  const [bad] = checkNetlist(netlist);
  if (bad) throw new ProblemError(bad);
  const { elements, losses } = withoutLosses(netlist.elements);
  const sources = elements.filter((one): one is Source => one.kind === 'source');
  const loads = elements.filter(({ name }) => drivers.has(name));
  if (sources.length === 0 || loads.length === 0)
    throw problem(
      'netlist_without_ends',
      design.name,
      sources.length === 0
        ? 'No amplifier is in this netlist.'
        : 'No element is taken for a driver.',
      'Rails go from an amplifier to drivers.',
      sources.length === 0 ? 'Add a voltage source.' : 'Say which element represents which driver.',
    );
  const amps = amplifiers(sources, elements, design);
  const warnings: string[] = [];
  const keep = new Set([ground, ...amps.pairs.map(({ node }) => node)]);
  for (const { a, b } of loads) keep.add(a).add(b);
  const partElements = elements.filter(
    (one): one is PartElement =>
      one.kind !== 'source' &&
      one.kind !== 'oneport' &&
      !drivers.has(one.name) &&
      !amps.outputs.has(one),
  );
  let edges = reduced(partElements, keep);
  for (const loop of edges.filter(({ a, b }) => a === b))
    for (const { element } of leavesOf(loop))
      warnings.push(`${element.name} has both ends at one place and was ignored.`);
  edges = edges.filter(({ a, b }) => a !== b);

  const rails: Rail[] = [];
  const bridges: { readonly edge: Edge; readonly a: NodeRef; readonly b: NodeRef }[] = [];
  const ids = new Map(partElements.map((element) => [element.name, newId()]));
  const idOf = (edge: Edge) => ids.get(leavesOf(edge)[0].element.name)!;
  /** Where the nodes that are laid already can be named. */
  const places = new Map<string, NodeRef>(
    amps.pairs.map(({ node, pair }) => [node, { kind: 'terminals', pairId: pair.id }]),
  );

  const startRail = (name: string, startNode: string): Rail => {
    const from = places.get(startNode)!;
    const rail = { id: newId(), name, from, startNode, back: ground, ends: [], items: [] };
    rails.push(rail);
    return rail;
  };
  /** Takes an edge, seen from either end, from those that are left. */
  const take = (edge: Edge): void => {
    const [{ element }] = leavesOf(edge);
    edges = edges.filter((one) => !leavesOf(one).some((leaf) => leaf.element === element));
  };
  /** Lays an edge along a rail; members in series follow each other. */
  const layAlong = (rail: Rail, edge: Edge): void => {
    take(edge);
    for (const one of edge.kind === 'join' && edge.join === 'series' ? edge.members : [edge]) {
      rail.items.push({ edge: one, place: 'series', node: one.b });
      if (!places.has(one.b)) places.set(one.b, { kind: 'after', partId: idOf(one) });
    }
  };
  const hangOn = (rail: Rail, node: string, edge: Edge): void => {
    const own = edge.a === node ? edge : ifReversed(edge);
    const behind = rail.items.findLastIndex((item) => item.node === node) + 1;
    const beside = own.kind === 'join' && own.join === 'parallel' ? own.members : [own];
    rail.items.splice(
      behind,
      0,
      ...beside.map((one) => ({ edge: one, place: 'shunt' as const, node })),
    );
  };

  for (const rest = new Set(loads); rest.size > 0;) {
    const routes = routesFrom(new Set(places.keys()), edges);
    const reach = [...rest].flatMap((load) =>
      [
        { load, hot: load.a, cold: load.b, isTurned: false },
        { load, hot: load.b, cold: load.a, isTurned: true },
      ].filter(({ hot }) => hot !== ground && routes.has(hot)),
    );
    if (reach.length === 0) {
      for (const { name } of rest) warnings.push(`${name} is not reached by any amplifier.`);
      break;
    }
    const { load, hot, cold, isTurned } = reach.reduce((best, one) =>
      routes.get(one.hot)!.length < routes.get(best.hot)!.length ? one : best,
    );
    rest.delete(load);
    const end = {
      driverId: drivers.get(load.name)!,
      polarity: isTurned ? ('reversed' as const) : ('normal' as const),
    };
    const beside = rails.find(
      ({ items, startNode, back }) => back === cold && (items.at(-1)?.node ?? startNode) === hot,
    );
    if (beside && cold !== ground) {
      beside.ends = [...beside.ends, end];
      continue;
    }
    if (cold !== ground && places.has(cold))
      throw problem(
        'netlist_driver_between_rails',
        load.name,
        `${load.name} lies between two rails.`,
        'A driver hangs from a rail to ground, or is upon the rail below it.',
        'Connect one of its ends to ground, or take it for a part.',
      );
    const route = routes.get(hot)!;
    const driver = design.drivers.find(({ id }) => id === end.driverId);
    const rail = startRail(driver?.name ?? load.name, route[0]?.a ?? hot);
    route.forEach((edge) => layAlong(rail, edge));
    rail.ends = [end];
    rail.back = cold;
    if (cold !== ground) places.set(cold, { kind: 'return', wayId: rail.id });
  }

  const isOn = (rail: Rail, node: string) =>
    rail.startNode === node || rail.items.some((item) => item.node === node);
  const isLaid = (node: string) => node === ground || places.has(node);
  for (;;) {
    const edge = edges.find(({ a, b }) => isLaid(a) && isLaid(b));
    if (edge) {
      const ways = [edge, ifReversed(edge)];
      const hanging = ways.flatMap((one) =>
        rails.flatMap((rail) => (rail.back === one.b && isOn(rail, one.a) ? [{ rail, one }] : [])),
      );
      take(edge);
      const [found] = hanging;
      if (found) hangOn(found.rail, found.one.a, found.one);
      else if (ways.some(({ b }) => b === ground)) {
        const one = edge.b === ground ? edge : ifReversed(edge);
        hangOn(startRail(`Branch ${rails.length + 1}`, one.a), one.a, one);
      } else bridgeOver(edge);
      continue;
    }
    const next = edges
      .flatMap((one) => [one, ifReversed(one)])
      .find(({ a, b }) => places.has(a) && !isLaid(b));
    if (!next) break;
    layAlong(startRail(`Branch ${rails.length + 1}`, next.a), next);
  }
  for (const edge of edges)
    for (const { element } of leavesOf(edge))
      warnings.push(`${element.name} is not reached by any amplifier.`);

  /** Single parts lie between their places; of several in series all but the last start from a rail of their own. */
  function bridgeOver(edge: Edge): void {
    if (edge.kind === 'leaf')
      bridges.push({ edge, a: places.get(edge.a)!, b: places.get(edge.b)! });
    else if (edge.join === 'parallel') edge.members.forEach(bridgeOver);
    else {
      const rail = startRail(`Branch ${rails.length + 1}`, edge.a);
      edge.members.slice(0, -1).forEach((member) => layAlong(rail, member));
      bridgeOver(edge.members[edge.members.length - 1]);
    }
  }

  // A return that nothing starts from would count as ground.
  for (const { id, name, back } of rails.slice())
    if (back !== ground && !rails.some(({ from }) => from.kind === 'return' && from.wayId === id))
      startRail(`Under ${name}`, back);

  const maker = createMaker(ids, losses);
  const orderOf = ({ ends }: Rail) =>
    ends.length > 0 ? [...drivers.values()].indexOf(ends[0].driverId) : Infinity;
  const ways = rails
    .sort((one, other) => (orderOf(one) === orderOf(other) ? 0 : orderOf(one) - orderOf(other)))
    .map((rail) => maker.way(rail, newId));
  const made: Bridge[] = bridges.map(({ edge, a, b }) => ({
    part: maker.part(leavesOf(edge)[0], 'series', null),
    ...{ a, b },
  }));
  return {
    design: checked({
      ...design,
      amplifier: amps.amplifier,
      terminals: amps.pairs.map(({ pair }) => pair),
      isJoined: false,
      ...{ ways, bridges: made, switches: [] },
      couplings: netlist.couplings.flatMap(({ coilA, coilB, coefficient }) => {
        const [partA, partB] = [ids.get(coilA), ids.get(coilB)];
        const sign = maker.turned.has(coilA) === maker.turned.has(coilB) ? 1 : -1;
        return partA && partB ? [{ partA, partB, coefficient: sign * coefficient }] : [];
      }),
    }),
    warnings,
  };
}

/** Elements without resistors that are only the loss of a coil or capacitor, and these losses by its name. */
function withoutLosses(elements: readonly Element[]) {
  const losses = new Map<string, number>();
  const gone = new Set<Element>();
  const joined = new Map<Element, Element>();
  for (const loss of elements) {
    if (loss.kind !== 'resistor' || !isLoss(loss)) continue;
    for (const between of [loss.a, loss.b]) {
      const there = elements.filter(
        (one) => one !== loss && (one.a === between || one.b === between),
      );
      const [owner] = there;
      if (there.length !== 1 || (owner.kind !== 'coil' && owner.kind !== 'capacitor')) continue;
      const far = loss.a === between ? loss.b : loss.a;
      losses.set(owner.name, loss.ohms + owner.seriesOhms);
      joined.set(owner, owner.a === between ? { ...owner, a: far } : { ...owner, b: far });
      gone.add(loss);
      break;
    }
  }
  return {
    losses,
    elements: elements.filter((one) => !gone.has(one)).map((one) => joined.get(one) ?? one),
  };
}

/** Pairs of terminals with their nodes, and what all amplifiers share. */
function amplifiers(sources: readonly Source[], elements: readonly Element[], design: Design) {
  const [{ voltsRe, voltsIm }] = sources;
  const size = Math.hypot(voltsRe, voltsIm);
  const volts = size > 0 ? size : design.amplifier.volts;
  const behind = sources.map((source) => {
    if (source.b !== ground && source.a !== ground)
      throw problem(
        'netlist_source_not_grounded',
        source.where ?? source.name,
        `The source ${source.name} is not connected to ground.`,
        'Each amplifier drives a pair of terminals against ground.',
        'Connect one of its ends to node 0.',
      );
    const hot = source.b === ground ? source.a : source.b;
    const there = elements.filter((one) => one !== source && (one.a === hot || one.b === hot));
    const [output] = there;
    const isFolded = there.length === 1 && output.kind === 'resistor' && isOutput(output);
    return { source, hot, output: isFolded ? output : null };
  });
  const outputOhms = behind[0].output?.ohms ?? 0;
  // Amplifiers are of one kind: output resistances that differ stay parts.
  const isOneKind = behind.every(({ output }) => (output?.ohms ?? 0) === outputOhms);
  const pairs = behind.map(({ source, hot, output }, i): { pair: TerminalPair; node: string } => {
    const isTurned = (source.b === ground) === source.voltsRe < 0;
    const gain = Math.hypot(source.voltsRe, source.voltsIm) / volts;
    return {
      pair: {
        id: i === 0 ? firstPair.id : `pair-${i + 1}`,
        name: i === 0 ? firstPair.name : `Pair ${i + 1}`,
        gainDb: gain > 0 ? Number((20 * Math.log10(gain)).toFixed(9)) : 0,
        polarity: isTurned ? 'reversed' : 'normal',
      },
      node: isOneKind && output ? (output.a === hot ? output.b : output.a) : hot,
    };
  });
  return {
    pairs,
    outputs: new Set<Element>(isOneKind ? behind.flatMap(({ output }) => output ?? []) : []),
    amplifier: { volts, outputOhms: isOneKind ? outputOhms : 0, cableOhms: 0 },
  };
}

/** Shortest route of edges to every node that can be reached from some, not through ground; breadth first. */
function routesFrom(starts: ReadonlySet<string>, edges: readonly Edge[]): Map<string, Edge[]> {
  const routes = new Map<string, Edge[]>([...starts].map((node) => [node, []]));
  for (const node of routes.keys())
    for (const edge of edges) {
      if (edge.a !== node && edge.b !== node) continue;
      const along = edge.a === node ? edge : ifReversed(edge);
      if (along.b === ground || routes.has(along.b)) continue;
      routes.set(along.b, [...routes.get(node)!, along]);
    }
  return routes;
}

/** The document, or the first thing that the schema finds. */
function checked(design: Design): Design {
  const { data, error } = designSchema.safeParse(design);
  if (data) return data;
  const [issue] = error.issues;
  throw problem(
    'netlist_not_a_design',
    issue.path.join('.'),
    `The netlist makes no design: ${issue.message}`,
    'A value or a number of parts is beyond what a network has.',
    'Correct it in the netlist.',
  );
}

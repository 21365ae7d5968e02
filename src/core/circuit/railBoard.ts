import { ground, type Element } from '@/core/network/netlist';
import { problem } from '@/core/problem';
import type { Design, NodeRef, TerminalPair } from '@/core/document/schema';
import { flipped, leavesOf, type Edge } from './netlistEdges';
import type { Rail } from './netlistParts';

/** An edge between two places, of no rail. */
interface LaidBridge {
  readonly edge: Edge;
  readonly a: NodeRef;
  readonly b: NodeRef;
}

/** Rails while they are laid: what is laid, and what is left of the netlist. */
interface RailBoard {
  readonly rails: readonly Rail[];
  readonly bridges: readonly LaidBridge[];
  /** Where the nodes that are laid already can be named. */
  readonly places: ReadonlyMap<string, NodeRef>;
  /** Edges that are not laid yet. */
  rest(): readonly Edge[];
  startRail(name: string, startNode: string): Rail;
  /** A rail without a driver. */
  startBranch(startNode: string): Rail;
  /** Lays an edge along a rail; members in series follow each other. */
  layAlong(rail: Rail, edge: Edge): void;
  /** Hangs an edge from a node of a rail to its return. */
  hangOn(rail: Rail, node: string, edge: Edge): void;
  /**
   * Single parts lie between their places; of several in series all but the last start a branch of
   * their own.
   */
  bridgeOver(edge: Edge): void;
  /** Drivers at the end of a rail, and the node of its return. */
  endRail(rail: Rail, end: Rail['ends'][number], back: string): void;
}

/** @param ids of the parts, by the names of their elements */
export function createBoard(
  edges: readonly Edge[],
  pairs: readonly { readonly pair: TerminalPair; readonly node: string }[],
  ids: ReadonlyMap<string, string>,
  newId: () => string,
): RailBoard {
  let left = edges;
  const rails: Rail[] = [];
  const bridges: LaidBridge[] = [];
  const places = new Map<string, NodeRef>(
    pairs.map(({ node, pair }) => [node, { kind: 'terminals', pairId: pair.id }]),
  );
  const idOf = (edge: Edge) => ids.get(leavesOf(edge)[0].element.name)!;
  /** Takes an edge, seen from either end, from those that are left. */
  const take = (edge: Edge): void => {
    const [{ element }] = leavesOf(edge);
    left = left.filter((one) => !leavesOf(one).some((leaf) => leaf.element === element));
  };
  const board: RailBoard = {
    ...{ rails, bridges, places },
    rest: () => left,
    startRail(name, startNode) {
      const from = places.get(startNode)!;
      const rail = { id: newId(), name, from, startNode, back: ground, ends: [], items: [] };
      rails.push(rail);
      return rail;
    },
    startBranch: (startNode) => board.startRail(`Branch ${rails.length + 1}`, startNode),
    layAlong(rail, edge) {
      take(edge);
      for (const one of edge.kind === 'join' && edge.join === 'series' ? edge.members : [edge]) {
        rail.items.push({ edge: one, place: 'series', node: one.b });
        if (!places.has(one.b)) places.set(one.b, { kind: 'after', partId: idOf(one) });
      }
    },
    hangOn(rail, node, edge) {
      take(edge);
      const own = edge.a === node ? edge : flipped(edge);
      const behind = rail.items.findLastIndex((item) => item.node === node) + 1;
      const beside = own.kind === 'join' && own.join === 'parallel' ? own.members : [own];
      rail.items.splice(
        behind,
        0,
        ...beside.map((one) => ({ edge: one, place: 'shunt' as const, node })),
      );
    },
    bridgeOver(edge) {
      take(edge);
      if (edge.kind === 'leaf')
        bridges.push({ edge, a: places.get(edge.a)!, b: places.get(edge.b)! });
      else if (edge.join === 'parallel') edge.members.forEach((member) => board.bridgeOver(member));
      else {
        const rail = board.startBranch(edge.a);
        edge.members.slice(0, -1).forEach((member) => board.layAlong(rail, member));
        board.bridgeOver(edge.members[edge.members.length - 1]);
      }
    },
    endRail(rail, end, back) {
      rail.ends = [...rail.ends, end];
      rail.back = back;
      if (back !== ground && !places.has(back))
        places.set(back, { kind: 'return', wayId: rail.id });
    },
  };
  return board;
}

/**
 * First phase: each driver gets a rail along the shortest route from what is laid already, or is
 * put beside a driver that hangs between the same two nodes.
 *
 * @returns loads that no amplifier reaches
 * @throws ProblemError for a driver between two rails
 */
export function layDrivers(
  board: RailBoard,
  loads: readonly Element[],
  drivers: ReadonlyMap<string, string>,
  design: Design,
): readonly Element[] {
  const { rails, places } = board;
  for (const rest = new Set(loads); rest.size > 0;) {
    const found = nearestLoad(rest, board);
    if (!found) return [...rest];
    const { load, hot, cold, isTurned, route } = found;
    rest.delete(load);
    const driverId = drivers.get(load.name)!;
    const end = { driverId, polarity: isTurned ? ('reversed' as const) : ('normal' as const) };
    const beside = rails.find(
      ({ items, startNode, back }) => back === cold && (items.at(-1)?.node ?? startNode) === hot,
    );
    if (beside && cold !== ground) {
      board.endRail(beside, end, cold);
      continue;
    }
    if (cold !== ground && places.has(cold))
      throw problem(
        'netlist_driver_between_rails',
        load.name,
        `${load.name} lies between two rails.`,
        'A driver hangs from a rail to ground, or is in series with the rail below it.',
        'Connect one of its ends to ground, or take it for a part.',
      );
    const name = design.drivers.find(({ id }) => id === driverId)?.name ?? load.name;
    const rail = board.startRail(name, route[0]?.a ?? hot);
    route.forEach((edge) => board.layAlong(rail, edge));
    board.endRail(rail, end, cold);
  }
  return [];
}

/** The load with the shortest route from what is laid, and which of its ends the route leads to. */
function nearestLoad(loads: ReadonlySet<Element>, board: RailBoard) {
  const routes = routesFrom(board.places.keys(), board.rest());
  return [...loads]
    .flatMap((load) => [
      { load, hot: load.a, cold: load.b, isTurned: false },
      { load, hot: load.b, cold: load.a, isTurned: true },
    ])
    .flatMap((end) => {
      const route = end.hot === ground ? undefined : routes.get(end.hot);
      return route ? [{ ...end, route }] : [];
    })
    .reduce<{
      readonly load: Element;
      readonly hot: string;
      readonly cold: string;
      readonly isTurned: boolean;
      readonly route: readonly Edge[];
    } | null>((best, one) => (best && best.route.length <= one.route.length ? best : one), null);
}

/**
 * Shortest route of edges to every node that can be reached from some, not through ground; breadth
 * first.
 */
function routesFrom(starts: Iterable<string>, edges: readonly Edge[]): Map<string, Edge[]> {
  const routes = new Map<string, Edge[]>([...starts].map((node) => [node, []]));
  for (const node of routes.keys())
    for (const edge of edges) {
      if (edge.a !== node && edge.b !== node) continue;
      const along = edge.a === node ? edge : flipped(edge);
      if (along.b === ground || routes.has(along.b)) continue;
      routes.set(along.b, [...routes.get(node)!, along]);
    }
  return routes;
}

/**
 * Second phase: what is left between laid nodes hangs from a rail to its return, is a branch of its
 * own to ground, or bridges two places; what leads on from a laid node starts a branch.
 *
 * @returns edges that no amplifier reaches
 */
export function layRest(board: RailBoard): readonly Edge[] {
  const { rails, places } = board;
  const isOn = (rail: Rail, node: string) =>
    rail.startNode === node || rail.items.some((item) => item.node === node);
  const isLaid = (node: string) => node === ground || places.has(node);
  for (;;) {
    const edge = board.rest().find(({ a, b }) => isLaid(a) && isLaid(b));
    if (edge) {
      const ways = [edge, flipped(edge)];
      const hanging = ways.flatMap((one) =>
        rails.flatMap((rail) => (rail.back === one.b && isOn(rail, one.a) ? [{ rail, one }] : [])),
      );
      const [found] = hanging;
      const grounded = ways.find(({ b }) => b === ground);
      if (found) board.hangOn(found.rail, found.one.a, found.one);
      else if (grounded) board.hangOn(board.startBranch(grounded.a), grounded.a, grounded);
      else board.bridgeOver(edge);
      continue;
    }
    const next = board
      .rest()
      .flatMap((one) => [one, flipped(one)])
      .find(({ a, b }) => places.has(a) && !isLaid(b));
    if (!next) return board.rest();
    board.layAlong(board.startBranch(next.a), next);
  }
}

/** Last phase: a return that nothing starts from would count as ground, so it gets a rail. */
export function openReturns(board: RailBoard): void {
  const { rails } = board;
  for (const { id, name, back } of rails.slice())
    if (back !== ground && !rails.some(({ from }) => from.kind === 'return' && from.wayId === id))
      board.startRail(`Under ${name}`, back);
}

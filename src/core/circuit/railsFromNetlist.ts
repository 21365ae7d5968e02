import { checkNetlist } from '@/core/network/check';
import { ground, type Element, type Netlist, type Source } from '@/core/network/netlist';
import { problem, ProblemError } from '@/core/problem';
import { createMaker, type Rail } from './netlistParts';
import { leavesOf, reduced, type PartElement } from './netlistEdges';
import { createBoard, layDrivers, layRest, openReturns } from './railBoard';
import {
  designSchema,
  firstPair,
  type Bridge,
  type Design,
  type TerminalPair,
} from '@/core/document/schema';

/** A design with the network of a netlist, and what of it could not be taken over. */
interface LaidOutNetlist {
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
 * Lays a netlist out on rails: each driver gets a rail along the shortest way from what is laid
 * already; what hangs from a rail to its return is in shunt; what is left becomes open rails and
 * bridges. The circuit stays the same.
 *
 * @param drivers which driver of the design is in the place of an element, by the element's name
 * @param design gets the network; its own is replaced
 * @param newId gives ids that nothing in the design has
 * @throws ProblemError for a netlist that can't be solved, a source that is not grounded, no
 *   amplifier or no driver, a driver between two rails, a value that no part has
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
      'Remove what does not belong to the network.',
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
  const ids = new Map(partElements.map((element) => [element.name, newId()]));
  const edges = reduced(partElements, keep);
  for (const loop of edges.filter(({ a, b }) => a === b))
    for (const { element } of leavesOf(loop))
      warnings.push(`${element.name} has both ends at one place and was ignored.`);
  const board = createBoard(
    edges.filter(({ a, b }) => a !== b),
    amps.pairs,
    ids,
    newId,
  );
  const unreached = [
    ...layDrivers(board, loads, drivers, design),
    ...layRest(board).flatMap((edge) => leavesOf(edge).map(({ element }) => element)),
  ];
  for (const { name } of unreached) warnings.push(`${name} is not reached by any amplifier.`);
  openReturns(board);

  const { rails, bridges } = board;
  const maker = createMaker(ids, losses);
  const orderOf = ({ ends }: Rail) =>
    ends.length > 0 ? [...drivers.values()].indexOf(ends[0].driverId) : Infinity;
  const ways = rails
    .toSorted((one, other) => (orderOf(one) === orderOf(other) ? 0 : orderOf(one) - orderOf(other)))
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

/**
 * Elements without resistors that are only the loss of a coil or capacitor, and these losses by its
 * name.
 */
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
  const pairs = behind.map(({ source, hot, output }, i): { pair: TerminalPair; node: string } => {
    const isTurned = (source.b === ground) === source.voltsRe < 0;
    const gain = Math.hypot(source.voltsRe, source.voltsIm) / volts;
    const ownOhms = output?.ohms ?? 0;
    return {
      pair: {
        id: i === 0 ? firstPair.id : `pair-${i + 1}`,
        name: i === 0 ? firstPair.name : `Pair ${i + 1}`,
        gainDb: gain > 0 ? Number((20 * Math.log10(gain)).toFixed(9)) : 0,
        polarity: isTurned ? 'reversed' : 'normal',
        ...(ownOhms !== outputOhms && { outputOhms: ownOhms }),
      },
      node: output ? (output.a === hot ? output.b : output.a) : hot,
    };
  });
  return {
    pairs,
    outputs: new Set<Element>(behind.flatMap(({ output }) => output ?? [])),
    amplifier: { volts, outputOhms, cableOhms: 0 },
  };
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

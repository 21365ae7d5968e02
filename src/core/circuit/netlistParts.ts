import type { GroupId } from '@/core/fields';
import { makePart } from '@/core/document/partKinds';
import { elementValue } from '@/core/network/immittance';
import type { Edge } from './netlistEdges';
import {
  endAt,
  plainPart,
  plainWay,
  type Group,
  type NodeRef,
  type Part,
  type Way,
} from '@/core/document/schema';

/** A rail that is being laid. */
export interface Rail {
  readonly id: string;
  readonly name: string;
  readonly from: NodeRef;
  readonly startNode: string;
  /** NodeRef of its return. */
  back: string;
  ends: Way['ends'];
  /** Positions in order, each with the node of the rail behind it. */
  readonly items: { readonly edge: Edge; readonly place: Part['place']; readonly node: string }[];
}

/**
 * Makes parts and ways of what was laid; `turned` holds the coils whose second end is nearer to the
 * amplifier.
 */
export function createMaker(ids: ReadonlyMap<string, string>, losses: ReadonlyMap<string, number>) {
  const names = designations([...ids.keys()]);
  const turned = new Set<string>();
  const part = (
    { element, a }: Edge & { readonly kind: 'leaf' },
    place: Part['place'],
    groupId: GroupId | null,
  ): Part => {
    const base = {
      ...plainPart,
      id: ids.get(element.name)!,
      name: names.get(element.name)!,
      place,
      groupId,
    };
    const seriesOhms = losses.get(element.name) ?? 0;
    if (element.a !== a) turned.add(element.name);
    return makePart(base, element.kind, elementValue(element), seriesOhms);
  };
  const way = ({ id, name, from, ends, items }: Rail, newId: () => string): Way => {
    const groups: Group[] = [];
    const partsOf = (edge: Edge, place: Part['place'], parentId: string | null): Part[] => {
      if (edge.kind === 'leaf') return [part(edge, place, parentId)];
      const group = { id: newId(), join: edge.join, parentId };
      groups.push(group);
      return edge.members.flatMap((member) => partsOf(member, place, group.id));
    };
    const parts = items.flatMap(({ edge, place }) => partsOf(edge, place, null));
    const isTurned = ends.length > 0 && ends.every(({ polarity }) => polarity === 'reversed');
    return {
      ...plainWay,
      ...{ id, name, from, parts, groups },
      polarity: isTurned ? 'reversed' : 'normal',
      ends: isTurned ? ends.map(({ driverId }) => endAt(driverId)) : ends,
    };
  };
  return { part, way, turned };
}

/**
 * Reference designations: the name in the netlist where it is one, else the lowest free number of
 * its letter.
 */
function designations(elementNames: readonly string[]): Map<string, string> {
  const names = new Map<string, string>();
  const used = new Set<string>();
  for (const name of elementNames) {
    const own = name.toUpperCase();
    if (!/^[RLC]\d{1,3}$/.test(own) || used.has(own)) continue;
    names.set(name, own);
    used.add(own);
  }
  for (const name of elementNames) {
    if (names.has(name)) continue;
    const letter = name[0].toUpperCase();
    let number = 1;
    while (used.has(`${letter}${number}`)) number++;
    names.set(name, `${letter}${number}`);
    used.add(`${letter}${number}`);
  }
  return names;
}

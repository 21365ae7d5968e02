import { numbered, type Item } from './item';
import type { GroupId } from '@/core/fields';
import { partKinds, partValue, partLoss } from '@/core/document/partKinds';
import { formatNumber, formatQuantity } from '@/core/units/quantity';
import { nodeInWords } from '@/core/document/places';
import { partsOf, type Design, type Group, type Part, type Way } from '@/core/document/schema';

/* The network in words. */

export function parts(design: Design): Item[] {
  const onRails = design.ways.flatMap((way) =>
    way.parts.map((part, i): Item => {
      const group = groupWords(way, part.groupId);
      return {
        key: part.id,
        what: part.name,
        text: toldPart(design, part, `${part.place}, ${way.name} ${i + 1}${group}`),
        raw: { part, wayId: way.id, index: i, groups: groupsOf(way, part.groupId) },
      };
    }),
  );
  const bridges = design.bridges.map(({ part, ...ends }): Item => ({
    key: part.id,
    what: part.name,
    text: toldPart(
      design,
      part,
      `from ${nodeInWords(design, ends.a)} to ${nodeInWords(design, ends.b)}`,
    ),
    raw: { part, ends },
  }));
  return [...onRails, ...bridges];
}

/** A part's groups from the innermost out. */
function groupsOf({ groups }: Way, groupId: GroupId | null): Group[] {
  const group = groups.find(({ id }) => id === groupId);
  return group ? [group, ...groupsOf({ groups } as Way, group.parentId)] : [];
}

const groupWords = (way: Way, groupId: GroupId | null): string => {
  const joins = groupsOf(way, groupId).map(({ join }) => join);
  return joins.length === 0 ? '' : `, in a group in ${joins.join(' within one in ')}`;
};

/** A part's value, loss and state. */
function toldPart(design: Design, part: Part, where: string): string {
  const ohms = partLoss(part);
  const loss = ohms === 0 ? '' : ` (${formatQuantity(ohms, 'ohm')})`;
  const value = formatQuantity(partValue(part), partKinds[part.kind].dimension);
  const { isFree, lowest, highest, tie } = part.fit;
  const tied = tie && partsOf(design).find(({ id }) => id === tie.partId);
  const bound = (limit: number | null) =>
    limit === null ? 'open' : formatQuantity(limit, partKinds[part.kind].dimension);
  const states = [
    part.kind === 'coil' && part.core === 'magnetic' && 'on a core',
    part.isOff && 'excluded',
    part.isLocked && 'locked',
    isFree && 'free for fits',
    (lowest !== null || highest !== null) && `bounds ${bound(lowest)} to ${bound(highest)}`,
    tie && `linked to ${tied?.name ?? '?'} × ${formatNumber(tie.ratio)}`,
  ].filter(Boolean);
  return [`${value}${loss}`, where, ...states].join(', ');
}

export function ways(design: Design): Item[] {
  const names = numbered(design.ways);
  return design.ways.map((way): Item => {
    const { name, polarity, ends, endsJoin, from, target: slopes, mirrorOf } = way;
    const ownDrivers = ends.map(({ driverId, polarity: own }) => {
      const driver = design.drivers.find(({ id }) => id === driverId)!;
      return `${driver.name}${own === 'reversed' ? ' (turned)' : ''}`;
    });
    const text = [
      polarity === 'normal' ? 'in phase' : 'reversed',
      ownDrivers.join(endsJoin === 'series' ? ' in series with ' : ' beside ') || 'no driver',
      ...(slopes
        ? [
            `toward ${[slopes.highPass, slopes.lowPass]
              .map((slope) =>
                slope
                  ? `${slope.alignment} ${slope.order} at ${formatQuantity(slope.hz, 'hertz')}`
                  : 'nothing',
              )
              .join(' and ')}`,
          ]
        : []),
      ...(mirrorOf === undefined
        ? []
        : [`mirrors ${design.ways.find(({ id }) => id === mirrorOf)!.name}`]),
      ...(from.kind === 'terminals' && design.terminals.length === 1
        ? []
        : [`from ${nodeInWords(design, from)}`]),
    ].join(', ');
    // Its parts are items of their own; groups count here too, as one may be empty of parts.
    const { parts: ownParts, ...rest } = way;
    return {
      key: way.id,
      what: names.get(way.id) ?? name,
      text,
      raw: { ...rest, partCount: ownParts.length === 0 ? 0 : 1 },
    };
  });
}

export const couplingKey = (partA: string, partB: string) => [partA, partB].sort().join(' ');

export function couplings(design: Design): Item[] {
  const names = new Map(partsOf(design).map(({ id, name }) => [id, name]));
  return design.couplings.map((coupling) => ({
    key: couplingKey(coupling.partA, coupling.partB),
    what: `${names.get(coupling.partA)} and ${names.get(coupling.partB)}`,
    text: `coupled by ${formatNumber(coupling.coefficient)}`,
    raw: coupling,
  }));
}

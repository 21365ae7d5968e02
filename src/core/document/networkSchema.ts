import { z } from 'zod';
import {
  identifier,
  millimetres,
  name,
  positive,
  driverId,
  groupId,
  pairId,
  partId,
  wayId,
} from '@/core/fields';

/**
 * What the document says of the network: parts, rails, bridges, terminals, switches, couplings. One
 * row of checks at the end finds what single fields can't show.
 */

/** Reference designation such as C4, unique in the design. */
const designation = z.string().regex(/^[A-Z]{1,3}\d{1,3}$/);

/** What a fit may do with a part's value. */
const fitSchema = z.strictObject({
  isFree: z.boolean(),
  /** Bounds in the value's unit; null for a decade to each side of where the fit begins. */
  lowest: positive.nullable(),
  highest: positive.nullable(),
  /** Its value is always this many times another part's of the same kind. */
  tie: z.strictObject({ partId, ratio: positive.max(1000) }).nullable(),
});

const partBase = {
  id: partId,
  name: designation,
  place: z.enum(['series', 'shunt']),
  /** Group of the way that it belongs to; null when it starts from the rail by itself. */
  groupId: groupId.nullable(),
  /** Left out of the prediction: a series part is a wire, a shunt part is taken away. */
  isOff: z.boolean(),
  /** Its value is not changed by arrow keys or by a fit. */
  isLocked: z.boolean(),
  fit: fitSchema,
};

/**
 * Stated by hand: it stays as it is when the value changes. Absent: it follows the value, see
 * `partLoss.ts`.
 */
const isLossFixed = z.literal(true).optional();

export const partSchema = z.discriminatedUnion('kind', [
  z.strictObject({ ...partBase, kind: z.literal('resistor'), ohms: positive.max(1e6) }),
  z.strictObject({
    ...partBase,
    kind: z.literal('coil'),
    henries: positive.max(10),
    seriesOhms: z.number().min(0).max(1000),
    isLossFixed,
    /** Wound on iron or ferrite; absent for air. */
    core: z.literal('magnetic').optional(),
  }),
  z.strictObject({
    ...partBase,
    kind: z.literal('capacitor'),
    farads: positive.max(1),
    seriesOhms: z.number().min(0).max(1000),
    isLossFixed,
  }),
]);

/** Parts, and groups within it, that are joined to one two-pole: a trap, a damped coil. */
export const groupSchema = z.strictObject({
  id: groupId,
  join: z.enum(['series', 'parallel']),
  /** Group that this one is a member of. */
  parentId: groupId.nullable(),
});

/**
 * A named place of the network. `after` is the rail behind the place of a part;
 * `start`, `end` and `return` are a way's; `terminals` is the hot side of a pair.
 */
export const nodeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('ground') }),
  z.strictObject({ kind: z.literal('terminals'), pairId }),
  z.strictObject({ kind: z.enum(['start', 'end', 'return']), wayId }),
  z.strictObject({ kind: z.literal('after'), partId }),
]);

/** A driver at the end of a rail; its polarity is seen from the rail. */
export const endSchema = z.strictObject({
  driverId,
  polarity: z.enum(['normal', 'reversed']),
});

/** A textbook slope that a way's response is to follow. */
const slopeSchema = z
  .strictObject({
    alignment: z.enum(['butterworth', 'linkwitz-riley', 'bessel']),
    order: z.union([z.literal(1), z.literal(2), z.literal(3), z.literal(4)]),
    hz: positive.min(10).max(40_000),
  })
  .refine(
    ({ alignment, order }) => alignment !== 'linkwitz-riley' || order % 2 === 0,
    'Linkwitz–Riley slopes have an even order.',
  );

/**
 * A rail from a place of the network to one or more drivers, or to none: what ways share before
 * they part. Parts are in order from the amplifier; the parts of a group are together and in the
 * same place. A way from whose return another starts is stacked upon it; otherwise it returns to
 * ground.
 */
export const waySchema = z.strictObject({
  id: wayId,
  name,
  from: nodeSchema,
  ends: z.array(endSchema).max(8),
  /** How several drivers are joined. */
  endsJoin: z.enum(['series', 'parallel']),
  /** Reversed turns all its drivers round. */
  polarity: z.enum(['normal', 'reversed']),
  /** Slopes that its acoustic response is to have; null for none. */
  target: z
    .strictObject({ highPass: slopeSchema.nullable(), lowPass: slopeSchema.nullable() })
    .nullable(),
  parts: z.array(partSchema).max(60),
  groups: z.array(groupSchema).max(40),
  /** Way whose parts are always this one's too; absent for a way that is alone. */
  mirrorOf: wayId.optional(),
});

/** A part between any two places. */
export const bridgeSchema = z.strictObject({ part: partSchema, a: nodeSchema, b: nodeSchema });

/**
 * Two terminals for an amplifier. Gain and polarity are set at each; amplifiers are of one kind but for
 * an output resistance of their own.
 */
export const pairSchema = z.strictObject({
  id: pairId,
  name,
  gainDb: z.number().min(-40).max(20),
  polarity: z.enum(['normal', 'reversed']),
  /** Of the amplifier here; left out where it is that of the design's. */
  outputOhms: z.number().min(0).max(100).optional(),
});

/** What one position of a switch makes of one of its members. */
export const settingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('part'),
    id: partId,
    value: positive,
    seriesOhms: z.number().min(0).max(1000),
    isLossFixed,
    isOff: z.boolean(),
  }),
  z.strictObject({
    kind: z.literal('driver'),
    id: driverId,
    position: z.strictObject({ xMm: millimetres, yMm: millimetres, zMm: millimetres }),
  }),
  z.strictObject({
    kind: z.literal('way'),
    id: wayId,
    polarity: z.enum(['normal', 'reversed']),
  }),
]);

/**
 * Named alternatives of some parts, links (parts left out or in), polarities or mounting places.
 * What is in the document itself is the chosen position; the settings of the others wait here.
 */
export const switchSchema = z.strictObject({
  id: identifier,
  name,
  positions: z
    .array(z.strictObject({ id: identifier, name, settings: z.array(settingSchema).max(60) }))
    .min(2)
    .max(9),
  chosenId: identifier,
});

type RawPart = z.infer<typeof partSchema>;
type RawWay = z.infer<typeof waySchema>;

/** What is wrong with the groups of a way; null when nothing is. */
export function groupTrouble({
  parts,
  groups,
}: Pick<z.infer<typeof waySchema>, 'parts' | 'groups'>): string | null {
  const byId = new Map(groups.map((group) => [group.id, group]));
  const chainOf = (part: RawPart): string[] => {
    const chain: string[] = [];
    for (let id = part.groupId; id !== null && !chain.includes(id);)
      id = (chain.push(id), byId.get(id)?.parentId ?? null);
    return chain;
  };
  for (const { id, parentId } of groups) {
    if (parentId !== null && !byId.has(parentId))
      return `Group ${id} is in a group that is not there.`;
    const members = parts.flatMap((part, at) => (chainOf(part).includes(id) ? [{ part, at }] : []));
    if (members.length === 0) return `Group ${id} is empty.`;
    if (members[members.length - 1].at - members[0].at !== members.length - 1)
      return `The parts of group ${id} do not be together.`;
    if (members.some(({ part }) => part.place !== members[0].part.place))
      return `The parts of group ${id} are in different places.`;
  }
  const stray = parts.find(({ groupId }) => groupId !== null && !byId.has(groupId));
  return stray ? `${stray.name} is in a group that is not there.` : null;
}

export const tieTrouble = (parts: readonly RawPart[]) => {
  const all = new Map(parts.map((part) => [part.id, part]));
  return ({ id, name: partName, kind, fit: { tie } }: RawPart): string[] => {
    if (tie === null) return [];
    const other = all.get(tie.partId);
    if (!other) return [`${partName} is linked to a part that is not there.`];
    if (other.kind !== kind)
      return [`${partName} is linked to ${other.name}, which is of another kind.`];
    return other.id === id || other.fit.tie !== null
      ? [`${partName} is linked to ${other.name}, whose value is not its own.`]
      : [];
  };
};

/** Two coils that hear each other. */
export const couplingSchema = z.strictObject({
  partA: partId,
  partB: partId,
  /**
   * M/√(L₁L₂); positive when the starts of both windings point toward the amplifier or the rail.
   */
  coefficient: z.number().gt(-1).lt(1),
});

/** What is wrong with the couplings; null when nothing is. */
export function couplingTrouble(
  couplings: readonly z.infer<typeof couplingSchema>[],
  parts: readonly RawPart[],
): string | null {
  const coils = new Set(parts.filter(({ kind }) => kind === 'coil').map(({ id }) => id));
  const seen = new Set<string>();
  for (const { partA, partB } of couplings) {
    const pair = [partA, partB].sort().join(' ');
    if (!coils.has(partA) || !coils.has(partB))
      return 'A coupling names something that is no coil.';
    if (partA === partB) return 'A coil is coupled to itself.';
    if (seen.has(pair)) return 'Two coils are coupled twice.';
    seen.add(pair);
  }
  return null;
}

type RawNode = z.infer<typeof nodeSchema>;

/**
 * Finds the way that a place belongs to: null for ground and terminals, which belong to none,
 * undefined for a place that is not there.
 */
export function homesOf<
  W extends { readonly id: string; readonly parts: readonly { id: string }[] },
>(
  ways: readonly W[],
  terminals: readonly { readonly id: string }[],
): (node: RawNode) => W | null | undefined {
  const pairs = new Set(terminals.map(({ id }) => id));
  const byId = new Map(ways.map((way) => [way.id, way]));
  const byPart = new Map(ways.flatMap((way) => way.parts.map(({ id }) => [id, way])));
  return (node) => {
    if (node.kind === 'ground') return null;
    if (node.kind === 'terminals') return pairs.has(node.pairId) ? null : undefined;
    return node.kind === 'after' ? byPart.get(node.partId) : byId.get(node.wayId);
  };
}

/** What is wrong with the places that ways start from and bridges join; null when nothing is. */
export function nodeTrouble(design: {
  readonly terminals: readonly z.infer<typeof pairSchema>[];
  readonly ways: readonly RawWay[];
  readonly bridges: readonly z.infer<typeof bridgeSchema>[];
}): string | null {
  const homeOf = homesOf(design.ways, design.terminals);
  for (const way of design.ways) {
    if (way.from.kind === 'ground') return `${way.name} starts at ground.`;
    const seen = new Set<string>();
    for (let at: RawWay | null | undefined = way; at; at = homeOf(at.from)) {
      if (seen.has(at.id)) return `${way.name} starts from itself.`;
      seen.add(at.id);
      if (homeOf(at.from) === undefined) return `${at.name} starts at a place that is not there.`;
    }
  }
  for (const { part, a, b } of design.bridges) {
    if (part.place !== 'series' || part.groupId !== null)
      return `${part.name} is a bridge and in a group.`;
    if (homeOf(a) === undefined || homeOf(b) === undefined)
      return `${part.name} leads to a place that is not there.`;
  }
  return null;
}

/** What is wrong with the ways that mirror others; null when nothing is. */
export function mirrorTrouble(ways: readonly RawWay[]): string | null {
  for (const { name, mirrorOf } of ways) {
    if (mirrorOf === undefined) continue;
    const source = ways.find(({ id }) => id === mirrorOf);
    if (!source) return `${name} mirrors a way that is not there.`;
    if (source.mirrorOf !== undefined) return `${name} mirrors a way that mirrors another.`;
  }
  return null;
}

/** What is wrong with the switches; null when nothing is. */
export function switchTrouble(
  design: {
    readonly drivers: readonly { readonly id: string }[];
    readonly ways: readonly RawWay[];
    readonly switches: readonly z.infer<typeof switchSchema>[];
  },
  parts: readonly RawPart[],
): string | null {
  const known: Readonly<Record<'part' | 'driver' | 'way', ReadonlySet<string>>> = {
    part: new Set(parts.map(({ id }) => id)),
    driver: new Set(design.drivers.map(({ id }) => id)),
    way: new Set(design.ways.map(({ id }) => id)),
  };
  const owners = new Map<string, string>();
  for (const { id, name: switchName, positions, chosenId } of design.switches) {
    if (!positions.some((position) => position.id === chosenId))
      return `${switchName} is in a position that it does not have.`;
    const members = (settings: readonly z.infer<typeof settingSchema>[]) =>
      settings.map((setting) => `${setting.kind} ${setting.id}`).sort();
    const first = members(positions[0].settings);
    for (const { settings } of positions) {
      if (members(settings).join() !== first.join() || new Set(first).size !== first.length)
        return `The positions of ${switchName} do not set the same things.`;
      if (settings.some((setting) => !known[setting.kind].has(setting.id)))
        return `${switchName} sets something that is not there.`;
    }
    for (const member of first) {
      if (owners.has(member)) return 'Two switches set the same thing.';
      owners.set(member, id);
    }
  }
  return null;
}

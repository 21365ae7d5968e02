import type { GroupId } from '@/core/fields';
import { partKinds, partValue, partLoss } from './partKinds';
import { formatNumber, formatQuantity, type Dimension } from '@/core/units/quantity';
import type { Brief } from './briefSchema';
import type { Step } from '@/core/measurement/steps/kinds';
import { nodeInWords } from './places';
import { isSameDesign } from './sameDesign';
import { partsOf, type Design, type Driver, type Group, type Part, type Way } from './schema';
import { cutText } from '../text';

/** One thing in which two designs differ, in words. */
export interface Difference {
  readonly about:
    'part' | 'way' | 'driver' | 'answer' | 'target' | 'promise' | 'measurement' | 'setting';
  /** What differs: a part's name, a question. */
  readonly what: string;
  /** As it is in the first and in the second; null where it is not there. */
  readonly before: string | null;
  readonly after: string | null;
}

/**
 * Differences between two designs, parts first. Things are told apart by their ids, so that two of one name are two; what
 * differs without words of its own is told by its place in the document. Documents that differ are always said to differ.
 */
export function differences(before: Design, after: Design): Difference[] {
  return [
    ...compare('part', parts(before), parts(after)),
    ...compare('part', couplings(before), couplings(after)),
    ...compare('way', ways(before), ways(after)),
    ...compare('driver', drivers(before), drivers(after)),
    ...compare('answer', answers(before.brief), answers(after.brief)),
    ...compare('setting', settings(before), settings(after)),
    ...compare('target', target(before), target(after)),
    ...compare('measurement', measurements(before), measurements(after)),
    ...compare('promise', promises(before), promises(after)),
    ...orders(before, after),
  ];
}

/** One thing of a document: what identifies it, how it is called, what is said of it, and all that it holds. */
interface Item {
  readonly key: string;
  readonly what: string;
  readonly text: string;
  readonly raw: unknown;
}

function compare(
  about: Difference['about'],
  before: readonly Item[],
  after: readonly Item[],
): Difference[] {
  const [was, is] = [before, after].map((items) => new Map(items.map((item) => [item.key, item])));
  const keys = new Set([...was.keys(), ...is.keys()]);
  const found = [...keys].flatMap((key): Difference[] => {
    const [first, second] = [was.get(key), is.get(key)];
    if (!first || !second)
      return [
        {
          about,
          what: (first ?? second)!.what,
          before: first?.text ?? null,
          after: second?.text ?? null,
        },
      ];
    if (isSameDesign(first.raw, second.raw)) return [];
    const { what } = second;
    if (first.text !== second.text)
      return [{ about, what, before: first.text, after: second.text }];
    const [earlier, later] = leafWords(first.raw, second.raw);
    return [{ about, what, before: earlier, after: later }];
  });
  return replaced(found);
}

/** What went and came under one name, such as another C4, is one difference. */
function replaced(found: readonly Difference[]): Difference[] {
  const came = new Map(found.flatMap((one) => (one.before === null ? [[one.what, one]] : [])));
  const isReplacement = new Set<Difference>();
  const joined = found.map((one) => {
    const successor = one.after === null ? came.get(one.what) : undefined;
    if (!successor || one.before === null) return one;
    isReplacement.add(successor);
    return { ...one, after: successor.after };
  });
  return joined.filter((one) => !isReplacement.has(one));
}

/** Fields that have words of their own, wherever they stand. */
const fieldWords: Readonly<Record<string, string>> = {
  isFree: 'free for fits',
  isLocked: 'locked',
  isLossFixed: 'resistance stated by hand',
  lowest: 'lower bound',
  highest: 'upper bound',
  tie: 'tied',
  offAxisIds: 'responses off axis',
  header: 'header of the file',
  importedAt: 'time of import',
};

/** Leaves in which two values differ, on each side: the fallback for what has no sentence. */
function leafWords(before: unknown, after: unknown): [before: string, after: string] {
  const pairs = [...leaves(before, after, [])].slice(0, 4);
  const told = (side: 0 | 1) =>
    pairs
      .map(({ path, values }) => {
        const named = path.filter((key) => !/^\d+$/.test(key)).map((key) => fieldWords[key] ?? key);
        return `${named.join(' ') || 'value'} ${plain(values[side])}`;
      })
      .join(', ');
  return [told(0), told(1)];
}

interface Leaf {
  readonly path: readonly string[];
  readonly values: readonly [unknown, unknown];
}

function* leaves(a: unknown, b: unknown, path: readonly string[]): Generator<Leaf> {
  if (isSameDesign(a, b)) return;
  const isTree = (value: unknown): value is Record<string, unknown> =>
    typeof value === 'object' && value !== null;
  if (!isTree(a) || !isTree(b)) {
    yield { path, values: [a, b] };
    return;
  }
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)]))
    yield* leaves(a[key], b[key], [...path, key]);
}

function plain(value: unknown): string {
  if (value === undefined || value === null) return 'not stated';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return formatNumber(value, 6);
  return typeof value === 'string' ? value : cutText(JSON.stringify(value), 80);
}

/** Names of things of which several may have one: the second of a name says so. */
function numbered<T extends { readonly id: string; readonly name: string }>(
  items: readonly T[],
): ReadonlyMap<string, string> {
  const counts = new Map<string, number>();
  return new Map(
    items.map(({ id, name }) => {
      const count = (counts.get(name) ?? 0) + 1;
      counts.set(name, count);
      return [id, count === 1 ? name : `${name} (${count})`];
    }),
  );
}

/** Lists whose order counts, compared by what both have. */
function orders(before: Design, after: Design): Difference[] {
  const lists: readonly [Difference['about'], string, (design: Design) => readonly Named[]][] = [
    ['way', 'order of the ways', ({ ways: all }) => all],
    ['driver', 'order of the drivers', ({ drivers: all }) => all],
    ['measurement', 'order of the measurements', ({ measurements: all }) => all],
    [
      'promise',
      'order of the promises',
      ({ promises: all }) => all.map(({ id, kind }) => ({ id, name: kind })),
    ],
    ['setting', 'order of the terminals', ({ terminals: all }) => all],
    ['setting', 'order of the switches', ({ switches: all }) => all],
    ['part', 'order of the bridges', ({ bridges: all }) => all.map(({ part }) => part)],
    [
      'part',
      'order of the couplings',
      ({ couplings: all }) =>
        all.map(({ partA, partB }) => ({ id: couplingKey(partA, partB), name: '' })),
    ],
  ];
  return lists.flatMap(([about, what, list]): Difference[] => {
    const [was, is] = [list(before), list(after)];
    const common = (items: readonly Named[], others: readonly Named[]) =>
      items.filter(({ id }) => others.some((other) => other.id === id));
    const told = (items: readonly Named[]) => items.map(({ name }) => name).join(', ');
    const [first, second] = [common(was, is), common(is, was)];
    return first.every(({ id }, i) => id === second[i].id)
      ? []
      : [{ about, what, before: told(first), after: told(second) }];
  });
}

interface Named {
  readonly id: string;
  readonly name: string;
}

function parts(design: Design): Item[] {
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
    tie && `tied to ${tied?.name ?? '?'} × ${formatNumber(tie.ratio)}`,
  ].filter(Boolean);
  return [`${value}${loss}`, where, ...states].join(', ');
}

function ways(design: Design): Item[] {
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

function drivers(design: Design): Item[] {
  const { drivers: all, measurements: curves } = design;
  const names = numbered(all);
  return all.flatMap((driver): Item[] => {
    const { id, position, measuredAt, responseId, impedanceId, sheet, offAxisIds, ...rest } =
      driver;
    const name = names.get(id)!;
    const curve = (curveId: string | null) => curves.find((m) => m.id === curveId)?.name ?? 'none';
    const place = ({ xMm, yMm, zMm }: Driver['position']) =>
      `${[xMm, yMm, zMm].map((mm) => formatNumber(mm)).join(', ')} mm`;
    const item = (field: string, text: string, raw: unknown): Item => ({
      key: `${id} ${field}`,
      what: `${name}, ${field}`,
      text,
      raw,
    });
    return [
      item('place', place(position), position),
      item('response', curve(responseId), responseId),
      item('impedance', curve(impedanceId), impedanceId),
      item(
        'responses off axis',
        `${offAxisIds.length}${offAxisIds.length === 0 ? '' : `: ${cutText(offAxisIds.map(curve).join(', '), 120)}`}`,
        offAxisIds,
      ),
      ...Object.entries(sheet).map(([key, value]) =>
        item(
          key,
          value === null ? 'not known' : typeof value === 'number' ? formatNumber(value) : value,
          value,
        ),
      ),
      item('measured at', measuredAt ? place(measuredAt) : 'its place', measuredAt),
      item('other statements', name, rest),
    ];
  });
}

const couplingKey = (partA: string, partB: string) => [partA, partB].sort().join(' ');

function couplings(design: Design): Item[] {
  const names = new Map(partsOf(design).map(({ id, name }) => [id, name]));
  return design.couplings.map((coupling) => ({
    key: couplingKey(coupling.partA, coupling.partB),
    what: `${names.get(coupling.partA)} and ${names.get(coupling.partB)}`,
    text: `coupled by ${formatNumber(coupling.coefficient)}`,
    raw: coupling,
  }));
}

const questions: Readonly<Record<keyof Brief, readonly [question: string, dimension?: Dimension]>> =
  {
    purpose: ['purpose'],
    place: ['place'],
    nearestSeatMm: ['nearest seat', 'distance'],
    farthestSeatMm: ['farthest seat', 'distance'],
    spreadDeg: ['spread of the seats', 'degree'],
    speakerCount: ['number of speakers', 'number'],
    roomSquareMetres: ['floor of the room', 'squareMetre'],
    roomGainDb: ['what the room adds', 'decibel'],
    ratedWatts: ['amplifier power', 'watt'],
    ratedIntoOhms: ['amplifier load', 'ohm'],
    lowestLoadOhms: ['lowest load', 'ohm'],
    programme: ['programme'],
    loudnessDb: ['loudness', 'decibel'],
    headroomDb: ['headroom', 'decibel'],
    reach3Hz: ['F3', 'hertz'],
    reach10Hz: ['F10', 'hertz'],
    widthMm: ['width', 'millimetre'],
    heightMm: ['height', 'millimetre'],
    depthMm: ['depth', 'millimetre'],
    money: ['money', 'number'],
    currency: ['currency'],
    ratedOhms: ['rated impedance', 'ohm'],
    evennessDb: ['evenness', 'decibel'],
    mustUse: ['must be used'],
    carpentry: ['carpentry'],
    givesWay: ['what gives way first'],
  };

function answers(brief: Brief): Item[] {
  return (Object.keys(questions) as (keyof Brief)[]).map((key) => {
    const [question, dimension] = questions[key];
    const answer = brief[key];
    const text =
      answer === null || answer === '' || (Array.isArray(answer) && answer.length === 0)
        ? 'open'
        : typeof answer === 'number'
          ? formatQuantity(answer, dimension ?? 'number')
          : Array.isArray(answer)
            ? answer.join(', ')
            : answer;
    return { key, what: question, text, raw: answer };
  });
}

function settings(design: Design): Item[] {
  const { name, amplifier, terminals, isJoined, switches, listeningDistanceMm, airTemperatureC } =
    design;
  const pairs = numbered(terminals);
  const named = numbered(switches);
  const item = (what: string, text: string, raw: unknown): Item => ({ key: what, what, text, raw });
  const { volts, outputOhms, cableOhms, ...amplifierRest } = amplifier;
  return [
    item('name of the design', name, name),
    item('variant', design.variant, design.variant),
    item('cable', formatQuantity(cableOhms, 'ohm'), cableOhms),
    item('terminals', terminals.length === 1 ? 'one pair' : isJoined ? 'joined' : 'separate', {
      isJoined,
      isOne: terminals.length === 1,
    }),
    ...terminals.map((pair) => ({
      key: `pair ${pair.id}`,
      what: `terminals ${pairs.get(pair.id)}`,
      text: `${formatNumber(pair.gainDb)} dB, ${pair.polarity === 'normal' ? 'in phase' : 'reversed'}`,
      raw: pair,
    })),
    ...switches.map((one) => ({
      key: `switch ${one.id}`,
      what: `switch ${named.get(one.id)}`,
      text: `at ${one.positions.find(({ id }) => id === one.chosenId)!.name} of ${one.positions.map((position) => position.name).join(', ')}`,
      raw: one,
    })),
    item('drive voltage', formatQuantity(volts, 'volt'), volts),
    item('output resistance', formatQuantity(outputOhms, 'ohm'), outputOhms),
    item('amplifier', '', amplifierRest),
    item(
      'distance of the sum',
      formatQuantity(listeningDistanceMm, 'millimetre'),
      listeningDistanceMm,
    ),
    item('air temperature', `${formatNumber(airTemperatureC)} °C`, airTemperatureC),
    item('document', '', untold(design)),
  ];
}

/** What no section above speaks of: nothing today, and what a later schema adds. */
function untold(design: Design): unknown {
  const told: ReadonlySet<string> = new Set<keyof Design>([
    ...(['format', 'version', 'name', 'variant', 'brief', 'target', 'promises'] as const),
    ...(['airTemperatureC', 'amplifier', 'terminals', 'isJoined', 'listeningDistanceMm'] as const),
    ...(['measurements', 'drivers', 'ways', 'bridges', 'switches', 'couplings'] as const),
  ]);
  return Object.fromEntries(Object.entries(design).filter(([key]) => !told.has(key)));
}

function target({ target: shape }: Design): Item[] {
  const { kind, fromHz, toHz, ...rest } = shape;
  const figures = Object.values(rest).map((value) =>
    typeof value === 'number' ? `, ${formatNumber(value)}` : `, ${JSON.stringify(value)}`,
  );
  const text = `${kind}, ${formatQuantity(fromHz, 'hertz')} to ${formatQuantity(toHz, 'hertz')}${figures.join('')}`;
  return [{ key: 'target', what: 'target', text, raw: shape }];
}

function measurements({ measurements: curves }: Design): Item[] {
  const names = numbered(curves);
  return curves.flatMap((measurement): Item[] => {
    const { id, kind, microphone, driveVolts, angle, recipe, ...rest } = measurement;
    const name = names.get(id)!;
    const { placement, distanceMm, commonTiming } = microphone;
    return [
      {
        key: id,
        what: name,
        text: `${kind}, ${placement}, ${formatNumber(distanceMm)} mm, ${commonTiming ? 'common timing' : 'own timing'}, ${formatNumber(driveVolts)} V`,
        raw: { ...rest, kind, microphone, driveVolts },
      },
      {
        key: `${id} angle`,
        what: `${name}, angle`,
        text: angle ? `${angle.plane} ${formatNumber(angle.degrees)}°` : 'not said',
        raw: angle,
      },
      {
        key: `${id} steps`,
        what: `${name}, steps`,
        text: recipe.map(toldStep).join('; ') || 'none',
        raw: recipe,
      },
    ];
  });
}

/** A step and its figures, under their names. */
function toldStep({ kind, isOn, ...figures }: Step): string {
  const values = Object.entries(figures).map(
    ([key, value]: [string, unknown]) =>
      `${key} ${typeof value === 'number' ? formatNumber(value) : String(value)}`,
  );
  return `${kind}${isOn ? '' : ' (off)'} ${values.join(', ')}`;
}

function promises({ promises: entries }: Design): Item[] {
  return entries.map((entry): Item => {
    const { id, kind, isOff, atLeast, atMost, fromHz, toHz, weight } = entry;
    const band = (hz: number | null) => (hz === null ? 'open' : formatQuantity(hz, 'hertz'));
    const text = isOff
      ? 'off'
      : [
          atLeast === null ? '' : `at least ${formatNumber(atLeast)}`,
          atMost === null ? '' : `at most ${formatNumber(atMost)}`,
          fromHz === null && toHz === null ? '' : `from ${band(fromHz)} to ${band(toHz)}`,
          weight === null ? '' : `weight ${weight}`,
        ]
          .filter(Boolean)
          .join(', ');
    return { key: id, what: id === kind ? kind : `${kind} (${id})`, text, raw: entry };
  });
}

import { numbered, type Item } from './item';
import { toldInBox } from './boxes';
import type { GroupId } from '@/core/fields';
import { partKinds, partValue, partLoss } from '@/core/document/partKinds';
import { formatNumber, formatQuantity, type Dimension } from '@/core/units/quantity';
import { bodyDepthMm, boundsOf } from '@/core/document/baffleSchema';
import type { Brief } from '@/core/document/briefSchema';
import { isAimed } from '@/core/radiation/direction';
import type { Step } from '@/core/measurement/steps/kinds';
import { nodeInWords } from '@/core/document/places';
import {
  partsOf,
  type Design,
  type Driver,
  type Group,
  type Measurement,
  type Part,
  type Way,
} from '@/core/document/schema';
import { cutText } from '@/core/text';

/* Every section of a document in words: what the log's comparison tells of two designs. */

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
    tie && `tied to ${tied?.name ?? '?'} × ${formatNumber(tie.ratio)}`,
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

export function drivers(design: Design): Item[] {
  const { drivers: all, measurements: curves } = design;
  const names = numbered(all);
  return all.flatMap((driver): Item[] => {
    const { id, position, measuredAt, responseId, impedanceId, sheet, offAxisIds, ...others } =
      driver;
    const { mounting, aim, ...rest } = others;
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
      item('mounting', toldMounting(design, mounting), mounting),
      item(
        'direction',
        isAimed(aim)
          ? `${formatNumber(aim.yawDeg)}° to the right, ${formatNumber(aim.pitchDeg)}° up`
          : 'ahead',
        aim,
      ),
      item('measured at', measuredAt ? place(measuredAt) : 'its place', measuredAt),
      item('other statements', name, rest),
    ];
  });
}

function toldMounting({ panels }: Design, { panelId, ...mounting }: Driver['mounting']): string {
  const panel = panels.find(({ id }) => id === panelId);
  if (!panel) return 'on no baffle';
  const told = Object.entries({ frame: mounting.frameMm, mouth: mounting.mouthMm })
    .filter(([, mm]) => mm !== null)
    .map(([what, mm]) => `, ${what} ${formatNumber(mm!)} mm`);
  const by = mounting.kind === 'flush' ? '' : ` ${formatNumber(mounting.byMm)} mm`;
  return `${panel.name}, ${mounting.kind}${by}${told.join('')}`;
}

/** The fronts on which drivers are mounted. */
export function panels(design: Design): Item[] {
  const names = numbered(design.panels);
  return design.panels.map((panel): Item => {
    const { widthMm, heightMm } = boundsOf(panel.corners);
    const edges = new Set(
      panel.corners.map(({ edge }) =>
        edge.kind === 'sharp' ? 'sharp' : `${edge.kind} ${formatNumber(edge.sizeMm)} mm`,
      ),
    );
    const size = [widthMm, heightMm, bodyDepthMm(panel)].map((mm) => formatNumber(mm)).join(' × ');
    return {
      key: panel.id,
      what: names.get(panel.id)!,
      text: [
        `${panel.kind === 'open' ? 'open baffle' : 'box'} ${size} mm`,
        `${panel.corners.length} corners`,
        `edges ${[...edges].join(', ')}`,
        ...(panel.wingsMm === 0 ? [] : [`wings ${formatNumber(panel.wingsMm)} mm`]),
        ...(panel.setBackMm === 0 ? [] : [`set back ${formatNumber(panel.setBackMm)} mm`]),
        ...(panel.ports.length === 0 ? [] : [`${panel.ports.length} ports`]),
      ].join(', '),
      raw: panel,
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

export function answers(brief: Brief): Item[] {
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

function toldSurroundings({ boundaries, pair }: Design['surroundings']): string {
  const walls = boundaries.map(
    ({ kind, distanceMm, absorption }) =>
      `${kind.replace('-', ' ')} at ${formatQuantity(distanceMm, 'millimetre')} absorbing ${formatNumber(100 * absorption)} %`,
  );
  const other =
    pair &&
    `a pair ${formatQuantity(pair.apartMm, 'millimetre')} apart, turned in by ${formatNumber(pair.toeInDeg)}°`;
  return [...walls, ...(other ? [other] : [])].join('; ') || 'free field';
}

const toldHeight = (mm: number | null): string =>
  mm === null ? 'open' : formatQuantity(mm, 'millimetre');

export function settings(design: Design): Item[] {
  const { name, amplifier, terminals, isJoined, switches, listeningDistanceMm, airTemperatureC } =
    design;
  const { axisHeightMm, earHeightMm } = design;
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
    item('height of the design axis', toldHeight(axisHeightMm), axisHeightMm),
    item('height of the ears', toldHeight(earHeightMm), earHeightMm),
    item('surroundings', toldSurroundings(design.surroundings), design.surroundings),
    item('air temperature', `${formatNumber(airTemperatureC)} °C`, airTemperatureC),
    item('document', '', untold(design)),
  ];
}

/** What no section above speaks of: nothing today, and what a later schema adds. */
function untold(design: Design): unknown {
  const told: ReadonlySet<string> = new Set<keyof Design>([
    ...(['format', 'version', 'name', 'variant', 'brief', 'target', 'promises'] as const),
    ...(['airTemperatureC', 'amplifier', 'terminals', 'isJoined', 'listeningDistanceMm'] as const),
    ...(['axisHeightMm', 'earHeightMm', 'surroundings'] as const),
    ...(['measurements', 'drivers', 'panels', 'boxes', 'ways', 'bridges'] as const),
    ...(['switches', 'couplings'] as const),
  ]);
  return Object.fromEntries(Object.entries(design).filter(([key]) => !told.has(key)));
}

export function target({ target: shape }: Design): Item[] {
  const { kind, fromHz, toHz, ...rest } = shape;
  const figures = Object.values(rest).map((value) =>
    typeof value === 'number' ? `, ${formatNumber(value)}` : `, ${JSON.stringify(value)}`,
  );
  const text = `${kind}, ${formatQuantity(fromHz, 'hertz')} to ${formatQuantity(toHz, 'hertz')}${figures.join('')}`;
  return [{ key: 'target', what: 'target', text, raw: shape }];
}

export function measurements({ measurements: curves }: Design): Item[] {
  const names = numbered(curves);
  return curves.flatMap((measurement): Item[] => {
    const { id, kind, microphone, driveVolts, angle, measuredOn, inBox, recipe, ...rest } =
      measurement;
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
        key: `${id} baffle`,
        what: `${name}, measured on`,
        text: toldMeasuredOn(measuredOn),
        raw: measuredOn,
      },
      {
        key: `${id} box`,
        what: `${name}, box`,
        text: toldInBox(inBox),
        raw: inBox,
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

/** The baffle that a response holds, in words. */
export function toldMeasuredOn(measuredOn: Measurement['measuredOn']): string {
  if (measuredOn.kind !== 'baffle')
    return { unknown: 'not said', wall: 'a wall', 'near-field': 'near field' }[measuredOn.kind];
  const { body, xMm, yMm } = measuredOn;
  const { widthMm, heightMm } = boundsOf(body.corners);
  return `${formatNumber(widthMm)} × ${formatNumber(heightMm)} × ${formatNumber(bodyDepthMm(body))} mm at ${formatNumber(xMm)}, ${formatNumber(yMm)} mm`;
}

/** A step and its figures, under their names. */
function toldStep({ kind, isOn, ...figures }: Step): string {
  const values = Object.entries(figures).map(
    ([key, value]: [string, unknown]) =>
      `${key} ${typeof value === 'number' ? formatNumber(value) : String(value)}`,
  );
  return `${kind}${isOn ? '' : ' (off)'} ${values.join(', ')}`;
}

export function promises({ promises: entries }: Design): Item[] {
  return entries.map((entry): Item => {
    const { id, kind, isOff, atLeast, atMost, fromHz, toHz, angle, weight } = entry;
    const band = (hz: number | null) => (hz === null ? 'open' : formatQuantity(hz, 'hertz'));
    const text = isOff
      ? 'off'
      : [
          atLeast === null ? '' : `at least ${formatNumber(atLeast)}`,
          atMost === null ? '' : `at most ${formatNumber(atMost)}`,
          fromHz === null && toHz === null ? '' : `from ${band(fromHz)} to ${band(toHz)}`,
          angle === null ? '' : `${angle.plane} ${formatNumber(angle.degrees)}°`,
          weight === null ? '' : `weight ${weight}`,
        ]
          .filter(Boolean)
          .join(', ');
    return { key: id, what: id === kind ? kind : `${kind} (${id})`, text, raw: entry };
  });
}

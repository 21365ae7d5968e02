import { numbered, type Item } from './item';
import { formatNumber, formatQuantity, type Dimension } from '@/core/units/quantity';
import type { Brief } from '@/core/document/briefSchema';
import { type Design } from '@/core/document/schema';

/* Brief, targets, promises and settings in words. */

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
      text: `${formatNumber(pair.gainDb)} dB, ${pair.polarity === 'normal' ? 'in phase' : 'reversed'}${pair.outputOhms === undefined ? '' : `, behind ${formatQuantity(pair.outputOhms, 'ohm')}`}`,
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

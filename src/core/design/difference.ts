import { formatNumber, formatQuantity, type Dimension } from '@/core/units/quantity';
import type { Brief } from './briefSchema';
import { partValue } from './changes';
import type { Step } from '@/core/measurement/recipe';
import type { Design, Part } from './schema';

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

const dimensions: Readonly<Record<Part['kind'], Dimension>> = {
  resistor: 'ohm',
  coil: 'henry',
  capacitor: 'farad',
};

/** Differences between two designs, parts first. Order of parts on a rail counts; names of the designs do not. */
export function differences(before: Design, after: Design): Difference[] {
  return [
    ...parts(before, after),
    ...couplings(before, after),
    ...ways(before, after),
    ...drivers(before, after),
    ...answers(before.brief, after.brief),
    ...settings(before, after),
    ...measurements(before, after),
    ...promises(before, after),
  ];
}

type Told = ReadonlyMap<string, string>;

/** What two lists of told things differ in, each told by its name. */
function compare(about: Difference['about'], before: Told, after: Told): Difference[] {
  const names = new Set([...before.keys(), ...after.keys()]);
  return [...names].flatMap((what): Difference[] => {
    const [was, is] = [before.get(what) ?? null, after.get(what) ?? null];
    return was === is ? [] : [{ about, what, before: was, after: is }];
  });
}

function parts(before: Design, after: Design): Difference[] {
  const told = ({ ways: rails }: Design): Told =>
    new Map(
      rails.flatMap((way) =>
        way.parts.map((part, i) => {
          const loss =
            part.kind === 'resistor' || part.seriesOhms === 0
              ? ''
              : ` (${formatQuantity(part.seriesOhms, 'ohm')})`;
          const value = formatQuantity(partValue(part), dimensions[part.kind]);
          const state = `${part.isOff ? ', left out' : ''}${part.groupId === null ? '' : ', in a group'}`;
          return [
            part.name,
            `${value}${loss}, ${part.place}, ${way.name} ${i + 1}${state}`,
          ] as const;
        }),
      ),
    );
  return compare('part', told(before), told(after));
}

function ways(before: Design, after: Design): Difference[] {
  const told = ({ ways: rails, drivers: all }: Design): Told =>
    new Map(
      rails.map(({ name, polarity, driverId }) => [
        name,
        `${polarity === 'normal' ? 'in phase' : 'reversed'}, ${all.find(({ id }) => id === driverId)?.name ?? 'no driver'}`,
      ]),
    );
  return compare('way', told(before), told(after));
}

function drivers(before: Design, after: Design): Difference[] {
  const told = ({ drivers: all, measurements: curves }: Design): Told =>
    new Map(
      all.flatMap(({ name, position, responseId, impedanceId, sheet, offAxisIds }) => {
        const curve = (id: string | null) => curves.find((m) => m.id === id)?.name ?? 'none';
        const { xMm, yMm, zMm } = position;
        return [
          [`${name}, place`, [xMm, yMm, zMm].map((mm) => formatNumber(mm)).join(', ') + ' mm'],
          [`${name}, response`, curve(responseId)],
          [`${name}, impedance`, curve(impedanceId)],
          [`${name}, responses off axis`, String(offAxisIds.length)],
          ...Object.entries(sheet).map(
            ([key, value]) =>
              [`${name}, ${key}`, value === null ? 'not known' : formatNumber(value)] as [
                string,
                string,
              ],
          ),
        ] as [string, string][];
      }),
    );
  return compare('driver', told(before), told(after));
}

function couplings(before: Design, after: Design): Difference[] {
  const told = ({ ways: rails, couplings: all }: Design): Told => {
    const names = new Map(rails.flatMap((way) => way.parts.map(({ id, name }) => [id, name])));
    return new Map(
      all.map(({ partA, partB, coefficient }) => [
        `${names.get(partA)} and ${names.get(partB)}`,
        `coupled by ${formatNumber(coefficient)}`,
      ]),
    );
  };
  return compare('part', told(before), told(after));
}

const questions: Readonly<Record<keyof Brief, readonly [question: string, dimension?: Dimension]>> =
  {
    purpose: ['purpose'],
    place: ['place'],
    nearestSeatMm: ['nearest seat', 'distance'],
    farthestSeatMm: ['farthest seat', 'distance'],
    spreadDeg: ['spread of the seats', 'degree'],
    speakerCount: ['number of speakers', 'number'],
    roomGainDb: ['room', 'decibel'],
    ratedWatts: ['amplifier power', 'watt'],
    ratedIntoOhms: ['amplifier load', 'ohm'],
    lowestLoadOhms: ['lowest load', 'ohm'],
    loudnessDb: ['loudness', 'decibel'],
    headroomDb: ['head-room', 'decibel'],
    reach3Hz: ['reach −3 dB', 'hertz'],
    reach10Hz: ['reach −10 dB', 'hertz'],
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

function answers(before: Brief, after: Brief): Difference[] {
  const told = (brief: Brief): Told =>
    new Map(
      (Object.keys(questions) as (keyof Brief)[]).map((key) => {
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
        return [question, text] as const;
      }),
    );
  return compare('answer', told(before), told(after));
}

function settings(before: Design, after: Design): Difference[] {
  const told = ({ amplifier, listeningDistanceMm, airTemperatureC }: Design): Told =>
    new Map([
      ['drive voltage', formatQuantity(amplifier.volts, 'volt')],
      ['output resistance', formatQuantity(amplifier.outputOhms, 'ohm')],
      ['distance of the sum', formatQuantity(listeningDistanceMm, 'millimetre')],
      ['air temperature', `${formatNumber(airTemperatureC)} °C`],
    ]);
  const target = ({ target: { kind, fromHz, toHz, ...shape } }: Design): Told =>
    new Map([
      [
        'target',
        `${kind}, ${formatQuantity(fromHz, 'hertz')} to ${formatQuantity(toHz, 'hertz')}${Object.values(
          shape,
        )
          .map((value) =>
            typeof value === 'number' ? `, ${formatNumber(value)}` : `, ${JSON.stringify(value)}`,
          )
          .join('')}`,
      ],
    ]);
  return [
    ...compare('setting', told(before), told(after)),
    ...compare('target', target(before), target(after)),
  ];
}

function measurements(before: Design, after: Design): Difference[] {
  const told = ({ measurements: curves }: Design): Told =>
    new Map(
      curves.flatMap(({ name, kind, microphone, driveVolts, id, angle, recipe }) => [
        [
          name,
          `${kind} ${id.slice(0, 6)}, ${microphone.placement}, ${formatNumber(microphone.distanceMm)} mm, ${microphone.commonTiming ? 'common timing' : 'own timing'}, ${formatNumber(driveVolts)} V`,
        ],
        [`${name}, angle`, angle ? `${angle.plane} ${formatNumber(angle.degrees)}°` : 'not said'],
        [`${name}, steps`, recipe.map(toldStep).join('; ') || 'none'],
      ]),
    );
  return compare('measurement', told(before), told(after));
}

/** A step and its figures, under their names. */
function toldStep({ kind, isOn, ...figures }: Step): string {
  const values = Object.entries(figures).map(
    ([key, value]: [string, unknown]) =>
      `${key} ${typeof value === 'number' ? formatNumber(value) : String(value)}`,
  );
  return `${kind}${isOn ? '' : ' (off)'} ${values.join(', ')}`;
}

function promises(before: Design, after: Design): Difference[] {
  const told = ({ promises: entries }: Design): Told =>
    new Map(
      entries.map(({ id, kind, isOff, atLeast, atMost, weight }) => [
        id === kind ? kind : `${kind} (${id})`,
        isOff
          ? 'off'
          : [
              atLeast === null ? '' : `at least ${formatNumber(atLeast)}`,
              atMost === null ? '' : `at most ${formatNumber(atMost)}`,
              weight === null ? '' : `weight ${weight}`,
            ]
              .filter(Boolean)
              .join(', '),
      ]),
    );
  return compare('promise', told(before), told(after));
}

import { formatNumber, formatQuantity, type Dimension } from '@/core/units/quantity';
import type { Brief } from './briefSchema';
import { partValue } from './partValue';
import type { Step } from '@/core/measurement/recipe';
import { nodeInWords } from './places';
import { partsOf, type Design, type Part } from './schema';

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
  const told = (design: Design): Told =>
    new Map([
      ...design.ways.flatMap((way) =>
        way.parts.map(
          (part, i) => [part.name, toldPart(part, `${part.place}, ${way.name} ${i + 1}`)] as const,
        ),
      ),
      ...design.bridges.map(
        ({ part, a, b }) =>
          [
            part.name,
            toldPart(part, `from ${nodeInWords(design, a)} to ${nodeInWords(design, b)}`),
          ] as const,
      ),
    ]);
  return compare('part', told(before), told(after));
}

/** A part's value, loss and state. */
function toldPart(part: Part, where: string): string {
  const loss =
    part.kind === 'resistor' || part.seriesOhms === 0
      ? ''
      : ` (${formatQuantity(part.seriesOhms, 'ohm')})`;
  const value = formatQuantity(partValue(part), dimensions[part.kind]);
  const core = part.kind === 'coil' && part.core === 'magnetic' ? ', on a core' : '';
  const state = `${core}${part.isOff ? ', left out' : ''}${part.groupId === null ? '' : ', in a group'}`;
  return `${value}${loss}, ${where}${state}`;
}

function ways(before: Design, after: Design): Difference[] {
  const told = (design: Design): Told =>
    new Map(
      design.ways.map(({ name, polarity, ends, endsJoin, from, target, mirrorOf }) => {
        const drivers = ends.map(({ driverId, polarity: own }) => {
          const driver = design.drivers.find(({ id }) => id === driverId)!;
          return `${driver.name}${own === 'reversed' ? ' (turned)' : ''}`;
        });
        return [
          name,
          [
            polarity === 'normal' ? 'in phase' : 'reversed',
            drivers.join(endsJoin === 'series' ? ' in series with ' : ' beside ') || 'no driver',
            ...(target
              ? [
                  `toward ${[target.highPass, target.lowPass]
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
          ].join(', '),
        ];
      }),
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
  const told = (design: Design): Told => {
    const names = new Map(partsOf(design).map(({ id, name }) => [id, name]));
    return new Map(
      design.couplings.map(({ partA, partB, coefficient }) => [
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
  const told = ({ amplifier, terminals, isJoined, switches, ...rest }: Design): Told =>
    new Map([
      ['cable', formatQuantity(amplifier.cableOhms, 'ohm')],
      ['terminals', terminals.length === 1 ? 'one pair' : isJoined ? 'joined' : 'separate'],
      ...terminals.map(
        ({ name, gainDb, polarity }) =>
          [
            `terminals ${name}`,
            `${formatNumber(gainDb)} dB, ${polarity === 'normal' ? 'in phase' : 'reversed'}`,
          ] as const,
      ),
      ...switches.map(
        ({ name, positions, chosenId }) =>
          [
            `switch ${name}`,
            `at ${positions.find(({ id }) => id === chosenId)!.name} of ${positions.map((one) => one.name).join(', ')}`,
          ] as const,
      ),
      ['drive voltage', formatQuantity(amplifier.volts, 'volt')],
      ['output resistance', formatQuantity(amplifier.outputOhms, 'ohm')],
      ['distance of the sum', formatQuantity(rest.listeningDistanceMm, 'millimetre')],
      ['air temperature', `${formatNumber(rest.airTemperatureC)} °C`],
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

import { leastOhms, seatGainsDb, type SeatConditions } from '@/core/brief/arithmetic';
import { seatOf, wantedSineDb } from '@/core/brief/answers';
import { sheetLoadsAtLoudness } from '@/core/brief/asked';
import { term } from '@/core/brief/consequence';
import { impedanceFloor } from '@/core/brief/load';
import { neededSensitivityDb } from '@/core/brief/sensitivity';
import type { Brief, PromiseEntry, PromiseKind, Yielding } from '@/core/document/briefSchema';
import { quadratureOf } from '@/core/document/meantPhase';
import { driveOf, driveVoltsOf, travelCrestFactor } from '@/core/document/programme';
import type { Design } from '@/core/document/schema';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { kinds } from './kinds';
import type { Conditions, DesignPromise } from './promise';

/** The promises that follow from a brief, before anything is changed by hand. */
interface Derived {
  readonly kind: PromiseKind;
  readonly limit: number;
  readonly answers: readonly string[];
  readonly arithmetic: string;
  readonly yields: Yielding | null;
}

/** ± dB that a purpose asks for when nothing else was said (common practice, no source). */
const evennessFor: Readonly<Record<NonNullable<Brief['purpose']>, number>> = {
  music: 2,
  film: 3,
  desk: 2,
  mixing: 1.5,
  outdoors: 3,
};

/**
 * All promises of a design: those that follow from its brief, as adjusted by hand, and those made by hand. Promises
 * that were switched off are left out.
 */
export function promisesOf(design: Design): DesignPromise[] {
  const conditions = conditionsOf(design);
  const derived = derive(design).flatMap((follows): DesignPromise[] => {
    const entry = design.promises.find(({ id }) => id === follows.kind);
    return entry?.isOff ? [] : [fromBrief(follows, entry, design, conditions)];
  });
  const known = new Set<string>(derivedKinds(design));
  const own = design.promises.filter(({ id, isOff }) => !known.has(id) && !isOff);
  return [...derived, ...own.map((entry) => byHand(entry, conditions))];
}

/** Kinds of promises that follow from the brief, switched off or not. */
export const derivedKinds = (design: Design): PromiseKind[] =>
  derive(design).map(({ kind }) => kind);

function fromBrief(
  { kind, limit, answers, arithmetic, yields }: Derived,
  entry: PromiseEntry | undefined,
  design: Design,
  conditions: Conditions,
): DesignPromise {
  const { side } = kinds[kind];
  const hasLimit = entry !== undefined && (entry.atLeast !== null || entry.atMost !== null);
  const usual = { atLeast: null, atMost: null, [side]: roundedLimit(kind, limit) };
  const { atLeast, atMost } = hasLimit ? entry : usual;
  return {
    id: kind,
    kind,
    atLeast,
    atMost,
    band: bandOf(kind, entry, conditions),
    weight: entry?.weight ?? weightOf(design.brief, yields),
    source: { answers, arithmetic, isAdjusted: entry !== undefined },
    conditions,
  };
}

/** A limit with as many decimals as its figure is told with, rounded to the safe side. */
function roundedLimit(kind: PromiseKind, limit: number): number {
  const { side, decimals } = kinds[kind];
  const unit = 10 ** -decimals;
  const steps =
    side === 'atLeast' ? Math.ceil(limit / unit - 1e-9) : Math.floor(limit / unit + 1e-9);
  return Number((steps * unit).toFixed(decimals));
}

function byHand(entry: PromiseEntry, conditions: Conditions): DesignPromise {
  const { side, usual } = kinds[entry.kind];
  const hasLimit = entry.atLeast !== null || entry.atMost !== null;
  return {
    id: entry.id,
    kind: entry.kind,
    ...(hasLimit
      ? { atLeast: entry.atLeast, atMost: entry.atMost }
      : { atLeast: null, atMost: null, [side]: usual }),
    band: bandOf(entry.kind, entry, conditions),
    weight: entry.weight ?? 3,
    source: { answers: [], arithmetic: 'Made by hand.', isAdjusted: false },
    conditions,
  };
}

function bandOf(kind: PromiseKind, entry: PromiseEntry | undefined, { target }: Conditions) {
  if (!kinds[kind].hasBand) return null;
  return { fromHz: entry?.fromHz ?? target.fromHz, toHz: entry?.toHz ?? target.toHz };
}

/** What gives way first weighs 1, what gives way last or never 5; what was not ranked weighs 3. */
function weightOf({ givesWay }: Brief, yields: Yielding | null): number {
  if (yields === null) return 5;
  const place = givesWay.indexOf(yields);
  return place < 0 ? 3 : 1 + Math.round((4 * place) / Math.max(1, givesWay.length - 1));
}

/** What the promises of a design are judged under. */
export function conditionsOf(design: Design): Conditions {
  return {
    target: design.target,
    amplifier: design.amplifier,
    seat: seatOf(design, 'farthest'),
    quadrature: quadratureOf(design),
    drivers: design.drivers,
    driveVolts: driveVoltsOf(design),
    loudnessDb: design.brief.loudnessDb,
    sheetLoads: sheetLoadsAtLoudness(design),
  };
}

const ohm = (value: number) => formatQuantity(value, 'ohm');

function derive(design: Design): Derived[] {
  const { brief } = design;
  return [
    ...deriveShape(design),
    ...deriveReach(brief),
    ...deriveLevel(brief, design),
    ...deriveLoad(design),
    ...deriveDrivers(design),
    ...deriveMeans(brief),
  ];
}

function deriveShape(design: Design): Derived[] {
  const { evennessDb, purpose, spreadDeg } = design.brief;
  const limit = evennessDb ?? (purpose === null ? null : evennessFor[purpose]);
  if (limit === null) return [];
  const said =
    evennessDb === null
      ? {
          answers: ['purpose'],
          arithmetic: `For ${purpose} ±${limit} dB is usual (common practice).`,
        }
      : { answers: ['evenness'], arithmetic: `Asked for: ±${formatNumber(evennessDb)} dB.` };
  const shape: Derived[] = [{ kind: 'on-axis', limit, ...said, yields: 'evenness' }];
  if (spreadDeg !== null)
    shape.push(
      {
        kind: 'window',
        limit: limit + 0.5,
        answers: [...said.answers, 'spread of the seats'],
        arithmetic: `Seats spread ±${formatNumber(spreadDeg)}°, so the window counts: half a decibel more than on axis.`,
        yields: 'evenness',
      },
      {
        kind: 'directivity',
        limit: 1.5,
        answers: ['spread of the seats'],
        arithmetic:
          'Seats off the axis hear evenly only where directivity does not jump (common practice).',
        yields: 'evenness',
      },
    );
  const apart = quadratureOf(design).map((pair) =>
    pair.map((id) => design.ways.find((way) => way.id === id)!.name).join(' and '),
  );
  shape.push({
    kind: 'phase-tracking',
    limit: 30,
    answers: said.answers,
    arithmetic: [
      'Neighbours that are meant to be in phase lose less than 0.3 dB within 30° of it: 20·log(cos 15°) = −0.3 dB (common practice).',
      ...apart.map(
        (names) =>
          `${names} are meant to be 90° apart, as Butterworth slopes of odd order are, and add up flat either way round; 30° off that, the sum rises by 1.8 dB or falls by 3.0: 10·log(1 ± sin 30°).`,
      ),
    ].join(' '),
    yields: 'evenness',
  });
  return shape;
}

function deriveReach({ reach3Hz, reach10Hz }: Brief): Derived[] {
  const asked = (kind: 'reach-3' | 'reach-10', limit: number | null): Derived[] =>
    limit === null
      ? []
      : [
          {
            kind,
            limit,
            answers: ['low-frequency reach'],
            arithmetic: `Asked for: ${formatQuantity(limit, 'hertz')}.`,
            yields: 'reach',
          },
        ];
  return [...asked('reach-3', reach3Hz), ...asked('reach-10', reach10Hz)];
}

function deriveLevel(brief: Brief, design: Design): Derived[] {
  const wanted = wantedSineDb(brief);
  if (wanted === null) return [];
  const headroom = brief.headroomDb ?? 0;
  const level: Derived[] = [
    {
      kind: 'seat-level',
      limit: wanted,
      answers: ['loudness', 'head-room'],
      arithmetic:
        headroom > 3
          ? `${formatNumber(brief.loudnessDb!)} dB with peaks ${formatNumber(headroom)} dB over it; a sine with the same peaks has ${formatFixed(wanted, 1)} dB.`
          : `Asked for: ${formatNumber(brief.loudnessDb!)} dB.`,
      yields: 'loudness',
    },
  ];
  const seat = seatOf(design, 'farthest');
  if (seat) level.push(sensitivityFor(wanted, seat, brief));
  return level;
}

function sensitivityFor(wanted: number, seat: SeatConditions, brief: Brief): Derived {
  const { drive, distance, count, room } = seatGainsDb(seat);
  const { roomGainDb, roomSquareMetres } = brief;
  const from =
    roomGainDb !== null ? 'stated' : roomSquareMetres !== null ? 'by its floor' : 'assumed';
  return {
    kind: 'sensitivity',
    limit: neededSensitivityDb(wanted, seat),
    answers: ['loudness', 'amplifier', 'seats'],
    arithmetic: `${formatFixed(wanted, 1)} dB at ${formatQuantity(seat.distanceMm, 'distance')} ${term(-drive)} (${formatNumber(seat.watts)} W) ${term(-distance)} (distance) ${term(-count)} (${seat.speakerCount} speakers) ${term(-room)} (room, ${from}).`,
    yields: 'loudness',
  };
}

/** Output resistance from which on an amplifier has valves or no feedback, and no class-B devices to fear for (common practice). */
const classBOhms = 0.5;

function deriveLoad({ brief, amplifier }: Design): Derived[] {
  const { ratedOhms, lowestLoadOhms } = brief;
  const load: Derived[] = [];
  const floor = impedanceFloor(brief);
  if (floor !== null)
    load.push({
      kind: 'lowest-impedance',
      limit: floor,
      answers: [
        ...(ratedOhms === null ? [] : ['rated impedance']),
        ...(lowestLoadOhms === null ? [] : ['amplifier']),
      ],
      arithmetic: [
        ratedOhms === null
          ? ''
          : `80 % of the rated ${ohm(ratedOhms)} is ${ohm(leastOhms(ratedOhms))} (IEC 60268-5).`,
        lowestLoadOhms === null ? '' : `The amplifier tolerates ${ohm(lowestLoadOhms)}.`,
      ]
        .filter(Boolean)
        .join(' '),
      yields: null,
    });
  if (lowestLoadOhms !== null && amplifier.outputOhms < classBOhms)
    load.push({
      kind: 'equivalent-resistance',
      limit: lowestLoadOhms / 2,
      answers: ['amplifier'],
      arithmetic: `Half of the lowest load of ${ohm(lowestLoadOhms)} (common practice): a load with phase puts current through a class-B device while much voltage stands across it. It does not hold for valves or single-ended stages.`,
      yields: null,
    });
  return load;
}

function deriveDrivers(design: Design): Derived[] {
  const { brief, drivers } = design;
  const limits: Derived[] = [];
  if (brief.loudnessDb !== null && drivers.some(({ sheet }) => sheet.xmaxMm !== null))
    limits.push({
      kind: 'travel',
      limit: 1,
      answers: ['loudness', 'seats'],
      arithmetic: `At the loudness asked for, programme of IEC 60268-1, peaks of travel ${travelCrestFactor} times its rms. Beyond Xmax a driver distorts.`,
      yields: 'loudness',
    });
  if (brief.ratedWatts !== null && drivers.some(({ sheet }) => sheet.ratedWatts !== null))
    limits.push({
      kind: 'driver-power',
      limit: 1,
      answers: ['amplifier', 'programme'],
      arithmetic: `With ${driveOf(brief).words}. The voltage at each driver against the one that its rating means.`,
      yields: null,
    });
  return limits;
}

function deriveMeans({
  money,
  currency,
  ratedWatts,
  widthMm,
  heightMm,
  depthMm,
}: Brief): Derived[] {
  const means: Derived[] = [];
  if (money !== null)
    means.push({
      kind: 'cost',
      limit: money,
      answers: ['money'],
      arithmetic: `Asked for: ${currency} ${formatNumber(money)} for one speaker.`,
      yields: 'money',
    });
  if (widthMm !== null && heightMm !== null && depthMm !== null) {
    const litres = (widthMm * heightMm * depthMm) / 1e6;
    means.push({
      kind: 'outside-size',
      limit: litres,
      answers: ['outside size'],
      arithmetic: `${formatNumber(widthMm)} × ${formatNumber(heightMm)} × ${formatNumber(depthMm)} mm are ${formatNumber(litres, 3)} litres.`,
      yields: 'size',
    });
  }
  if (ratedWatts !== null)
    means.push({
      kind: 'resistor-heat',
      limit: 0.5,
      answers: ['amplifier'],
      arithmetic:
        'A resistor lives long at half its rating (common practice). It is hot then, 100 to 150 °C over the air around it: keep it clear of board, cable and damping.',
      yields: null,
    });
  return means;
}

import { leastOhms, seatGainsDb, travelMm, type SeatConditions } from '@/core/brief/arithmetic';
import { seatOf, wantedPeakDb } from '@/core/brief/answers';
import { wooferOf } from '@/core/brief/consequence';
import type { Brief, PromiseEntry, PromiseKind, Yielding } from '@/core/design/briefSchema';
import type { Design } from '@/core/design/schema';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { kinds } from './kinds';
import type { Conditions, DesignPromise, TravelConditions } from './promise';

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
  const usual = { atLeast: null, atMost: null, [side]: limit };
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

function conditionsOf(design: Design): Conditions {
  return {
    target: design.target,
    volts: design.amplifier.volts,
    seat: seatOf(design.brief, 'farthest'),
    travel: travelOf(design),
  };
}

/** Travel of the woofer for the level asked for, at the end of the reach; null while something is not known. */
function travelOf(design: Design): TravelConditions | null {
  const { brief, airTemperatureC } = design;
  const seat = seatOf(
    { ...brief, ratedWatts: brief.ratedWatts ?? 1, ratedIntoOhms: brief.ratedIntoOhms ?? 8 },
    'farthest',
  );
  const wanted = wantedPeakDb(brief);
  const woofer = wooferOf(design);
  if (!seat || wanted === null || brief.reach3Hz === null || !woofer?.sheet.xmaxMm) return null;
  const { distance, count, room } = seatGainsDb(seat);
  // At the −3 dB frequency the speaker gives 3 dB less.
  const levelAt1m = wanted - 3 - distance - count - room;
  return {
    driverName: woofer.name,
    allowedMm: woofer.sheet.xmaxMm,
    neededMm: travelMm(levelAt1m, brief.reach3Hz, woofer.sheet.sdCm2!, airTemperatureC),
    atHz: brief.reach3Hz,
  };
}

const ohm = (value: number) => formatQuantity(value, 'ohm');

function derive(design: Design): Derived[] {
  const { brief } = design;
  return [
    ...deriveShape(brief),
    ...deriveReach(brief),
    ...deriveLevel(brief, design),
    ...deriveLoad(brief),
    ...deriveMeans(brief),
  ];
}

function deriveShape(brief: Brief): Derived[] {
  const { evennessDb, purpose, spreadDeg } = brief;
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
  shape.push({
    kind: 'phase-tracking',
    limit: 30,
    answers: said.answers,
    arithmetic:
      'Neighbours within 30° add to within 0.3 dB of in-phase: 20·log(cos 15°) = −0.3 dB.',
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
  const wanted = wantedPeakDb(brief);
  if (wanted === null) return [];
  const level: Derived[] = [
    {
      kind: 'seat-level',
      limit: wanted,
      answers: ['loudness', 'head-room'],
      arithmetic: `${formatNumber(brief.loudnessDb!)} dB and ${formatNumber(brief.headroomDb ?? 0)} dB of head-room make ${formatNumber(wanted)} dB.`,
      yields: 'loudness',
    },
  ];
  const seat = seatOf(brief, 'farthest');
  if (seat) level.push(sensitivityFor(wanted, seat, brief));
  if (brief.reach3Hz !== null && design.drivers.some(({ sheet }) => sheet.sdCm2 && sheet.xmaxMm))
    level.push({
      kind: 'travel',
      limit: 1,
      answers: ['loudness', 'head-room', 'low-frequency reach'],
      arithmetic: 'The cone may not have to travel farther than it can.',
      yields: 'loudness',
    });
  return level;
}

function sensitivityFor(wanted: number, seat: SeatConditions, brief: Brief): Derived {
  const { drive, distance, count, room } = seatGainsDb(seat);
  const term = (value: number) => `${value < 0 ? '−' : '+'} ${formatFixed(Math.abs(value), 1)}`;
  return {
    kind: 'sensitivity',
    limit: wanted - drive - distance - count - room,
    answers: ['loudness', 'amplifier', 'seats'],
    arithmetic: `${formatNumber(wanted)} dB at ${formatQuantity(seat.distanceMm, 'distance')} ${term(-drive)} (${formatNumber(seat.watts)} W) ${term(-distance)} (distance) ${term(-count)} (${seat.speakerCount} speakers) ${term(-room)} (room, ${brief.roomGainDb === null ? 'assumed' : 'stated'}).`,
    yields: 'loudness',
  };
}

function deriveLoad({ ratedOhms, lowestLoadOhms }: Brief): Derived[] {
  const load: Derived[] = [];
  const floor = Math.max(ratedOhms === null ? 0 : leastOhms(ratedOhms), lowestLoadOhms ?? 0);
  if (floor > 0)
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
  if (lowestLoadOhms !== null)
    load.push({
      kind: 'equivalent-resistance',
      limit: lowestLoadOhms / 2,
      answers: ['amplifier'],
      arithmetic: `Half of the lowest load of ${ohm(lowestLoadOhms)}: a load with phase heats more than its modulus says (common practice).`,
      yields: null,
    });
  return load;
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
        'A resistor at half its rating stays cool enough to touch a board (common practice).',
      yields: null,
    });
  return means;
}

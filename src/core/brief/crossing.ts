import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { driveVoltsOf, excursionCrestFactor } from '@/core/document/programme';
import type { Design, Driver } from '@/core/document/schema';
import type { DesignWithoutParts } from '@/core/document/withoutParts';
import { motionOfFigures } from '@/core/driver/motion';
import { ratingOf } from '@/core/driver/rating';
import { sheetFigures } from '@/core/driver/sheetFigures';
import { logGrid } from '@/core/grid/logGrid';
import { createMemory } from '@/core/prediction/memory';
import { frequencyOfKa, kaSixDown, kaTakeOver } from '@/core/radiation/piston';
import { programmeShares } from '@/core/spectrum/programme';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { decibels, hertz, type Consequence } from './consequence';
import { roundedDown, roundedUp } from '@/core/units/rounding';
import { stepLoss } from './sensitivity';

/** A frequency that bounds a crossover, and why, as "because …" goes on. */
interface Bound {
  readonly hz: number;
  readonly because: string;
}

/** Where two drivers may hand over by their data sheets. */
interface CrossingRange {
  /** Not below: what the upper driver bears; null while its sheet does not tell. */
  readonly least: Bound | null;
  /** Not above: where the lower driver narrows; null while its sheet does not tell. */
  readonly most: Bound | null;
}

/** Order of the electrical high pass by which a range is told. */
type CrossingOrder = 1 | 2 | 3 | 4;
const orders: readonly CrossingOrder[] = [1, 2, 3, 4];

/**
 * Where two drivers may hand over. The lower bound is the highest of: an octave above the upper
 * driver's resonance (common practice), the frequency from which its excursion stays within Xmax,
 * and that from which its power stays within its rating, with the amplifier driven as the brief
 * says through a Butterworth high pass and the pad that its level asks for. The upper bound is the
 * lower driver's ka of 2, where its directivity begins to jump against a dome's, or, where seats
 * spread wide, its −6 dB there.
 */
export function crossingRange(
  design: Design,
  lower: Driver,
  upper: Driver,
  order: CrossingOrder,
): CrossingRange {
  const name = upper.name.toLowerCase();
  const candidates: Bound[] = [];
  const { fsHz } = upper.sheet;
  if (fsHz !== null)
    candidates.push({
      hz: 2 * fsHz,
      because: `an octave above the ${name}’s resonance is left free`,
    });
  const { excursionHz, powerHz } = strainBounds(design, lower, upper, order);
  if (excursionHz !== null)
    candidates.push({ hz: excursionHz, because: `below it the ${name} would pass Xmax` });
  if (powerHz !== null)
    candidates.push({ hz: powerHz, because: `below it the ${name} would pass its rated power` });
  const least = candidates.reduce<Bound | null>(
    (most, one) => (most === null || one.hz > most.hz ? one : most),
    null,
  );
  return { least, most: narrowing(design, lower) };
}

/** Edges of the listening window of ANSI/CTA-2034-A, degrees from the axis. */
const windowEdge = { horizontal: 30, vertical: 10 };

/**
 * Highest frequency at which two drivers can hand over: where the lower one is 6 dB down at the
 * seats to the sides, or at the edge of the listening window while the brief names none; and where
 * the two, equal and in phase on the axis, cancel at its upper and lower edge: there their paths
 * differ by half a wave, f = c/(2·d·sin 10°).
 *
 * @returns null while neither is known
 */
function crossingLimit(design: DesignWithoutParts, lower: Driver, upper: Driver): Bound | null {
  const { brief, airTemperatureC } = design;
  const { xMm, yMm } = lower.position;
  const speed = speedOfSoundMps(airTemperatureC);
  const apartM = Math.hypot(xMm - upper.position.xMm, yMm - upper.position.yMm) / 1000;
  const sine = Math.sin((windowEdge.vertical * Math.PI) / 180);
  const edge = Math.min(Math.max(brief.spreadDeg ?? windowEdge.horizontal, 10), 90);
  const bounds: Bound[] = [];
  if (lower.sheet.sdCm2 !== null)
    bounds.push({
      hz: frequencyOfKa(kaSixDown(edge), lower.sheet.sdCm2, speed),
      because: `above it the ${lower.name.toLowerCase()} is 6 dB down at ±${formatNumber(edge)}°`,
    });
  if (apartM > 0)
    bounds.push({
      hz: speed / (2 * apartM * sine),
      because: `above it the two, ${formatNumber(Math.round(1000 * apartM))} mm apart, cancel within ±${windowEdge.vertical}° above and below`,
    });
  return bounds.length === 0
    ? null
    : bounds.reduce((least, one) => (one.hz < least.hz ? one : least));
}

/** Highest crossovers of pairs of drivers, by their ids. */
export type CrossingLimits = readonly {
  readonly lowerId: string;
  readonly upperId: string;
  readonly hz: number;
}[];

/** Of every driver with every other that may be above it; kept while nothing of it changes. */
export function crossingLimitsOf(design: DesignWithoutParts): CrossingLimits {
  const { drivers, brief, airTemperatureC } = design;
  return rememberLimits('', [drivers, brief.spreadDeg, airTemperatureC], () =>
    drivers.flatMap((lower) =>
      drivers.flatMap((upper) => {
        const limit = lower === upper ? null : crossingLimit(design, lower, upper);
        return limit ? [{ lowerId: lower.id, upperId: upper.id, hz: limit.hz }] : [];
      }),
    ),
  );
}

const rememberLimits = createMemory<CrossingLimits>();

/**
 * The limit of a pair; null where it is not known.
 *
 * @param breakUpHz where the lower one's cone breaks up: it hands over an octave below
 */
export function crossingLimitHz(
  limits: CrossingLimits,
  lowerId: string | undefined,
  upperId: string | undefined,
  breakUpHz: number | null,
): number | null {
  const own = limits.find((one) => one.lowerId === lowerId && one.upperId === upperId)?.hz ?? null;
  if (breakUpHz === null) return own;
  return Math.min(own ?? Infinity, breakUpHz / 2);
}

/** The limits of drivers that are neighbours in size, each in a sentence. */
export const crossingSentences = (design: DesignWithoutParts): string[] =>
  neighbours(design).flatMap(([lower, upper]) => {
    const limit = crossingLimit(design, lower, upper);
    return limit ? [`${lower.name} and ${upper.name}: ${hertz(limit.hz)}; ${limit.because}.`] : [];
  });

function narrowing({ brief, airTemperatureC }: Design, { name, sheet }: Driver): Bound | null {
  const { sdCm2 } = sheet;
  if (sdCm2 === null) return null;
  const at = (ka: number) => frequencyOfKa(ka, sdCm2, speedOfSoundMps(airTemperatureC));
  const word = name.toLowerCase();
  const takeOver = {
    hz: at(kaTakeOver),
    because: `above it the ${word} narrows (ka = ${kaTakeOver}) and the directivity jumps`,
  };
  const { spreadDeg } = brief;
  if (spreadDeg === null) return takeOver;
  const seats = at(kaSixDown(spreadDeg));
  return seats < takeOver.hz
    ? { hz: seats, because: `above it the ${word} is 6 dB down at ±${formatNumber(spreadDeg)}°` }
    : takeOver;
}

/**
 * Attenuation by which an upper driver comes down to a lower one, dB; 0 while a sheet does not
 * tell.
 */
function padDb({ brief, airTemperatureC }: Design, lower: Driver, upper: Driver): number {
  const [low, high] = [lower, upper].map(
    ({ sheet }) => sheetFigures(sheet, airTemperatureC).sensitivityDb,
  );
  return low === null || high === null ? 0 : Math.max(0, high - low + stepLoss(brief).db);
}

/**
 * Frequencies from which excursion and power stay within their limits; null where the sheet does
 * not tell, or always.
 */
function strainBounds(design: Design, lower: Driver, upper: Driver, order: CrossingOrder) {
  const volts = driveVoltsOf(design);
  const grid = logGrid(20, 20_000, 24);
  if (volts === null) return { excursionHz: null, powerHz: null };
  const drive = volts * 10 ** (-padDb(design, lower, upper) / 20);
  const shares = programmeShares(grid);
  const motion = motionOfFigures(upper.sheet, null, grid, design.airTemperatureC);
  const rating = ratingOf(upper.sheet);
  /** Sum over the programme behind a high pass. */
  const behind = (hz: number, weight: (i: number) => number) =>
    grid.reduce((sum, f, i) => sum + (shares[i] * weight(i)) / (1 + (hz / f) ** (2 * order)), 0);
  const excursionMm = (hz: number) =>
    1000 *
    excursionCrestFactor *
    drive *
    Math.sqrt(behind(hz, (i) => motion!.metresPerVolt[i] ** 2));
  const voltsSquared = (hz: number) => drive ** 2 * behind(hz, () => 1);
  const { xmaxMm } = upper.sheet;
  return {
    excursionHz: motion && xmaxMm !== null ? lowestKeeping(excursionMm, xmaxMm) : null,
    powerHz: rating ? lowestKeeping(voltsSquared, rating.voltsSquared) : null,
  };
}

/**
 * Lowest frequency from which a falling figure stays within its limit; null when it does so
 * everywhere.
 */
function lowestKeeping(figure: (hz: number) => number, limit: number): number | null {
  let [low, high] = [20, 20_000];
  if (figure(low) <= limit) return null;
  for (let i = 0; i < 40; i++) {
    const middle = Math.sqrt(low * high);
    if (figure(middle) > limit) low = middle;
    else high = middle;
  }
  return high;
}

/** Neighbours by the size of their cones, from the largest down; drivers of one size count once. */
export function neighbours({ drivers }: Pick<Design, 'drivers'>): [Driver, Driver][] {
  const sorted = drivers
    .filter(({ sheet }) => sheet.sdCm2 !== null)
    .sort((a, b) => b.sheet.sdCm2! - a.sheet.sdCm2!)
    .filter(({ sheet }, i, all) => i === 0 || sheet.sdCm2! < 0.95 * all[i - 1].sheet.sdCm2!);
  return sorted.slice(1).map((upper, i) => [sorted[i], upper]);
}

/** A lower bound is rounded up, as an upper one is rounded down. */
const up = (hz: number) => roundedUp(hz, 2);

/** Order by which a range is told: the usual one. */
const usualOrder = 2;

/** For each pair of neighbours where they may hand over, in one sentence. */
export function crossingConsequences(design: Design): Consequence[] {
  return neighbours(design).flatMap(([lower, upper]): Consequence[] => {
    const { least, most } = crossingRange(design, lower, upper, usualOrder);
    if (!least || !most) return [];
    const [from, to] = [up(least.hz), roundedDown(most.hz, 2)];
    const names = `${lower.name} and ${upper.name.toLowerCase()}`;
    const gentler = orders.find((order) => {
      const range = crossingRange(design, lower, upper, order);
      return range.least !== null && up(range.least.hz) <= to;
    });
    const isPossible = from <= to;
    return [
      {
        id: `crossing-${lower.id}-${upper.id}`,
        tone: isPossible ? 'plain' : 'conflict',
        text: isPossible
          ? `${names}: cross between ${hertz(from)} and ${hertz(to)} with a network of second order, because ${least.because}, and ${most.because}.`
          : `${names}: with a network of second order there is no place to cross. They should do so above ${hertz(from)}, because ${least.because}, but under ${hertz(to)}, because ${most.because}.${gentler !== undefined && gentler > usualOrder ? ` Order ${gentler} makes room.` : ''}`,
        arithmetic: [
          ...levelsLine(design, lower, upper),
          ...orders.map((order) => orderLine(design, lower, upper, order)),
          `Upper bound: ka = ${kaTakeOver} of ${formatNumber(lower.sheet.sdCm2!)} cm², ${hertz(frequencyOfKa(kaTakeOver, lower.sheet.sdCm2!, speedOfSoundMps(design.airTemperatureC)))}.`,
        ],
      },
    ];
  });
}

function levelsLine(design: Design, lower: Driver, upper: Driver): string[] {
  const [low, high] = [lower, upper].map(
    ({ sheet }) => sheetFigures(sheet, design.airTemperatureC).sensitivityDb,
  );
  return low === null || high === null
    ? []
    : [
        `For 2.83 V in half space the ${lower.name.toLowerCase()} gives ${decibels(low)}, the ${upper.name.toLowerCase()} ${decibels(high)}; with the baffle step its L-pad is ${formatFixed(padDb(design, lower, upper), 1)} dB.`,
      ];
}

function orderLine(design: Design, lower: Driver, upper: Driver, order: CrossingOrder): string {
  const { excursionHz, powerHz } = strainBounds(design, lower, upper, order);
  const told = (hz: number | null) => (hz === null ? 'no bound' : `from ${hertz(up(hz))}`);
  return `Order ${order}: within Xmax ${told(excursionHz)}, within the rated power ${told(powerHz)}.`;
}

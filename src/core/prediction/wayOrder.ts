import { resonanceOf } from '@/core/driver/resonance';
import type { Samples } from '@/core/measurement/samples';
import type { Driver } from '@/core/document/schema';

/**
 * Where a driver plays by itself, whatever network is before it: what neighbours are ordered by.
 */
export interface PlayingRange {
  /** Middle of the stretch in which its response keeps within 6 dB of its median, octaves over 1 Hz. */
  readonly middleOctaves: number;
  readonly fsHz: number | null;
  readonly sdCm2: number | null;
}

/** The stretch ends where the response is this much under its median, dB. */
const fallDb = 6;
/** Where drivers are compared: what is beyond is noise more often than not. */
const heardHz = { from: 20, to: 20_000 };
/** The median is that of the louder half of the octaves: of where the driver plays. */
const quantile = 0.75;

/**
 * Middle of the stretch in which a response keeps within 6 dB of its median, from the lowest to the
 * highest frequency that does: a peak of a cone that breaks up moves neither end by much, nor the
 * median.
 *
 * @param levelDb by frequency; places that are not finite count as silent
 * @returns octaves over 1 Hz; null for silence
 */
export function middleOctaves(frequencyHz: Float64Array, levelDb: Float64Array): number | null {
  const last = frequencyHz.length - 1;
  const places: { readonly octave: number; readonly width: number; readonly db: number }[] = [];
  for (let i = 0; i <= last; i++) {
    const hz = frequencyHz[i];
    if (hz < heardHz.from || hz > heardHz.to || !Number.isFinite(levelDb[i])) continue;
    const width = Math.log2(
      frequencyHz[Math.min(last, i + 1)] / Math.max(1, frequencyHz[Math.max(0, i - 1)]),
    );
    places.push({ octave: Math.log2(hz), width, db: levelDb[i] });
  }
  if (places.length === 0) return null;
  const byLevel = [...places].sort((a, b) => a.db - b.db);
  const whole = byLevel.reduce((sum, { width }) => sum + width, 0);
  let below = 0;
  const median = byLevel.find(({ width }) => (below += width) >= quantile * whole) ?? byLevel[0];
  const isHeard = ({ db }: { readonly db: number }) => db >= median.db - fallDb;
  return (places.find(isHeard)!.octave + places.findLast(isHeard)!.octave) / 2;
}

/** Responses are immutable, and a search asks of the same ones thousands of times. */
const knownMiddles = new WeakMap<Samples, number | null>();

/** What is known of a driver. */
interface KnownDriver {
  readonly driver: Pick<Driver, 'sheet'>;
  readonly response: Samples | null;
  readonly impedance: Samples;
}

/** @returns null for a driver that is silent */
export function playingRangeOf({
  driver: { sheet },
  response,
  impedance,
}: KnownDriver): PlayingRange | null {
  if (!response) return null;
  let middle = knownMiddles.get(response);
  if (middle === undefined) {
    middle = middleOctaves(response.frequencyHz, response.magnitude);
    knownMiddles.set(response, middle);
  }
  if (middle === null) return null;
  const fsHz = resonanceOf(sheet, impedance)?.hz ?? null;
  return { middleOctaves: middle, fsHz, sdCm2: sheet.sdCm2 };
}

/** The range of a way: of its first driver that is heard. */
export const rangeOfWay = (ends: readonly KnownDriver[]): PlayingRange | null =>
  ends.reduce<PlayingRange | null>((range, end) => range ?? playingRangeOf(end), null);

/** Middles that are further apart settle the order, octaves. */
const clearOctaves = 1;
/** Differences that are smaller say nothing: of middles in octaves, of resonances and areas as ratios. */
const least = { octaves: 1 / 3, fsRatio: 1.2, sdRatio: 1.3 };

const voteOf = (difference: number, from: number): number =>
  Math.abs(difference) < from ? 0 : Math.sign(difference);

/**
 * Which of two drivers plays lower: by the middle of their ranges; where these are close, resonance
 * and area have a voice each.
 *
 * @returns below 0 when it is the first, above when it is the second, 0 when they are alike
 */
export function compareRanges(a: PlayingRange, b: PlayingRange): number {
  const apart = a.middleOctaves - b.middleOctaves;
  if (Math.abs(apart) >= clearOctaves) return apart;
  const ratio = (one: number | null, other: number | null) =>
    one !== null && other !== null && one > 0 && other > 0 ? Math.log(one / other) : 0;
  const votes =
    voteOf(apart, least.octaves) +
    voteOf(ratio(a.fsHz, b.fsHz), Math.log(least.fsRatio)) -
    voteOf(ratio(a.sdCm2, b.sdCm2), Math.log(least.sdRatio));
  return votes !== 0 ? votes : voteOf(apart, least.octaves);
}

/** A way with where its drivers play by themselves, and how loud it is behind its network. */
interface OrderedWay {
  readonly range: PlayingRange | null;
  readonly levelDb: Float64Array;
}

/**
 * Ways from the lowest to the highest, those without a range left out. Drivers that are alike, as
 * two woofers of which one stops earlier, are ordered by what their networks leave of them.
 */
export function fromLowest<T extends OrderedWay>(ways: readonly T[]): T[] {
  const order: T[] = [];
  for (const way of ways) {
    if (!way.range) continue;
    let at = order.length;
    while (at > 0 && isLower(way, order[at - 1])) at--;
    order.splice(at, 0, way);
  }
  return order;
}

function isLower(one: OrderedWay, other: OrderedWay): boolean {
  const order = compareRanges(one.range!, other.range!);
  return order !== 0 ? order < 0 : centroid(one.levelDb) < centroid(other.levelDb);
}

/** Mean place on the grid by energy. */
function centroid(levelDb: Float64Array): number {
  let [sum, moment] = [0, 0];
  for (let i = 0; i < levelDb.length; i++) {
    const energy = 10 ** (levelDb[i] / 10);
    sum += energy;
    moment += energy * i;
  }
  return moment / sum;
}

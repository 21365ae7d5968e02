import type { MeasurementId } from '@/core/fields';
import type { Driver, Measurement } from '@/core/document/schema';
import type { Samples } from '@/core/measurement/samples';
import { angleInName } from './angleName';

/** A driver as several files seem to describe it. */
export interface ProposedDriver {
  readonly key: string;
  readonly name: string;
  /** The driver of the design that has this name already. */
  readonly existingId: string | null;
}

/** Whose each measurement seems to be; null where nothing tells. */
interface Proposal {
  readonly drivers: readonly ProposedDriver[];
  readonly ownerOf: ReadonlyMap<string, string | null>;
}

/** What a file name says of the measurement and not of the driver, in the languages of Europe. */
const kindWords =
  /(?<![\p{L}])(?:responses?|impedan(?:ce|z|za|cia|tie|s)|imp|spl|frd|zma|frequenz(?:gang)?|frequency|freq|fr|pegel|phase?n?|on.?axis|off.?axis|measured|messung|measurement|horizontal|vertical|hor|ver|horiz|vert|[hvz])(?![\p{L}])/giu;

/**
 * The part of a name that files of one driver share: without angle and without words for the kind
 * of measurement.
 */
export function driverWords(name: string): string {
  const rest = angleInName(name)?.rest ?? name;
  return rest
    .replace(/[_\-–.]+/g, ' ')
    .replace(kindWords, ' ')
    .replace(/\s+/g, ' ')
    .trim();
}

const keyOf = (words: string) => words.toLowerCase();
const titled = (words: string) => words[0].toUpperCase() + words.slice(1);

/**
 * Groups measurements by what their names share, a folder's name where the file's tells nothing,
 * and by their kind.
 *
 * @param paths folders of the files, by measurement, where files came with one
 */
export function proposeDrivers(
  measurements: readonly Measurement[],
  existing: readonly Driver[],
  paths: ReadonlyMap<string, string> = new Map(),
): Proposal {
  const folderOf = (id: string) => paths.get(id)?.split('/').at(-2) ?? '';
  const wordsOf = ({ id, name }: Measurement) => driverWords(name) || driverWords(folderOf(id));
  const groups = new Map<string, { words: string; members: Measurement[] }>();
  for (const measurement of measurements) {
    const words = wordsOf(measurement);
    if (words === '') continue;
    const group = groups.get(keyOf(words)) ?? { words, members: [] };
    group.members.push(measurement);
    groups.set(keyOf(words), group);
  }
  joinStrays(groups);
  const drivers = [...groups].map(([key, { words }]): ProposedDriver => {
    const known = existing.find(({ name }) => keyOf(name) === key);
    return { key, name: known?.name ?? titled(words), existingId: known?.id ?? null };
  });
  const ownerOf = new Map<string, string | null>(measurements.map(({ id }) => [id, null]));
  for (const [key, { members }] of groups) for (const { id } of members) ownerOf.set(id, key);
  return { drivers, ownerOf };
}

/**
 * A single impedance whose name is a little longer or shorter than that of a group of responses
 * belongs to it.
 */
function joinStrays(groups: Map<string, { words: string; members: Measurement[] }>): void {
  for (const [key, stray] of [...groups]) {
    if (stray.members.some(({ kind }) => kind !== 'impedance')) continue;
    const host = [...groups].find(
      ([other, { members }]) =>
        other !== key &&
        members.some(({ kind }) => kind === 'response') &&
        (other.startsWith(key) || key.startsWith(other)),
    );
    if (!host) continue;
    host[1].members.push(...stray.members);
    groups.delete(key);
  }
}

/** What a driver is given of its measurements. */
interface DriverSlots {
  readonly responseId: MeasurementId | null;
  readonly impedanceId: MeasurementId | null;
  readonly offAxisIds: readonly string[];
  /**
   * Measurements for which it has no place: a second impedance, a response without angle beside
   * another.
   */
  readonly leftOver: readonly string[];
}

/** The response is the one at 0°, or without an angle; those with an angle are the orbit. */
export function slotsOf(members: readonly Measurement[]): DriverSlots {
  const responses = members.filter(({ kind }) => kind === 'response');
  const [impedance] = members.filter(({ kind }) => kind === 'impedance');
  const plain = responses.find(({ angle }) => angle === null);
  const byAngle = responses
    .filter(({ angle }) => angle !== null)
    .sort((a, b) => Math.abs(a.angle!.degrees) - Math.abs(b.angle!.degrees));
  const onAxis = byAngle.at(0);
  const response = onAxis?.angle!.degrees === 0 ? onAxis : (plain ?? onAxis);
  const offAxisIds = byAngle.length > 1 ? byAngle.map(({ id }) => id) : [];
  const given = new Set([response?.id, impedance?.id, ...offAxisIds]);
  return {
    responseId: response?.id ?? null,
    impedanceId: impedance?.id ?? null,
    offAxisIds,
    leftOver: members.map(({ id }) => id).filter((id) => !given.has(id)),
  };
}

/** "10 responses 0–90° horizontal, 1 impedance". */
export function membersInWords(members: readonly Measurement[]): string {
  const responses = members.filter(({ kind }) => kind === 'response');
  const impedances = members.length - responses.length;
  const planes = (['horizontal', 'vertical'] as const).flatMap((plane) => {
    const degrees = responses.flatMap(({ angle }) =>
      angle?.plane === plane ? [angle.degrees] : [],
    );
    if (degrees.length === 0) return [];
    const [low, high] = [Math.min(...degrees), Math.max(...degrees)];
    const range = low === high ? `${low}°` : `${low}–${high}°`;
    return [`${counted(degrees.length, 'response')} ${range} ${plane}`];
  });
  const plain = responses.filter(({ angle }) => angle === null).length;
  return [
    ...planes,
    ...(plain > 0 ? [counted(plain, 'response')] : []),
    ...(impedances > 0 ? [counted(impedances, 'impedance')] : []),
  ]
    .join(', ')
    .replaceAll('-', '−');
}

const counted = (count: number, noun: string) => `${count} ${noun}${count === 1 ? '' : 's'}`;

/**
 * Middle, in hertz on a logarithmic scale, of where a response is within 10 dB of its highest: it
 * orders ways.
 */
export function centreHz({ frequencyHz, magnitude }: Samples): number {
  const highest = magnitude.reduce((most, db) => Math.max(most, db), -Infinity);
  let [sum, weight] = [0, 0];
  for (let i = 1; i < frequencyHz.length; i++) {
    if (magnitude[i] < highest - 10) continue;
    const width = Math.log(frequencyHz[i] / frequencyHz[i - 1]);
    sum += width * Math.log(frequencyHz[i]);
    weight += width;
  }
  return Math.exp(sum / weight);
}

import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';

/** A response holds levels, an impedance holds ohms. */
export type MeasurementKind = 'response' | 'impedance';

/**
 * The numbers of one measurement, immutable once made.
 * All arrays have the same length of two or more; frequencies rise strictly.
 */
export interface Samples {
  readonly frequencyHz: Float64Array;
  /** dB re 20 µPa (or re anything, for a relative response), or ohms of |Z|. */
  readonly magnitude: Float64Array;
  /** Degrees, wrapped or not; null where none was measured. */
  readonly phaseDeg: Float64Array | null;
}

/** Measurements that are fetched at once at the most: their ids are in one address. */
export const mostAtOnce = 60;

/** Most rows that a measurement may have. */
export const mostRows = 200_000;

const finiteWithoutSign = (values: ArrayLike<number>): Float64Array | null => {
  const out = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) {
    if (!Number.isFinite(values[i])) return null;
    out[i] = values[i] + 0;
  }
  return out;
};

/**
 * Samples from columns of numbers as they may be stored: finite, zero without a sign, two rows or
 * more, frequencies above zero and rising. Every reader ends here, and so does the server: what is
 * read is what can be sent and stored.
 *
 * @returns the samples, or half a sentence saying what is wrong with the columns
 */
export function checkedSamples(
  frequencyHz: ArrayLike<number>,
  magnitude: ArrayLike<number>,
  phaseDeg: ArrayLike<number> | null,
): Samples | string {
  const count = frequencyHz.length;
  if (magnitude.length !== count || (phaseDeg ?? magnitude).length !== count)
    return 'the columns differ in length';
  if (count < 2) return `there ${count === 1 ? 'is one row' : 'are no rows'} and a curve needs two`;
  if (count > mostRows)
    return `there are ${count.toLocaleString('en')} rows and ${mostRows.toLocaleString('en')} are the limit`;
  const columns = [frequencyHz, magnitude, phaseDeg].map((column) =>
    column === null ? null : finiteWithoutSign(column),
  );
  const [frequency, size, phase] = columns;
  if (!frequency || !size || (phaseDeg && !phase)) return 'a number is too large to be one';
  for (let i = 0; i < count; i++)
    if (!(frequency[i] > (i === 0 ? 0 : frequency[i - 1])))
      return `the frequencies do not rise from above 0 Hz, at row ${i + 1}`;
  return { frequencyHz: frequency, magnitude: size, phaseDeg: phase };
}

/**
 * Name of a measurement made from its numbers: the first 32 hex digits of SHA-256 over the
 * little-endian doubles. The same numbers have the same name everywhere, and a changed table can't
 * pass for the original. Zero has no sign here, because JSON has none for it.
 */
export function samplesId(samples: Samples): string {
  const arrays = [samples.frequencyHz, samples.magnitude, samples.phaseDeg ?? new Float64Array(0)];
  const count = samples.frequencyHz.length;
  const view = new DataView(new ArrayBuffer(4 + 8 * arrays.reduce((n, a) => n + a.length, 0)));
  view.setUint32(0, count, true);
  let at = 4;
  for (const array of arrays)
    // -0 + 0 is 0.
    for (const value of array) view.setFloat64((at += 8) - 8, value + 0, true);
  return bytesToHex(sha256(new Uint8Array(view.buffer))).slice(0, 32);
}

/** Lower-case hex SHA-256 of a file's bytes, kept as its origin. */
export function fileFingerprint(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}

/**
 * Whether the numbers of a table are such as an impedance has: a few to some hundred, all above
 * zero, with a phase within ±90°. A quiet response may look the same; then the user is asked.
 */
export function looksLikeImpedance({ magnitude, phaseDeg }: Samples): boolean {
  const sorted = magnitude.slice().sort();
  return (
    sorted[0] > 0 &&
    sorted[sorted.length >> 1] < 55 &&
    sorted[sorted.length - 1] < 1000 &&
    (phaseDeg === null || phaseDeg.every((degrees) => Math.abs(degrees) <= 91))
  );
}

/** The numbers of measurements, by their ids. */
export type MeasurementData = ReadonlyMap<string, Samples>;

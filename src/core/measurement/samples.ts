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

/**
 * Name of a measurement made from its numbers: the first 32 hex digits of SHA-256 over the little-endian doubles.
 * The same numbers have the same name everywhere, and a changed table can't pass for the original.
 */
export function samplesId(samples: Samples): string {
  const arrays = [samples.frequencyHz, samples.magnitude, samples.phaseDeg ?? new Float64Array(0)];
  const count = samples.frequencyHz.length;
  const view = new DataView(new ArrayBuffer(4 + 8 * arrays.reduce((n, a) => n + a.length, 0)));
  view.setUint32(0, count, true);
  let at = 4;
  for (const array of arrays)
    for (const value of array) view.setFloat64((at += 8) - 8, value, true);
  return bytesToHex(sha256(new Uint8Array(view.buffer))).slice(0, 32);
}

/** Lower-case hex SHA-256 of a file's bytes, kept as its origin. */
export function fileFingerprint(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}

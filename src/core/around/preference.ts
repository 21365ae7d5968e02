import type { SpinCurves } from '@/core/radiation/cta2034';
import { lineThrough } from '@/core/prediction/straightness';

/**
 * Estimate of how a trained panel would rate a speaker, after Olive, “A Multiple Regression Model for
 * Predicting Loudspeaker Preference Using Objective Measurements: Part II”, 117th AES Convention
 * 2004, preprint 6190 (from memory). It was made from 70 speakers in mono, in one room, and tells
 * nothing of level, distortion or of where the listener sits.
 */
export interface Preference {
  /** About 0 to 10. */
  readonly rating: number;
  /** Mean deviation within half octaves of the axis and of the in-room response, dB. */
  readonly narrowBandAxisDb: number;
  readonly narrowBandRoomDb: number;
  /** Where the sound power has fallen by 6 dB under the listening window’s mean. */
  readonly extensionHz: number;
  /** Share of the in-room response that a straight line explains. */
  readonly smoothness: number;
}

/**
 * @param curves of the standard, on one grid
 * @returns null where the curves do not hold the bands that it takes
 */
export function preferenceOf(
  frequencyHz: Float64Array,
  { onAxis, inRoom, soundPower, listeningWindow }: SpinCurves,
): Preference | null {
  const narrowBandAxisDb = narrowBandDb(frequencyHz, onAxis);
  const narrowBandRoomDb = narrowBandDb(frequencyHz, inRoom);
  const line = lineThrough(frequencyHz, inRoom, { fromHz: 100, toHz: 16_000 });
  const level = meanIn(frequencyHz, listeningWindow, 300, 10_000);
  if (narrowBandAxisDb === null || narrowBandRoomDb === null || !line || level === null)
    return null;
  const extensionHz = fallsAt(frequencyHz, soundPower, level - 6);
  if (extensionHz === null) return null;
  const rating =
    12.69 -
    2.49 * narrowBandAxisDb -
    2.99 * narrowBandRoomDb -
    4.31 * Math.log10(extensionHz) +
    2.32 * line.rSquare;
  return { rating, narrowBandAxisDb, narrowBandRoomDb, extensionHz, smoothness: line.rSquare };
}

/** Mean over half octaves from 100 Hz to 12 kHz of the mean distance from the half octave’s level. */
function narrowBandDb(frequencyHz: Float64Array, levelDb: Float64Array): number | null {
  const bands: number[] = [];
  for (let fromHz = 100; fromHz < 12_000; fromHz *= Math.SQRT2) {
    const toHz = Math.min(12_000, fromHz * Math.SQRT2);
    const own = levelDb.filter((_, i) => frequencyHz[i] >= fromHz && frequencyHz[i] < toHz);
    if (own.length === 0 || !own.every(Number.isFinite)) return null;
    const mean = own.reduce((sum, db) => sum + db, 0) / own.length;
    bands.push(own.reduce((sum, db) => sum + Math.abs(db - mean), 0) / own.length);
  }
  return bands.reduce((sum, band) => sum + band, 0) / bands.length;
}

function meanIn(hz: Float64Array, levelDb: Float64Array, fromHz: number, toHz: number) {
  const own = levelDb.filter((db, i) => hz[i] >= fromHz && hz[i] <= toHz && Number.isFinite(db));
  return own.length === 0 ? null : own.reduce((sum, db) => sum + db, 0) / own.length;
}

/** Where a curve is first under a level, downward from 300 Hz; the lowest frequency where it is not. */
function fallsAt(hz: Float64Array, levelDb: Float64Array, level: number): number | null {
  const start = hz.findLastIndex((one) => one <= 300);
  if (start < 0) return null;
  for (let i = start; i > 0; i--) if (!(levelDb[i] > level)) return hz[i];
  return hz[0];
}

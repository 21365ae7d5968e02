import { straightLine } from '@/core/search/straightLine';
import { placesIn, type Band, type FigureAt } from './figures';

/** Takes the straight line over the logarithm of frequency out of curves at some places. */
export interface LineRemover {
  /** Places of the grid that count. */
  readonly places: Int32Array;
  /** The least-squares line taken out of numbers of these places, in place, from an offset on. */
  remove(values: Float64Array, at: number): void;
}

/** @param places of the grid, at least two */
export function createLineRemover(frequencyHz: Float64Array, places: Int32Array): LineRemover {
  const count = places.length;
  const all = octavesOf(frequencyHz);
  const octaves = Float64Array.from(places, (i) => all[i]);
  const middle = octaves.reduce((sum, x) => sum + x, 0) / count;
  const x = octaves.map((value) => value - middle);
  const square = x.reduce((sum, value) => sum + value * value, 0);
  return {
    places,
    remove(values, at) {
      let [mean, slope] = [0, 0];
      for (let k = 0; k < count; k++) {
        mean += values[at + k] / count;
        slope += (values[at + k] * x[k]) / square;
      }
      for (let k = 0; k < count; k++) values[at + k] -= mean + slope * x[k];
    },
  };
}

/** A grid never changes, and the same few are asked for with every nudge. */
const knownOctaves = new WeakMap<Float64Array, Float64Array>();

function octavesOf(frequencyHz: Float64Array): Float64Array {
  const known = knownOctaves.get(frequencyHz);
  if (known) return known;
  const octaves = frequencyHz.map(Math.log2);
  knownOctaves.set(frequencyHz, octaves);
  return octaves;
}

/** Places of a band at which a curve is known. */
export function knownPlaces(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  band: Band,
): Int32Array {
  const [from, to] = placesIn(frequencyHz, band);
  const places = new Int32Array(to - from);
  let count = 0;
  for (let i = from; i < to; i++) if (Number.isFinite(levelDb[i])) places[count++] = i;
  return places.subarray(0, count);
}

/**
 * How far a curve strays from a straight line over the logarithm of frequency whose slope is free: ±
 * dB, half the height of the band around the line of least squares that holds it.
 *
 * @returns null with fewer than three places
 */
export function straightnessDb(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  band: Band,
): FigureAt | null {
  const places = knownPlaces(frequencyHz, levelDb, band);
  if (places.length < 3) return null;
  const values = Float64Array.from(places, (i) => levelDb[i]);
  createLineRemover(frequencyHz, places).remove(values, 0);
  let [low, high] = [0, 0];
  values.forEach((value, k) => {
    if (value < values[low]) low = k;
    if (value > values[high]) high = k;
  });
  const worst = values[high] >= -values[low] ? high : low;
  return { value: (values[high] - values[low]) / 2, atHz: frequencyHz[places[worst]] };
}

/** The line of least squares through a curve over the logarithm of frequency. */
export interface StraightLine {
  readonly dbPerOctave: number;
  /** Level at 1 kHz, dB. */
  readonly atOneKilohertzDb: number;
  /** Share of the variance that it explains. */
  readonly rSquare: number;
}

/** @returns null with fewer than three places */
export function lineThrough(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  band: Band,
): StraightLine | null {
  const places = knownPlaces(frequencyHz, levelDb, band);
  if (places.length < 3) return null;
  const octaves = Float64Array.from(places, (i) => Math.log2(frequencyHz[i] / 1000));
  const levels = Float64Array.from(places, (i) => levelDb[i]);
  const { slope, start, meanX, meanY } = straightLine(octaves, levels);
  const spread = (values: Float64Array, mean: number) =>
    values.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  const variance = spread(levels, meanY);
  return {
    dbPerOctave: slope,
    atOneKilohertzDb: start,
    rSquare: variance === 0 ? 1 : (slope * slope * spread(octaves, meanX)) / variance,
  };
}

/** Level of a straight line at a frequency, dB. */
export const levelAtHz = ({ dbPerOctave, atOneKilohertzDb }: StraightLine, hz: number): number =>
  atOneKilohertzDb + dbPerOctave * Math.log2(hz / 1000);

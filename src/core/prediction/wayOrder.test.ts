import { logGrid } from '@/core/grid/logGrid';
import { speakers } from '../../../tests/speakers';
import { crossovers } from './crossovers';
import { predict } from './predict';
import { compareRanges, fromLowest, middleOctaves, type PlayingRange } from './wayOrder';

const grid = logGrid(20, 20_000, 48);
/** Butterworth slopes of fourth order to both sides (Butterworth 1930). */
const passing = (fromHz: number, toHz: number) =>
  grid.map(
    (hz) => -10 * Math.log10(1 + (fromHz / hz) ** 8) - 10 * Math.log10(1 + (hz / toHz) ** 8),
  );
/** A peak of a second-order resonance: |1 + (g − 1)·jy/Q/(1 − y² + jy/Q)|. */
const withPeak = (levelDb: Float64Array, atHz: number, q: number, heightDb: number) =>
  levelDb.map((db, i) => {
    const y = grid[i] / atHz;
    const [a, b, g] = [1 - y * y, y / q, 10 ** (heightDb / 20)];
    return db + 10 * Math.log10((a * a + g * g * b * b) / (a * a + b * b));
  });

describe('where a driver plays', () => {
  test('is the middle of what is within 6 dB of its median', () => {
    expect(2 ** middleOctaves(grid, passing(250, 4000))!).toBeCloseTo(1000, -1);
  });

  test('hardly moves with a peak of break-up, however high it is', () => {
    const smooth = passing(90, 5000);
    const of = (heightDb: number) => middleOctaves(grid, withPeak(smooth, 4800, 7, heightDb))!;
    for (const heightDb of [4, 8, 12, 16])
      expect(Math.abs(of(heightDb) - middleOctaves(grid, smooth)!)).toBeLessThan(0.35);
  });

  test('is nowhere for silence', () => {
    expect(
      middleOctaves(
        grid,
        grid.map(() => -Infinity),
      ),
    ).toBeNull();
  });
});

describe('the order of ways', () => {
  const range = (
    middle: number,
    fsHz: number | null = null,
    sdCm2: number | null = null,
  ): PlayingRange => ({ middleOctaves: middle, fsHz, sdCm2 });

  test('follows the ranges where they are an octave apart, whatever else is said', () => {
    expect(compareRanges(range(8, 900, 5), range(9.5, 40, 300))).toBeLessThan(0);
  });

  test('lets resonance and area decide where ranges are close', () => {
    expect(compareRanges(range(10, 60, 140), range(9.7, 900, 7))).toBeLessThan(0);
    expect(compareRanges(range(10, null, 140), range(9.9, null, 30))).toBeLessThan(0);
    expect(compareRanges(range(10), range(9.5))).toBeGreaterThan(0);
    expect(compareRanges(range(10, 50, 140), range(10.1, 52, 133))).toBe(0);
  });

  test('of two drivers that are alike, goes by what their networks leave', () => {
    const way = (name: string, toHz: number) => ({
      ...{ name, range: range(9, 40, 130) },
      levelDb: passing(30, toHz),
    });
    const order = (...ways: ReturnType<typeof way>[]) => fromLowest(ways).map(({ name }) => name);
    expect(order(way('to 3 kHz', 3000), way('to 200 Hz', 200))).toEqual(['to 200 Hz', 'to 3 kHz']);
    expect(order(way('to 200 Hz', 200), way('to 3 kHz', 3000))).toEqual(['to 200 Hz', 'to 3 kHz']);
  });

  test.each(Object.entries(speakers))('of %s is that of its drivers', (_, { design, data }) => {
    const { ways } = predict(design, data);
    // Each speaker lists its drivers from the lowest up; their order must not matter.
    const wanted = ways.map(({ wayId }) => wayId);
    expect(fromLowest([...ways].reverse()).map(({ wayId }) => wayId)).toEqual(wanted);
  });

  test('is the order of crossovers too, with a midrange that breaks up by 8 dB', () => {
    const { design, data } = speakers['a three-way that breaks up'];
    const prediction = predict(design, data);
    const peak = prediction.ways[1].levelDb;
    const [first, last] = [grid.findIndex((hz) => hz > 300), grid.findIndex((hz) => hz > 3000)];
    const mean = peak.subarray(first, last).reduce((sum, db) => sum + db / (last - first), 0);
    expect(Math.max(...peak) - mean).toBeGreaterThan(8);
    for (const { lower, upper } of crossovers(prediction))
      expect(design.ways.findIndex(({ id }) => id === upper.wayId)).toBe(
        design.ways.findIndex(({ id }) => id === lower.wayId) + 1,
      );
  });
});

import { designGridHz, logGrid } from '@/core/grid/logGrid';
import { seeded } from './noise';
import { programmeShares } from './programme';

/** Mean and variance of many numbers. */
function moments(next: () => number, count = 40_000) {
  const all = Array.from({ length: count }, next);
  const mean = all.reduce((sum, x) => sum + x, 0) / count;
  const variance = all.reduce((sum, x) => sum + (x - mean) ** 2, 0) / count;
  return { all, mean, variance };
}

describe('repeatable randomness', () => {
  test('one seed is one sequence, another seed another', () => {
    const draw = (seed: number) => {
      const { uniform } = seeded(seed);
      return Array.from({ length: 8 }, uniform);
    };
    expect(draw(7)).toEqual(draw(7));
    expect(draw(7)).not.toEqual(draw(8));
    // Seeds that differ by 2³² are the same; negative ones and 0 work.
    expect(draw(7 + 2 ** 32)).toEqual(draw(7));
    expect(new Set([...draw(0), ...draw(-1)]).size).toBe(16);
  });

  test('uniform numbers fill [0, 1) evenly: mean ½, variance 1/12', () => {
    const { all, mean, variance } = moments(seeded(3).uniform);
    expect(Math.min(...all)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...all)).toBeLessThan(1);
    // Three standard errors of the mean: 3·√(1/12/40000) = 0.0043.
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.0044);
    expect(Math.abs(variance * 12 - 1)).toBeLessThan(0.02);
    const tenths = Array.from({ length: 10 }, (_, k) =>
      all.filter((x) => Math.floor(10 * x) === k),
    );
    for (const { length } of tenths) expect(Math.abs(length - 4000)).toBeLessThan(250);
  });

  test('Gaussian numbers have mean 0, variance 1, and 68 of 100 within one', () => {
    const { all, mean, variance } = moments(seeded(11).gaussian);
    expect(all.every(Number.isFinite)).toBe(true);
    expect(Math.abs(mean)).toBeLessThan(0.015);
    expect(Math.abs(variance - 1)).toBeLessThan(0.03);
    const within = all.filter((x) => Math.abs(x) < 1).length / all.length;
    expect(within).toBeCloseTo(0.6827, 1);
    expect(all.some((x) => Math.abs(x) > 3)).toBe(true);
  });

  test('neighbours do not follow from each other', () => {
    const { all } = moments(seeded(5).gaussian);
    const product = all.slice(1).reduce((sum, x, i) => sum + x * all[i], 0) / all.length;
    expect(Math.abs(product)).toBeLessThan(0.02);
  });
});

// Simulated programme of IEC 60268-1, its bands from memory within a decibel.
describe('the programme', () => {
  test('its shares are none below 0 and one together, on any even grid', () => {
    for (const grid of [designGridHz(), logGrid(10, 40_000, 12), logGrid(20, 20_000, 3)]) {
      const shares = programmeShares(grid);
      expect(shares.every((share) => share >= 0)).toBe(true);
      expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
    }
  });

  test('nothing lies below 20 Hz or above 20 kHz', () => {
    const grid = logGrid(5, 80_000, 24);
    programmeShares(grid).forEach((share, i) => {
      if (grid[i] < 19.99 || grid[i] > 20_001) expect(share).toBe(0);
    });
  });

  test('most of it is between 100 Hz and 2 kHz, little in the treble', () => {
    const grid = designGridHz();
    const shares = programmeShares(grid);
    const between = (from: number, to: number) =>
      shares.reduce((sum, share, i) => (grid[i] >= from && grid[i] < to ? sum + share : sum), 0);
    expect(between(100, 2000)).toBeGreaterThan(0.55);
    expect(between(5000, 20_001)).toBeLessThan(0.1);
    expect(between(20, 50)).toBeLessThan(0.1);
  });

  test('the same share of a band, however fine the grid is', () => {
    const inLows = (perOctave: number) => {
      const grid = logGrid(20, 20_000, perOctave);
      return programmeShares(grid).reduce((sum, s, i) => (grid[i] < 200 ? sum + s : sum), 0);
    };
    expect(inLows(96)).toBeCloseTo(inLows(24), 1);
    expect(inLows(96)).toBeCloseTo(inLows(48), 2);
  });

  test('third-octave levels fall from 160 Hz downwards and from 1 kHz upwards', () => {
    const grid = logGrid(20, 20_480, 3);
    const shares = programmeShares(grid);
    for (let i = 1; i < grid.length && grid[i] < 20_000; i++) {
      if (grid[i] <= 160) expect(shares[i]).toBeGreaterThan(shares[i - 1]);
      if (grid[i] >= 1010) expect(shares[i]).toBeLessThan(shares[i - 1]);
    }
  });
});

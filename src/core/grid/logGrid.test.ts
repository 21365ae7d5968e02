import fc from 'fast-check';
import { designGridHz, logGrid } from './logGrid';

test('each point is the same ratio above the one before it', () =>
  fc.assert(
    fc.property(
      fc.double({ min: 0.5, max: 500, noNaN: true }),
      fc.double({ min: 1, max: 12, noNaN: true }),
      fc.integer({ min: 1, max: 200 }),
      (from, octaves, perOctave) => {
        const to = from * 2 ** octaves;
        const grid = logGrid(from, to, perOctave);
        expect(grid[0]).toBe(from);
        expect(grid[grid.length - 1]).toBeLessThanOrEqual(to * (1 + 1e-9));
        // One more would be too far.
        expect(grid[grid.length - 1] * 2 ** (1 / perOctave)).toBeGreaterThan(to * (1 - 1e-9));
        for (let i = 1; i < grid.length; i++)
          expect(Math.log2(grid[i] / grid[i - 1]) * perOctave).toBeCloseTo(1, 6);
      },
    ),
  ));

test('an end that lies on the grid is met', () => {
  expect([...logGrid(100, 800, 1)]).toEqual([100, 200, 400, 800]);
  expect(logGrid(20, 20_480, 48)).toHaveLength(481);
  expect(logGrid(1000, 1000, 12)).toEqual(Float64Array.of(1000));
});

test('designs are predicted at 479 points from 20 Hz', () => {
  const grid = designGridHz();
  expect(grid).toHaveLength(479);
  expect(grid[0]).toBe(20);
  expect(grid[478]).toBeLessThanOrEqual(20_000);
});

test.each([
  [0, 100, 12],
  [-20, 100, 12],
  [NaN, 100, 12],
  [Infinity, Infinity, 12],
  [100, 50, 12],
  [20, NaN, 12],
  [20, Infinity, 12],
  [20, 20_000, 0],
  [20, 20_000, -3],
  [20, 20_000, NaN],
  [1e-300, 1e300, 1000],
])('from %d to %d at %d per octave is refused with a reason', (from, to, perOctave) =>
  expect(() => logGrid(from, to, perOctave)).toThrow(/No grid from/),
);

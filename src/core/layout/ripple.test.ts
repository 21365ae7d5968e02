import { logGrid } from '@/core/grid/logGrid';
import { rippleOf } from './ripple';

const grid = logGrid(100, 10_000, 12);
const band = { fromHz: 400, toHz: 3000 };

test('a straight slope over log frequency has no ripple', () => {
  const slope = grid.map((hz) => 3 * Math.log2(hz / 1000));
  expect(rippleOf(grid, slope, band).mostDb).toBeCloseTo(0, 9);
});

test('what swings faster than two octaves is ripple as it is', () => {
  const swing = grid.map((hz) => 2 * Math.cos(2 * Math.PI * 2 * Math.log2(hz / 1000)));
  const { mostDb, rmsDb } = rippleOf(grid, swing, band);
  expect(mostDb).toBeGreaterThan(1.9);
  expect(mostDb).toBeLessThan(2.2);
  expect(rmsDb).toBeCloseTo(2 / Math.SQRT2, 0);
});

import { logGrid } from '@/core/grid/logGrid';
import { flightSeconds, withoutDelay } from './flight';

const frequencyHz = logGrid(20, 20_000, 48);
const wrap = (degrees: number) => degrees - 360 * Math.round(degrees / 360);
/** A second-order high pass at 100 Hz, some time later. */
const later = (seconds: number) => ({
  frequencyHz,
  magnitude: frequencyHz.map(() => 90),
  phaseDeg: frequencyHz.map((hz) =>
    wrap((Math.atan2(1.4 * hz * 100, hz * hz - 1e4) * 180) / Math.PI - 360 * hz * seconds),
  ),
});

test('the flight is found, and without it the driver’s own phase is left', () => {
  const samples = later(0.0029);
  const seconds = flightSeconds(samples);
  expect(seconds * 1000).toBeCloseTo(2.9, 1);
  withoutDelay(samples, 0.0029).phaseDeg!.forEach((angle, i) =>
    expect(Math.abs(wrap(angle - later(0).phaseDeg[i]))).toBeLessThan(1e-6),
  );
});

test('a phase that hardly turns, and none at all, are left alone', () => {
  expect(flightSeconds(later(0))).toBe(0);
  const bare = { ...later(0), phaseDeg: null };
  expect(flightSeconds(bare)).toBe(0);
  expect(withoutDelay(bare, 1)).toBe(bare);
});

import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { logGrid } from '@/core/grid/logGrid';
import { amplitude, decibels, energiesDb, levelsDb, phasesDeg } from './level';
import { bulkDelaySeconds, unwrapped, wrapped } from './phase';

test('levels and amplitudes are each other’s inverse', () => {
  expect(decibels(2)).toBeCloseTo(6.0206, 4);
  expect(amplitude(-20)).toBeCloseTo(0.1, 15);
  expect([...levelsDb(Float64Array.of(3, 0), Float64Array.of(4, 0), new Float64Array(2))]).toEqual([
    decibels(5),
    -Infinity,
  ]);
  expect([
    ...phasesDeg(Float64Array.of(0, -1), Float64Array.of(1, 0), new Float64Array(2)),
  ]).toEqual([90, 180]);
  const levels = energiesDb(Float64Array.of(100, 1, 0, 1e-30));
  [20, 0, -Infinity, -300].forEach((db, i) => expect(levels[i]).toBeCloseTo(db, 10));
});

test('unwrapping undoes wrapping', () => {
  const smooth = Float64Array.from({ length: 200 }, (_, i) => -0.4 * i);
  const back = unwrapped(smooth.map(wrapped));
  back.forEach((angle, i) => expect(angle).toBeCloseTo(smooth[i], 10));
});

describe('the bulk delay is found whether the phase is wrapped or not', () => {
  const grids = {
    'logarithmic, 1/48 octave': logGrid(10, 24_000, 48),
    'logarithmic, 1/12 octave': logGrid(20, 20_000, 12),
    'even, 5.86 Hz': Float64Array.from({ length: 3400 }, (_, i) => 5.86 * (i + 1)),
  };
  test.each(Object.entries(grids))('%s', (_name, frequencyHz) => {
    for (const milliseconds of [0, 0.2, 1.7, 2.915, 9]) {
      // A second-order high pass at 60 Hz on top of the delay; its own half turn may look like some
      // hundredths of a ms.
      const phase = frequencyHz.map(
        (f) =>
          Math.PI -
          Math.atan2(f / 60, 1 - (f / 60) ** 2 || 1e-12) -
          2 * Math.PI * f * milliseconds * 1e-3,
      );
      expect(bulkDelaySeconds(frequencyHz, phase.map(wrapped)) * 1e3).toBeCloseTo(milliseconds, 1);
      expect(bulkDelaySeconds(frequencyHz, phase) * 1e3).toBeCloseTo(milliseconds, 1);
    }
  });
});

test('the grid is what its name says', () => {
  const grid = logGrid(20, 20_000, 48);
  expect(grid).toHaveLength(479);
  expect(grid[48]).toBeCloseTo(40, 12);
  expect([...logGrid(10, 40, 1)]).toEqual([10, 20, 40]);
  for (const [from, to, n] of [
    [0, 10, 1],
    [20, 10, 1],
    [1, 2, 0],
    [1, 1e6, 1e6],
    [NaN, 1, 1],
  ])
    expect(() => logGrid(from, to, n)).toThrow('No grid');
});

test('the speed of sound at 20 °C is the handbook’s 343.2 m/s', () => {
  expect(speedOfSoundMps(20)).toBeCloseTo(343.2, 1);
  expect(() => speedOfSoundMps(-200)).toThrow(RangeError);
});

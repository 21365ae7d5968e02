import { logGrid } from '@/core/grid/logGrid';
import { programmeShares } from '@/core/spectrum/programme';
import { passedShare, ratingOf, type PowerSheet } from './rating';

const sheet: PowerSheet = {
  ratedWatts: 80,
  ratedAs: 'noise',
  nominalOhms: 8,
  filterHz: null,
  filterOrder: null,
  reOhm: 5.3,
  fsHz: 30,
};

test('each kind of rating as the voltage that it means', () => {
  // V² = P·Z by hand: 80 W by 8 Ω; by the lowest impedance; half of what is called programme.
  expect(ratingOf(sheet)).toMatchObject({ voltsSquared: 640, watts: 80, isKindAssumed: false });
  expect(ratingOf({ ...sheet, ratedAs: 'aes' }, 6.1)!.voltsSquared).toBeCloseTo(488, 9);
  expect(ratingOf({ ...sheet, ratedAs: 'aes' })!.ohms).toBeCloseTo(1.15 * 5.3, 9);
  expect(ratingOf({ ...sheet, ratedAs: 'programme' })).toMatchObject({
    voltsSquared: 320,
    watts: 40,
  });
});

test('what the sheet does not say is assumed, and said', () => {
  const open = { ...sheet, ratedAs: null, nominalOhms: null };
  expect(ratingOf(open)).toMatchObject({
    kind: 'noise',
    isKindAssumed: true,
    ohms: 8,
    areOhmsAssumed: true,
  });
  // Coils of 3.2, 4.7 and 12 Ω belong to nominal 4, 6 and 16 Ω (common practice).
  for (const [reOhm, ohms] of [
    [3.2, 4],
    [4.7, 6],
    [12, 16],
  ])
    expect(ratingOf({ ...open, reOhm })!.ohms).toBe(ohms);
  expect(ratingOf({ ...sheet, ratedWatts: null })).toBeNull();
});

test('a tweeter of 80 W in a system bears about ten by itself', () => {
  const tweeter = {
    ...sheet,
    ratedAs: 'system',
    fsHz: 820,
    filterHz: 2500,
    filterOrder: 2,
  } as const;
  // By hand from the thirds of IEC 60268-1: 2.5 kHz to 20 kHz hold 2.4 of 18.3 parts; the corner
  // itself takes half of its third.
  expect(passedShare({ hz: 2500, order: 2 })).toBeGreaterThan(0.1);
  expect(passedShare({ hz: 2500, order: 2 })).toBeLessThan(0.16);
  const { watts, filter } = ratingOf(tweeter)!;
  expect(filter).toEqual({ hz: 2500, order: 2 });
  expect(watts).toBeGreaterThan(8);
  expect(watts).toBeLessThan(13);
  // A tweeter whose sheet is silent counts as rated in a system, at three times its resonance.
  const silent = ratingOf({ ...tweeter, ratedAs: null, filterHz: null, filterOrder: null })!;
  expect(silent).toMatchObject({
    kind: 'system',
    isKindAssumed: true,
    filter: { hz: 2460, order: 2 },
  });
});

test('a filter at the bottom lets all pass, a steep one passes what lies above it', () => {
  expect(passedShare({ hz: 0.1, order: 2 })).toBeCloseTo(1, 6);
  const grid = logGrid(20, 20_000, 24);
  const above = programmeShares(grid).reduce(
    (sum, share, i) => sum + (grid[i] > 1000 ? share : 0),
    0,
  );
  expect(passedShare({ hz: 1000, order: 4 })).toBeCloseTo(above, 1);
});

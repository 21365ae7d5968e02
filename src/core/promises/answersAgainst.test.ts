import { readSession } from '../../../tests/fixtures';
import type { Design } from '@/core/document/schema';
import { answersAgainst } from './answersAgainst';

const { design } = readSession();
const withBrief = (brief: Partial<Design['brief']>): Design => ({
  ...design,
  brief: { ...design.brief, ...brief },
});
const ids = (one: Design) => answersAgainst(one).map(({ id }) => id);

test('nothing of the demo contradicts itself', () => expect(ids(design)).toEqual([]));

test.each([
  [{ reach3Hz: 40, reach10Hz: 60 }, 'reach-order', /F10 at 60 Hz is asked above F3 at 40 Hz/],
  [{ nearestSeatMm: 5000, farthestSeatMm: 2000 }, 'seat-order', /at 5 m, is farther than/],
  [
    { ratedWatts: 60, ratedOhms: 8, lowestLoadOhms: 16 },
    'load-order',
    /60 W into 8 Ω bears 8 Ω; that it bears no less than 16 Ω/,
  ],
] as const)('%j is told', (brief, id, words) => {
  const [found, ...others] = answersAgainst(withBrief(brief)).filter((one) => one.id === id);
  expect(others).toEqual([]);
  expect(found.tone).toBe('conflict');
  expect(found.text).toMatch(words);
});

test('promises that no speaker keeps together are told, one alone or two', () => {
  const made = (id: string, atLeast: number | null, atMost: number | null) => ({
    ...{ id, kind: 'lowest-impedance' as const, isOff: false, atLeast, atMost },
    ...{ fromHz: null, toHz: null, angle: null, weight: null },
  });
  const both = { ...design, promises: [made('a', 12, null), made('b', null, 2)] };
  expect(answersAgainst(both).map(({ text }) => text)).toContain(
    'Lowest |Z|: ≥ 12.0 Ω and ≤ 2.0 Ω can’t be kept together.',
  );
  expect(ids({ ...design, promises: [made('a', 3, null), made('b', null, 20)] })).toEqual([]);
});

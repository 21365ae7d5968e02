import { readSession } from '../../../tests/fixtures';
import { meantDeg, quadratureOf } from './meantPhase';
import type { Design, Way, WayTarget } from './schema';

const { design } = readSession();
type Slope = NonNullable<WayTarget['lowPass']>;

/** The demo's first two ways with slopes that meet. */
function meeting(fall: Partial<Slope> | null, rise: Partial<Slope> | null): Design {
  const slope = (set: Partial<Slope> | null): Slope | null =>
    set && { alignment: 'butterworth', order: 3, hz: 400, ...set };
  const targets: (WayTarget | null)[] = [
    { highPass: null, lowPass: slope(fall) },
    { highPass: slope(rise), lowPass: null },
    null,
  ];
  return { ...design, ways: design.ways.map((way, w): Way => ({ ...way, target: targets[w] })) };
}
const ids = design.ways.map(({ id }) => id);

test('without slopes that are meant, no two ways are meant to be 90° apart', () => {
  expect(quadratureOf(meeting(null, null))).toEqual([]);
  expect(meantDeg([], ids[0], ids[1])).toBe(0);
});

test('two Butterworth slopes of one odd order are, whichever is asked first', () => {
  const pairs = quadratureOf(meeting({}, {}));
  expect(pairs).toEqual([[ids[0], ids[1]]]);
  expect(meantDeg(pairs, ids[0], ids[1])).toBe(90);
  expect(meantDeg(pairs, ids[1], ids[0])).toBe(90);
  expect(meantDeg(pairs, ids[1], ids[2])).toBe(0);
});

test.each<[string, Partial<Slope>, Partial<Slope>]>([
  ['even orders', { order: 2 }, { order: 2 }],
  ['orders that differ', { order: 1 }, { order: 3 }],
  ['other slopes than Butterworth’s', { alignment: 'linkwitz-riley', order: 4 }, { order: 3 }],
])('%s are meant to be in phase', (_, fall, rise) =>
  expect(quadratureOf(meeting(fall, rise))).toEqual([]),
);

import type { VersionSummary } from '@/core/log/log';
import { matches, titleOf } from './logWords';

const version: VersionSummary = {
  number: 7,
  variant: 'gentle slopes',
  reason: 'pause',
  name: null,
  firstRevision: 30,
  lastRevision: 41,
  startedAt: '2026-11-20T10:00:00.000Z',
  endedAt: '2026-11-20T11:00:00.000Z',
  labels: ['set L1', 'flip Tweeter', 'set C2', 'set R1'],
  note: 'Less **harsh**',
  impressions: [
    { heard: 'boomy', where: 'back row', programme: 'organ', levelDb: null, company: 'the choir' },
  ],
  figures: null,
  annotationRevision: 0,
};

test('a version is called by its name, else by what was done last', () => {
  expect(titleOf({ ...version, name: 'keeper' })).toBe('keeper');
  expect(titleOf(version)).toBe('flip Tweeter, set C2, set R1');
  expect(titleOf({ ...version, labels: [] })).toBe('after a pause');
});

test.each([
  ['harsh', true],
  ['ORGAN choir', true],
  ['v7 gentle', true],
  ['flip', true],
  ['nov', true],
  ['harsh woofer', false],
  ['', true],
])('searching for “%s”', (query, isFound) => expect(matches(version, query)).toBe(isFound));

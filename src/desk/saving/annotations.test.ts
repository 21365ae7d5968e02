import type { Annotation, Impression, VersionSummary } from '@/core/log/log';
import type { SaveTicket } from '@/core/log/project';
import { problem } from '@/core/problem';
import {
  asWritten,
  bothNotes,
  createAnnotations,
  merged,
  type AnnotationState,
  type PendingAnnotation,
} from './annotations';

const heard = (text: string): Impression => ({
  ...{ heard: text, where: '', programme: '', levelDb: null, company: '' },
});
const version = (set: Partial<VersionSummary> = {}) =>
  ({
    ...{ number: 3, annotationRevision: 5, name: null, note: '', impressions: [] },
    ...set,
  }) as unknown as VersionSummary;
const settle = (ms = 10) => new Promise((resolve) => setTimeout(resolve, ms));

const mine = (set: Annotation, was: Annotation): PendingAnnotation => ({
  baseRevision: 5,
  ticket: { chain: 'a', number: 4 },
  set,
  was,
});

describe('two people writing about one version', () => {
  test('in different fields nobody loses anything', () => {
    const { pending, clashes } = merged(
      mine({ note: 'bright' }, { note: '' }),
      version({ annotationRevision: 6, name: 'theirs' }),
      'b',
    );
    expect(clashes).toBe(false);
    expect(pending).toEqual({
      baseRevision: 6,
      ticket: { chain: 'b', number: 1 },
      set: { note: 'bright' },
      was: { note: '' },
    });
  });

  test('in the same field that is a conflict, unless both wrote the same', () => {
    const note = mine({ note: 'bright' }, { note: '' });
    expect(merged(note, version({ note: 'dull' }), 'b').clashes).toBe(true);
    expect(merged(note, version({ note: 'bright' }), 'b').clashes).toBe(false);
    expect(bothNotes('bright', 'dull')).toMatch(/^dull[^]*bright$/);
  });

  test('impressions of both stay, what either removed goes', () => {
    const [a, b, c, d] = ['a', 'b', 'c', 'd'].map(heard);
    const { pending, clashes } = merged(
      mine({ impressions: [b, c] }, { impressions: [a, b] }),
      version({ impressions: [a, b, d] }),
      'x',
    );
    expect(clashes).toBe(false);
    expect(pending.set.impressions).toEqual([b, d, c]);
  });
});

/** A server of one version, and the outbox, as plain objects. */
function annotated(server = version()) {
  const log = {
    server,
    kept: new Map<number, PendingAnnotation>(),
    sent: [] as { base: number; ticket: SaveTicket; set: Annotation }[],
    answer: 'yes' as 'yes' | 'away' | 'refused',
    state: null as AnnotationState | null,
  };
  let chains = 0;
  const annotations = createAnnotations({
    send: (_number, base, ticket, set) => {
      log.sent.push({ base, ticket, set });
      if (log.answer === 'away') return Promise.reject(new TypeError('no connection'));
      if (log.answer === 'refused')
        return Promise.reject(
          problem(
            'too_long',
            'The note',
            'It is too long.',
            'Long notes are refused.',
            'Shorten it.',
          ),
        );
      if (base !== log.server.annotationRevision) return Promise.resolve({ conflict: log.server });
      log.server = { ...log.server, ...set, annotationRevision: base + 1 } as VersionSummary;
      return Promise.resolve(log.server);
    },
    keep: (number, pending) => {
      if (pending) log.kept.set(number, pending);
      else log.kept.delete(number);
      return Promise.resolve();
    },
    onState: (state) => (log.state = state),
    onSaved: () => undefined,
    retryMs: 15,
    newChain: () => `chain ${++chains}`,
  });
  return { log, annotations };
}

test('kept at once, sent again while the server is away, and let go once it has it', async () => {
  const { log, annotations } = annotated();
  log.answer = 'away';
  annotations.annotate(version(), { note: 'bright' });
  expect(log.kept.get(3)?.set).toEqual({ note: 'bright' });
  expect(asWritten(version(), log.state!).note).toBe('bright');
  await settle();
  expect(log.state!.troubles.get(3)).toMatchObject({ kind: 'away', reason: 'no connection' });
  log.answer = 'yes';
  await settle(40);
  expect(log.server.note).toBe('bright');
  expect(log.state!.troubles.size).toBe(0);
  expect(log.kept.size).toBe(0);
  // The same ticket both times: an answer that was lost does not make it two.
  expect(new Set(log.sent.map(({ ticket }) => `${ticket.chain} ${ticket.number}`)).size).toBe(1);
  annotations.leave();
});

test('what is in the way of a visit that was left is met by the next one', async () => {
  const { log, annotations } = annotated(version({ annotationRevision: 6, name: 'theirs' }));
  annotations.annotate(version(), { note: 'bright' });
  annotations.leave();
  await settle(40);
  // Sent anew it would be a stranger to the next visit, which has taken it up.
  expect(log.sent).toHaveLength(1);
  expect(log.kept.get(3)?.set).toEqual({ note: 'bright' });
});

test('what is refused stays written, is told, and is sent again once it was changed', async () => {
  const { log, annotations } = annotated();
  log.answer = 'refused';
  annotations.annotate(version(), { note: 'long' });
  await settle(40);
  expect(log.sent).toHaveLength(1);
  expect(log.state!.troubles.get(3)).toMatchObject({ kind: 'refused' });
  expect(log.kept.get(3)?.set).toEqual({ note: 'long' });
  log.answer = 'yes';
  annotations.annotate(version(), { note: 'short' });
  await settle();
  expect(log.server.note).toBe('short');
  expect(log.state!.troubles.size).toBe(0);
  annotations.leave();
});

test.each([
  ['mine', 'bright'],
  ['theirs', 'dull'],
  ['both', bothNotes('bright', 'dull')],
] as const)('a conflict waits for an answer; %s', async (how, expected) => {
  const { log, annotations } = annotated(version({ annotationRevision: 6, note: 'dull' }));
  annotations.annotate(version(), { note: 'bright' });
  await settle(40);
  expect(log.state!.troubles.get(3)).toMatchObject({ kind: 'conflict', theirs: { note: 'dull' } });
  expect(log.kept.get(3)?.set).toEqual({ note: 'bright' });
  expect(log.sent).toHaveLength(1);
  annotations.resolve(3, how);
  await settle();
  expect(log.server.note).toBe(expected);
  expect(log.kept.size).toBe(0);
  annotations.leave();
});

import { emptyDesign, type Design } from '@/core/document/schema';
import type { SaveTicket } from '@/core/log/project';
import { problem } from '@/core/problem';
import { ServerAway, type SaveResult } from '@/desk/api';
import { createAutosave, type AutosaveSetup, type SaveState } from './autosave';
import { isSameDesign } from '@/core/document/sameDesign';
import type { PendingSave } from './outbox';

const named = (name: string): Design => emptyDesign(name);

/** A server and an outbox in memory. */
function bench(
  answers: ((base: number, document: Design, ticket: SaveTicket) => SaveResult)[] = [],
) {
  const states: string[] = [];
  const sent: string[] = [];
  const kept = new Map<string, PendingSave>();
  const server = {
    revision: 1,
    document: named('start'),
    pinnedRevision: null,
    lastSave: null as SaveTicket | null,
  };
  const outbox = {
    keep: (id: string, pending: PendingSave) => Promise.resolve(void kept.set(id, pending)),
    drop: (id: string, ticket?: SaveTicket) => {
      if (!ticket || kept.get(id)?.ticket === ticket) kept.delete(id);
      return Promise.resolve();
    },
  };
  const usual = (base: number, document: Design, ticket: SaveTicket): SaveResult => {
    const isOwn = server.lastSave?.chain === ticket.chain;
    const last = server.lastSave?.number ?? 0;
    if (isOwn && ticket.number === last) return { revision: server.revision };
    const isOvertaken = isOwn && ticket.number < last;
    if (isOvertaken || (base !== server.revision && !isOwn))
      return { conflict: { id: 'p', ...server } };
    server.revision++;
    server.document = document;
    server.lastSave = ticket;
    return { revision: server.revision };
  };
  const setup: { -readonly [K in keyof AutosaveSetup]: AutosaveSetup[K] } = {
    projectId: 'p',
    revision: 1,
    outbox,
    prepare: (document) => Promise.resolve({ document, refused: [] }),
    workDone: () => ({ label: '', begins: null }),
    noteFor: () => ({ label: '', figures: null, begins: null }),
    save: (_id, base, ticket, document) => {
      sent.push(document.name);
      return Promise.resolve().then(() => (answers.shift() ?? usual)(base, document, ticket));
    },
    onState: (state: SaveState) => states.push(state.kind),
    onSaved: () => undefined,
    pauseMs: 5,
    retryMs: 5,
  };
  const autosave = createAutosave(setup);
  const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
  /** What is under way gets its time, more of it on a busy machine. */
  const settle = async () => {
    await wait(60);
    for (let i = 0; i < 30 && !autosave.isClean(); i++) await wait(20);
  };
  return { autosave, setup, outbox, states, sent, kept, server, settle, usual };
}

test('changes in quick succession are one save, and the outbox is empty after it', async () => {
  const { autosave, sent, kept, server, settle, states } = bench();
  autosave.changed(named('a'));
  autosave.changed(named('b'));
  expect(kept.get('p')?.document.name).toBe('b');
  await settle();
  expect(sent).toEqual(['b']);
  expect([server.revision, server.document.name]).toEqual([2, 'b']);
  expect(kept.size).toBe(0);
  expect(states.at(-1)).toBe('saved');
  expect(autosave.isClean()).toBe(true);
});

test('a server that is away is tried again, with the newest document', async () => {
  const away = () => {
    throw new ServerAway('The server does not answer.');
  };
  const { autosave, states, server, kept, settle } = bench([away, away]);
  autosave.changed(named('a'));
  await new Promise((resolve) => setTimeout(resolve, 8));
  autosave.changed(named('b'));
  expect(kept.get('p')?.document.name).toBe('b');
  await settle();
  expect(states).toContain('away');
  expect(server.document.name).toBe('b');
  expect(kept.size).toBe(0);
});

test('a change during a save goes out after it, on the new revision', async () => {
  const { autosave, sent, server, settle } = bench();
  autosave.changed(named('a'));
  const flushing = autosave.flush();
  autosave.changed(named('b'));
  await flushing;
  await settle();
  expect(sent).toEqual(['a', 'b']);
  expect(server.revision).toBe(3);
});

test('somebody else’s save is not overwritten; mine is kept until I decide', async () => {
  const { autosave, states, server, sent, kept, settle } = bench();
  server.revision = 5;
  server.document = named('theirs');
  autosave.changed(named('mine'));
  await settle();
  expect(states.at(-1)).toBe('conflict');
  autosave.changed(named('mine, further'));
  await settle();
  expect(sent).toEqual(['mine']);
  expect(server.document.name).toBe('theirs');
  expect(kept.get('p')?.document.name).toBe('mine, further');

  autosave.rebase(5);
  autosave.changed(named('mine, further'));
  await settle();
  expect([server.revision, server.document.name]).toEqual([6, 'mine, further']);
});

test('giving mine up empties the outbox and goes on from theirs', async () => {
  const { autosave, server, kept, settle } = bench();
  server.revision = 5;
  autosave.changed(named('mine'));
  await settle();
  await autosave.discard(5);
  expect(kept.size).toBe(0);
  autosave.changed(named('next'));
  await settle();
  expect([server.revision, server.document.name]).toEqual([6, 'next']);
});

test('a save whose answer was lost is recognised as our own', async () => {
  const { autosave, server, states, settle, usual } = bench([
    (base, document, ticket) => {
      usual(base, document, ticket);
      throw new ServerAway('cut off');
    },
  ]);
  autosave.changed(named('a'));
  await settle();
  expect(states.at(-1)).toBe('saved');
  expect(server.revision).toBe(2);
});

test('a save whose answer was lost is no conflict for the one after it', async () => {
  const { autosave, server, states, sent, settle, usual } = bench([
    (base, document, ticket) => {
      usual(base, document, ticket);
      throw new ServerAway('cut off');
    },
  ]);
  autosave.changed(named('a'));
  await autosave.flush();
  autosave.changed(named('b'));
  await settle();
  expect(states).not.toContain('conflict');
  expect(sent.at(-1)).toBe('b');
  // Sent twice, stored once.
  expect([server.revision, server.document.name]).toEqual([3, 'b']);
});

test('a save whose answer was lost, and after which somebody else saved, is a conflict', async () => {
  const { autosave, server, states, settle, usual } = bench([
    (base, document, ticket) => {
      usual(base, document, ticket);
      usual(2, named('theirs'), { chain: 'other', number: 1 });
      throw new ServerAway('cut off');
    },
  ]);
  autosave.changed(named('a'));
  await settle();
  expect(states.at(-1)).toBe('conflict');
  expect(server.document.name).toBe('theirs');
});

test('the ticket of what was sent is in the outbox before the server sees it', async () => {
  const { autosave, kept, settle } = bench([
    (_base, _document, ticket) => {
      expect(kept.get('p')?.ticket).toEqual(ticket);
      throw new ServerAway('cut off');
    },
  ]);
  autosave.changed(named('a'));
  await settle();
  expect(kept.size).toBe(0);
});

test('an outbox that can’t be emptied does not hide that the server has everything', async () => {
  const { autosave, states, outbox, settle } = bench();
  outbox.drop = () => Promise.reject(new Error('storage is full'));
  outbox.keep = () => Promise.reject(new Error('storage is full'));
  autosave.changed(named('a'));
  await settle();
  expect(states.at(-1)).toBe('saved');
});

test('a refused measurement is left out, told, and blocks nothing else', async () => {
  const { autosave, states, server, kept, setup, settle } = bench();
  const trouble = problem('measurement_unusable', '', 'No.', '', 'Mend it.').problem;
  setup.prepare = (document) =>
    Promise.resolve({
      document: { ...document, name: `${document.name} without it` },
      refused: [{ id: 'x', name: 'dome 30', fileName: 'dome 30.txt', problem: trouble }],
    });
  autosave.changed(named('a'));
  await settle();
  expect(states.at(-1)).toBe('partly');
  expect(server.document.name).toBe('a without it');
  // What the server lacks stays in the browser, on the new revision.
  expect(kept.get('p')).toMatchObject({ baseRevision: 2, document: { name: 'a' } });
});

test('a document that the server refuses is told, and the next change is tried', async () => {
  const { autosave, states, server, settle } = bench([
    () => {
      throw problem('design_invalid', 'ways', 'Too many.', '', 'Remove one.');
    },
  ]);
  autosave.changed(named('bad'));
  await settle();
  expect(states.at(-1)).toBe('refused');
  autosave.changed(named('good'));
  await settle();
  expect(server.document.name).toBe('good');
});

test('documents are compared by content', () => {
  expect(isSameDesign({ a: [1, { b: null }], c: 'x' }, { c: 'x', a: [1, { b: null }] })).toBe(true);
  expect(isSameDesign({ a: 1 }, { a: 2 })).toBe(false);
  expect(isSameDesign({ a: 1 }, { a: 1, b: undefined })).toBe(false);
  expect(isSameDesign([], {})).toBe(false);
});

test('flushing waits for a save that is on its way, and sends what came meanwhile', async () => {
  const { autosave, sent, server } = bench();
  autosave.changed(named('a'));
  const first = autosave.flush();
  autosave.changed(named('b'));
  await autosave.flush();
  await first;
  expect(sent).toEqual(['a', 'b']);
  expect(server.document.name).toBe('b');
  expect(autosave.revision()).toBe(server.revision);
  await autosave.leave();
});

test('a project that is left tries once more and then never again; what it kept stays', async () => {
  const away = () => {
    throw new ServerAway('The server does not answer.');
  };
  const { autosave, sent, kept, server, settle } = bench([away, away, away]);
  autosave.changed(named('a'));
  await autosave.leave();
  await settle();
  expect(sent).toEqual(['a']);
  expect(server.revision).toBe(1);
  expect(kept.get('p')?.document.name).toBe('a');
});

test('what is on its way and what waits arrive after leaving, and the outbox of the next visit is left alone', async () => {
  const { autosave, sent, kept, server, settle } = bench();
  autosave.changed(named('a'));
  const first = autosave.flush();
  autosave.changed(named('b'));
  const left = autosave.leave();
  const next = { baseRevision: 1, document: named('next') };
  kept.set('p', next);
  await Promise.all([first, left]);
  await settle();
  expect(sent).toEqual(['a', 'b']);
  expect(server.document.name).toBe('b');
  expect(kept.get('p')).toBe(next);
});

test('a next visit goes on in the chain with numbers that the one before it can’t reach', async () => {
  const { setup, server, kept, settle, usual } = bench();
  const tickets: SaveTicket[] = [];
  const save: AutosaveSetup['save'] = (_id, base, ticket, document) => {
    tickets.push(ticket);
    return Promise.resolve(usual(base, document, ticket));
  };
  const chain = '9d4c1a50-5f0a-4f51-8a53-0d7cf4a4a001';
  server.lastSave = { chain, number: 3 };
  const autosave = createAutosave({ ...setup, save });
  autosave.rebase(1, { chain, number: 3 });
  autosave.changed(named('later'));
  await settle();
  expect(tickets).toHaveLength(1);
  expect(tickets[0].chain).toBe(chain);
  expect(tickets[0].number).toBeGreaterThan(500);
  // What the visit before it still had under way comes too late, and is not told that it was saved.
  expect(usual(1, named('old'), { chain, number: 4 })).toHaveProperty('conflict');
  expect(server.document.name).toBe('later');
  expect(kept.size).toBe(0);
});

/** The log against a real PostgreSQL; npm test names it in FAIR_DATABASE_URL. */
import { applyChange } from '@/core/editing/applyChange';
import { expandedLog, type ExportedVersion } from '@/core/log/exportedLog';
import type { SaveNote } from '@/core/log/log';
import { mainLine, emptyDesign, type Design } from '@/core/document/schema';
import { database } from '@/server/database';
import { createDemoProject } from '@/server/demo';
import {
  annotateVersion,
  exportVersions,
  findState,
  listSteps,
  listVersions,
  recordState,
} from '@/server/log';
import { models } from '@/server/models';
import {
  addVersions,
  createProject,
  findProject,
  pinState,
  purgeDeleted,
  saveProject,
} from '@/server/projects';
import { seededRandom } from '../fixtures';
import { databaseWithAxe } from './axe';

const cut = databaseWithAxe();

const note = (label: string, set: Partial<SaveNote> = {}): SaveNote => ({
  label,
  figures: null,
  begins: null,
  ...set,
});

/** A demo project and a way to change one part and save. */
async function begun() {
  const first = await createDemoProject();
  let { document, revision } = first;
  const save = async (next: Design, told: SaveNote) => {
    const result = await saveProject(first.id, revision, next, told);
    if ('conflict' in result) throw new Error('unexpected conflict');
    ({ document, revision } = result);
    return result;
  };
  const nudge = (value: number, told = note('set L1')) =>
    save(applyChange(document, { type: 'setPartValue', id: 'l1', value }), told);
  return {
    id: first.id,
    first: first.document,
    save,
    nudge,
    now: () => document,
    revision: () => revision,
  };
}

test('every saved state comes back as it was, through wholes and patches', async () => {
  const { id, first, nudge, save, now } = await begun();
  const random = seededRandom(5);
  const kept: Design[] = [first];
  for (let i = 0; i < 150; i++) {
    if (i % 40 === 20)
      await save({ ...now(), name: `named ${i}`, ways: now().ways.toReversed() }, note('turn'));
    else await nudge(1e-3 * (1 + random()));
    kept.push(now());
  }
  for (const revision of [1, 2, 21, 63, 64, 65, 100, 127, 128, 129, 151])
    expect((await findState(id, revision)).document).toEqual(kept[revision - 1]);
  await expect(findState(id, 152)).rejects.toThrow('no such state');
  const wholes = await models().states.count({ where: { projectId: id, patch: null } });
  expect(wholes).toBe(3);
});

test('states group into versions: by names, imports, variants, going back and pauses', async () => {
  const { id, nudge, save, now } = await begun();
  await nudge(3e-3);
  await nudge(3.1e-3);
  await nudge(3.2e-3, note('import x', { begins: 'import' }));
  await annotateVersion(id, 2, { name: 'with x' }, 0);
  await nudge(3.3e-3);
  await save({ ...now(), variant: 'gentle' }, note('try gentle'));
  await nudge(3.4e-3, note('go back to v1', { begins: 'go-back' }));
  const versions = (await listVersions(id)).toReversed();
  expect(
    versions.map(({ number, reason, variant, firstRevision, lastRevision }) => [
      number,
      reason,
      variant,
      firstRevision,
      lastRevision,
    ]),
  ).toEqual([
    [1, 'begin', mainLine, 1, 3],
    [2, 'import', mainLine, 4, 4],
    [3, 'named', mainLine, 5, 5],
    [4, 'variant', 'gentle', 6, 6],
    [5, 'go-back', 'gentle', 7, 7],
  ]);
  expect(versions[0].labels).toEqual(['begun', 'set L1']);
  expect((await listSteps(id, 1)).map(({ revision, label }) => [revision, label])).toEqual([
    [3, 'set L1'],
    [2, 'set L1'],
    [1, 'begun'],
  ]);
  const later = new Date(Date.now() + 11 * 60_000);
  await database().transaction((transaction) =>
    recordState(
      transaction,
      { projectId: id, revision: 8, before: now(), after: now(), note: note('after lunch') },
      later,
    ),
  );
  expect((await listVersions(id))[0]).toMatchObject({ number: 6, reason: 'pause' });
});

test('notes, impressions and figures are kept', async () => {
  const { id, nudge } = await begun();
  const figures = {
    promises: [{ id: 'on-axis', kind: 'on-axis', value: 2.5, isKept: false }],
    thumbnail: [80, null, 82.5],
  } as const;
  await nudge(
    3e-3,
    note('set L1', {
      figures: { promises: [...figures.promises], thumbnail: [...figures.thumbnail] },
    }),
  );
  const impressions = [
    {
      heard: 'a warm voice',
      where: 'back row',
      programme: 'reading',
      levelDb: 72,
      company: 'the librarian',
    },
  ];
  await annotateVersion(id, 1, { note: '# better\n**much**', impressions }, 0);
  await annotateVersion(id, 1, { name: 'first' }, 1);
  expect((await listVersions(id))[0]).toMatchObject({
    name: 'first',
    note: '# better\n**much**',
    impressions,
    figures,
  });
  await expect(annotateVersion(id, 9, { note: 'x' }, 0)).rejects.toThrow('no such version');
});

test('of two saves at the same moment one is kept and the other is told; the log has no gap', async () => {
  const { id, now } = await begun();
  const results = await Promise.all(
    Array.from({ length: 6 }, (_, i) =>
      saveProject(id, 1, { ...now(), name: `tab ${i}` }, note(`tab ${i}`)),
    ),
  );
  expect(results.filter((result) => 'conflict' in result)).toHaveLength(5);
  const { document, revision } = await findProject(id);
  expect(revision).toBe(2);
  expect((await findState(id, 2)).document).toEqual(document);
  expect(await models().states.count({ where: { projectId: id } })).toBe(2);
});

test('a save that fails half-way leaves neither a document without its state nor a state without its document', async () => {
  const { id, now } = await begun();
  // The state of revision 2 is there already, so that recording it fails after the document was
  // written.
  await models().states.create({
    projectId: id,
    revision: 2,
    version: 1,
    savedAt: new Date(),
    label: '',
    patch: [],
    document: null,
  });
  await expect(saveProject(id, 1, { ...now(), name: 'lost?' }, note('x'))).rejects.toThrow();
  const { revision, document } = await findProject(id);
  expect(revision).toBe(1);
  expect(document.name).toMatch(/^The Reading Room( \d+)?$/);
});

test('connections cut in the middle of saving lose nothing that was answered', async () => {
  const { id, nudge, now } = await begun();
  // Sequelize tells of each connection that it gives up.
  const warn = jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  const answered: Design[] = [];
  for (let i = 0; i < 12; i++) {
    const saving = nudge(1e-3 * (i + 1)).then(
      () => answered.push(now()),
      () => undefined,
    );
    if (i % 3 === 0) await cut();
    await saving;
    // What the browser does after a failure: ask where the server is, and go on from there.
    const { revision, document } = await findProject(id);
    expect((await findState(id, revision)).document).toEqual(document);
  }
  warn.mockRestore();
  const { revision } = await findProject(id);
  const states = await Promise.all(
    Array.from({ length: revision }, (_, i) => findState(id, i + 1)),
  );
  for (const document of answered)
    expect(
      states.some((state) => JSON.stringify(state.document) === JSON.stringify(document)),
    ).toBe(true);
});

test('a pin names a state that is there', async () => {
  const { id, nudge } = await begun();
  await nudge(3e-3);
  await pinState(id, 1);
  expect((await findProject(id)).pinnedRevision).toBe(1);
  await expect(pinState(id, 77)).rejects.toThrow('no such state');
  await pinState(id, null);
  expect((await findProject(id)).pinnedRevision).toBeNull();
});

test('the log travels: exported versions come back in a new project, and saving goes on', async () => {
  const { id, nudge, now } = await begun();
  await nudge(3e-3);
  await annotateVersion(id, 1, { name: 'one', note: 'kept' }, 0);
  await nudge(3.1e-3);
  const { versions: log, after } = await exportVersions(id);
  expect(after).toBeNull();
  const [one, two] = [...expandedLog(log, 'log')];
  expect([one, two].map(({ head }) => [head.number, head.name])).toEqual([
    [1, 'one'],
    [2, null],
  ]);
  expect(two.document).toEqual(now());
  // The log ends with the very state that comes with it.
  const copy = await createProject(now(), 1, two.head);
  await addVersions(copy.id, 1, log.slice(0, 1));
  expect(copy.revision).toBe(2);
  const versions = await listVersions(copy.id);
  expect(versions.map(({ number, name, note: text }) => [number, name, text])).toEqual([
    [2, null, ''],
    [1, 'one', 'kept'],
  ]);
  expect((await findState(copy.id, 1)).document).toEqual(one.document);
  const moved = await createProject({ ...now(), name: 'moved on' }, 2);
  await addVersions(moved.id, 1, log);
  await expect(addVersions(moved.id, 1, log)).rejects.toThrow('no room');
  await expect(addVersions(moved.id, 4, log)).rejects.toThrow('no room');
  expect(moved.revision).toBe(3);
  expect((await listVersions(moved.id))[0]).toMatchObject({ number: 3, reason: 'import' });
  expect(
    'conflict' in (await saveProject(copy.id, 2, { ...now(), name: 'on' }, note('rename'))),
  ).toBe(false);
});

test('measurements of old versions outlive their removal from the document', async () => {
  const { save, now } = await begun();
  const [gone] = now().measurements;
  await save(applyChange(now(), { type: 'removeMeasurement', id: gone.id }), note('remove'));
  await database().query(
    "UPDATE measurements SET created_at = now() - interval '40 days' WHERE id = :id",
    { replacements: { id: gone.id } },
  );
  await purgeDeleted(new Date());
  expect(await models().measurements.count({ where: { id: gone.id } })).toBe(1);
});

test('5 000 states stay small, and the list of versions is one short query', async () => {
  const { id, now } = await begun();
  const rows = [];
  let before = now();
  for (let revision = 2; revision <= 5000; revision++) {
    const isWhole = revision % 64 === 0;
    const value = 1e-3 * (1 + (revision % 97) / 97);
    const after = applyChange(before, { type: 'setPartValue', id: 'l1', value });
    const path = '/ways/0/parts/0/henries';
    rows.push({
      projectId: id,
      revision,
      version: Math.ceil(revision / 25),
      savedAt: new Date(),
      label: 'set L1',
      patch: isWhole ? null : [{ op: 'replace' as const, path, value }],
      document: isWhole ? after : null,
    });
    before = after;
  }
  await models().states.bulkCreate(rows);
  await models().versions.bulkCreate(
    Array.from({ length: 199 }, (_, i) => ({
      projectId: id,
      number: i + 2,
      variant: mainLine,
      reason: 'pause' as const,
      firstRevision: 25 * i + 26,
      lastRevision: 25 * i + 50,
      startedAt: new Date(),
      endedAt: new Date(),
      labels: ['set L1'],
    })),
  );
  expect(await listVersions(id)).toHaveLength(200);
  expect((await findState(id, 4999)).document.ways[0].parts[0]).toMatchObject({
    henries: 1e-3 * (1 + (4999 % 97) / 97),
  });
  const [[{ bytes }]] = (await database().query(
    'SELECT sum(pg_column_size(states.*))::int AS bytes FROM states WHERE project_id = :id',
    { replacements: { id } },
  )) as unknown as [[{ bytes: number }]];
  process.stdout.write(`5 000 states: ${Math.round(bytes / 1024)} KiB\n`);
  // A patch is a row of well under a kilobyte; wholes are compressed by the database.
  expect(bytes / 5000).toBeLessThan(700);
});

test('a log of ten years travels in pages, each of which can be put together by itself', async () => {
  const { id, first } = await begun();
  const count = 1400;
  const documents = Array.from({ length: count }, (_, i) => ({
    ...first,
    brief: { ...first.brief, mustUse: `${i} `.repeat(100) },
  }));
  await models().states.bulkCreate(
    documents.map((document, i) => ({
      projectId: id,
      revision: i + 2,
      version: i + 2,
      savedAt: new Date(),
      label: '',
      patch:
        (i + 2) % 64 === 0
          ? null
          : [
              {
                op: 'replace' as const,
                path: '/brief/mustUse',
                value: document.brief.mustUse,
              },
            ],
      document: (i + 2) % 64 === 0 ? document : null,
    })),
  );
  await models().versions.bulkCreate(
    documents.map((_, i) => ({
      projectId: id,
      number: i + 2,
      variant: mainLine,
      reason: 'pause' as const,
      firstRevision: i + 2,
      lastRevision: i + 2,
      startedAt: new Date(),
      endedAt: new Date(),
      labels: [`set ${i}`],
      note: 'n'.repeat(10_000),
    })),
  );
  const pages: ExportedVersion[][] = [];
  for (let after: number | null = 0; after !== null;) {
    const page = await exportVersions(id, after);
    pages.push([...page.versions]);
    after = page.after;
  }
  expect(pages.length).toBeGreaterThan(2);
  const log = pages.flat();
  expect(log.map(({ number }) => number)).toEqual(
    Array.from({ length: count + 1 }, (_, i) => i + 1),
  );
  for (const page of pages) {
    const [begin] = [...expandedLog(page.slice(0, 1), 'page')];
    expect(begin.document).toEqual(
      begin.head.number === 1 ? first : documents[begin.head.number - 2],
    );
    expect(JSON.stringify(page).length).toBeLessThan(5 * 2 ** 20);
  }
  const copy = await createProject({ ...first, name: 'copy' }, log.length);
  let from = 1;
  for (const page of pages) {
    await addVersions(copy.id, from, page);
    from += page.length;
  }
  expect((await findState(copy.id, 700)).document).toEqual(documents[698]);
  expect(await listVersions(copy.id)).toHaveLength(count + 2);
});

test('of two who write about a version the second is told, and a repeated change is one', async () => {
  const { id } = await begun();
  const [mineChain, theirsChain] = [crypto.randomUUID(), crypto.randomUUID()];
  const mine = (number: number) => ({ chain: mineChain, number });
  const theirs = (number: number) => ({ chain: theirsChain, number });
  const first = await annotateVersion(id, 1, { note: 'mine' }, 0, mine(1));
  expect(first).toMatchObject({ note: 'mine', annotationRevision: 1 });
  expect(await annotateVersion(id, 1, { note: 'theirs' }, 0, theirs(1))).toMatchObject({
    conflict: { note: 'mine' },
  });
  // The answer of the first was lost, and the user wrote on: no conflict with oneself.
  expect(await annotateVersion(id, 1, { note: 'mine, further' }, 0, mine(3))).toMatchObject({
    note: 'mine, further',
  });
  // One that was stuck on the way does not bring the old text back, and is not taken for saved.
  expect(await annotateVersion(id, 1, { note: 'mine, half' }, 0, mine(2))).toMatchObject({
    conflict: { note: 'mine, further' },
  });
  expect(await annotateVersion(id, 1, { note: 'theirs' }, 2, theirs(2))).toMatchObject({
    note: 'theirs',
  });
});

test('a save whose answer was lost is known by its chain; one that arrives late changes nothing', async () => {
  const { id, now } = await begun();
  const chain = crypto.randomUUID();
  const save = (number: number, name: string, base = 1, of = chain) =>
    saveProject(id, base, { ...now(), name }, note(name), { chain: of, number });
  expect(await save(1, 'a')).toMatchObject({ revision: 2 });
  expect(await save(1, 'a')).toMatchObject({ revision: 2, document: { name: 'a' } });
  expect(await save(3, 'c')).toMatchObject({ revision: 3, document: { name: 'c' } });
  expect(await save(2, 'b')).toMatchObject({ conflict: { revision: 3, document: { name: 'c' } } });
  const other = crypto.randomUUID();
  expect('conflict' in (await save(1, 'theirs', 2, other))).toBe(true);
  expect(await save(1, 'theirs', 3, other)).toMatchObject({ revision: 4 });
  expect(await save(4, 'd')).toMatchObject({ conflict: { revision: 4 } });
  expect((await findProject(id)).lastSave).toEqual({ chain: other, number: 1 });
});

test('projects made before there was a log have their state as its beginning', async () => {
  const { id } = await createProject(emptyDesign('old'));
  expect((await listVersions(id))[0]).toMatchObject({
    number: 1,
    reason: 'begin',
    labels: ['begun'],
  });
});

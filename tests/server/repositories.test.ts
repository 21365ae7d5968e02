/** The repositories against a real PostgreSQL; npm test names it in FAIR_DATABASE_URL. */
import fc from 'fast-check';
import { checkedSamples, samplesId } from '@/core/measurement/samples';
import { cutText } from '@/core/text';
import { database } from '@/server/database';
import { createDemoProject } from '@/server/demo';
import { annotateVersion, listVersions } from '@/server/log';
import {
  findMeasurement,
  samplesFrom,
  storeMeasurement,
  type SamplesJson,
} from '@/server/measurements';
import { migrate } from '@/server/migrate';
import { models } from '@/server/models';
import {
  createProject,
  deleteProject,
  duplicateProject,
  findProject,
  listProjects,
  purgeDeleted,
  restoreProject,
  saveProject,
} from '@/server/projects';
import { emptyDesign } from '@/core/document/schema';
import { measurementStatement, readDemo } from '../fixtures';

beforeAll(() => migrate());
afterAll(() => database().close());

const numbers = {
  frequencyHz: [20, 1000 / 3, 20_000.000000000004],
  magnitude: [1e-300, -0.1, 1 / 3],
  phaseDeg: [-180, 0.1 + 0.2, 1e17],
};
const idOf = ({ frequencyHz, magnitude, phaseDeg }: typeof numbers) =>
  samplesId({
    frequencyHz: Float64Array.from(frequencyHz),
    magnitude: Float64Array.from(magnitude),
    phaseDeg: Float64Array.from(phaseDeg),
  });

test('migrating twice does nothing the second time', async () => {
  await migrate();
  const [rows] = await database().query('SELECT name FROM migrations');
  expect(rows).toEqual([
    { name: '001-projects-and-measurements' },
    { name: '002-log' },
    { name: '003-library' },
    { name: '004-searches' },
    { name: '005-search-limits' },
    { name: '006-saves-and-notes' },
    { name: '007-checks' },
    { name: '008-demo' },
  ]);
});

test('measurements keep every digit, are stored once, and are checked', async () => {
  const id = idOf(numbers);
  await storeMeasurement(id, numbers);
  await storeMeasurement(id, numbers);
  expect(await findMeasurement(id)).toEqual(numbers);
  expect(await models().measurements.count({ where: { id } })).toBe(1);
  await expect(storeMeasurement('0'.repeat(32), numbers)).rejects.toThrow(
    'not the numbers that the measurement was read with',
  );
  await expect(findMeasurement('1'.repeat(32))).rejects.toThrow('no such measurement');
});

test('a document comes back to the last digit', async () => {
  const { design } = readDemo();
  const { id } = await createDemoProject();
  const { document } = await findProject(id);
  expect(document).toEqual({ ...design, name: document.name });
  expect(document.name).toMatch(/^The Reading Room( \d+)?$/);
});

test('of two saves on one revision the first wins, and the second is shown what is in the way', async () => {
  const { id } = await createProject(emptyDesign('race'));
  const results = await Promise.all(
    ['a', 'b', 'c'].map((name) => saveProject(id, 1, emptyDesign(name))),
  );
  const won = results.filter((result) => !('conflict' in result));
  expect(won).toHaveLength(1);
  const { document, revision } = await findProject(id);
  expect(revision).toBe(2);
  for (const result of results)
    if ('conflict' in result) expect(result.conflict.document).toEqual(document);
});

test('a document that a later visit sends once more makes no state', async () => {
  const { id } = await createProject(emptyDesign('start'));
  const chain = crypto.randomUUID();
  const note = { label: '', figures: null, begins: null };
  const save = (number: number) =>
    saveProject(id, 1, emptyDesign('newer'), note, { chain, number });
  expect(await save(1)).toMatchObject({ revision: 2, lastSave: { number: 1 } });
  expect(await save(1001)).toMatchObject({ revision: 2, lastSave: { number: 1001 } });
  // What a still later visit made of it is not in conflict with that.
  expect(await saveProject(id, 2, emptyDesign('newest'))).toMatchObject({ revision: 3 });
});

test('a document is not stored before its measurements', async () => {
  const design = {
    ...emptyDesign('early'),
    measurements: [measurementStatement('a'.repeat(32), 'response')],
  };
  await expect(createProject(design)).rejects.toThrow('were not stored yet');
});

test('of a long list the last changed come first', async () => {
  const older = await createProject(emptyDesign('older'));
  const newer = await createProject(emptyDesign('newer'));
  await saveProject(older.id, 1, emptyDesign('older, changed'));
  const ids = (await listProjects(2)).map(({ id }) => id);
  expect(ids).toEqual([older.id, newer.id]);
  expect((await listProjects()).map(({ id }) => id).slice(0, 2)).toEqual(ids);
});

test('list, copy, delete, take back', async () => {
  const original = await createDemoProject();
  const copy = await duplicateProject(original.id);
  expect(copy.document.name).toBe(`${original.document.name} (copy)`);
  expect((await listProjects()).find(({ id }) => id === copy.id)).toMatchObject({
    drivers: ['Woofer', 'Midrange', 'Tweeter'],
    wayCount: 3,
    partCount: 11,
    revision: 1,
    isDemo: false,
  });
  // What no browser has seen yet has its response and promises too.
  const { figures } = (await listProjects()).find(({ id }) => id === copy.id)!;
  expect(figures!.promises.filter(({ isKept }) => isKept === false)).toHaveLength(7);
  expect(figures!.thumbnail.some((level) => level !== null)).toBe(true);
  await deleteProject(copy.id);
  expect((await listProjects()).some(({ id }) => id === copy.id)).toBe(false);
  await expect(findProject(copy.id)).rejects.toThrow('no such project');
  await expect(saveProject(copy.id, 1, copy.document)).rejects.toThrow('no such project');
  await expect(deleteProject(copy.id)).rejects.toThrow('no such project');
  await restoreProject(copy.id);
  expect((await findProject(copy.id)).document).toEqual(copy.document);
  await expect(restoreProject(copy.id)).rejects.toThrow('no such project');
});

test('after a month what was deleted goes for good, with measurements that nobody names', async () => {
  const { id } = await createProject(emptyDesign('old'));
  const lonely = { ...numbers, magnitude: [4, 5, 6] };
  await storeMeasurement(idOf(lonely), lonely);
  const demo = await createDemoProject();
  await deleteProject(id);
  await purgeDeleted(new Date());
  await restoreProject(id);
  await deleteProject(id);
  await purgeDeleted(new Date(Date.now() + 31 * 24 * 3600 * 1000));
  await expect(restoreProject(id)).rejects.toThrow('no such project');
  await expect(findMeasurement(idOf(lonely))).rejects.toThrow('no such measurement');
  expect((await findMeasurement(demo.document.measurements[0].id)).frequencyHz).toHaveLength(539);
});

test('every double that a file can hold is stored as it was read, zero without its sign', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.tuple(
          fc.double({ noNaN: true, noDefaultInfinity: true }),
          fc.double({ noNaN: true, noDefaultInfinity: true }),
        ),
        {
          minLength: 2,
          maxLength: 12,
        },
      ),
      async (pairs) => {
        const samples = checkedSamples(
          pairs.map((_, i) => i + 0.5),
          pairs.map(([level]) => level),
          pairs.map(([, phase]) => phase),
        );
        if (typeof samples === 'string') throw new Error(samples);
        const id = samplesId(samples);
        // Over the wire, into the database and back.
        const sent = JSON.parse(
          JSON.stringify({
            frequencyHz: [...samples.frequencyHz],
            magnitude: [...samples.magnitude],
            phaseDeg: [...samples.phaseDeg!],
          }),
        ) as SamplesJson;
        await storeMeasurement(id, sent);
        const back = samplesFrom(await findMeasurement(id));
        expect(samplesId(back)).toBe(id);
        back.magnitude.forEach((value, i) =>
          expect(Object.is(value, samples.magnitude[i])).toBe(true),
        );
        back.phaseDeg!.forEach((value, i) =>
          expect(Object.is(value, samples.phaseDeg![i])).toBe(true),
        );
      },
    ),
    { numRuns: 60 },
  );
  const signed = { frequencyHz: [1, 2], magnitude: [-0, 1], phaseDeg: null };
  await storeMeasurement(samplesId(samplesFrom(signed)), signed);
});

test('any clean text is stored as it is, in documents, notes and labels', async () => {
  await fc.assert(
    fc.asyncProperty(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 }), async (text) => {
      const clean = cutText(text, 60);
      if (clean.trim() === '') return;
      const document = {
        ...emptyDesign('x'),
        brief: { ...emptyDesign('x').brief, mustUse: clean },
      };
      const { id } = await createProject(document);
      await saveProject(
        id,
        1,
        { ...document, name: 'y' },
        { label: clean, figures: null, begins: null },
      );
      await annotateVersion(id, 1, { note: clean }, 0);
      expect((await findProject(id)).document.brief.mustUse).toBe(clean);
      const [version] = await listVersions(id);
      expect([version.note, version.labels.at(-1)]).toEqual([clean, clean]);
    }),
    { numRuns: 40 },
  );
});

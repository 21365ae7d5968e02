/** Each migration on data of the release before it, in a schema of its own. */
import { Client, types } from 'pg';
import { QueryTypes, Sequelize } from 'sequelize';
import { databaseUrl } from '@/server/database';
import { migrations } from '@/server/migrate';

const schema = `migrations_${process.pid}`;
const db = new Sequelize(databaseUrl(), {
  dialect: 'postgres',
  dialectModule: { Client, types },
  schema,
  dialectOptions: { options: `-c search_path=${schema}` },
  logging: false,
  pool: { max: 1 },
});
const rows = <Row extends object>(sql: string) => db.query<Row>(sql, { type: QueryTypes.SELECT });
const up = (number: number) => migrations[number - 1].up(db.getQueryInterface());
const down = (number: number) => migrations[number - 1].down(db.getQueryInterface());

beforeAll(() => db.query(`CREATE SCHEMA ${schema}`));
afterAll(async () => {
  await db.query(`DROP SCHEMA ${schema} CASCADE`);
  await db.close();
});

const project = '00000000-0000-4000-8000-000000000001';
const search = '00000000-0000-4000-8000-000000000002';
const document = { name: 'Old', measurements: [{ id: 'a' }, { id: 'b' }] };

test('a project of the first release gets a log that begins with it, and keeps its measurements', async () => {
  await up(1);
  await db.query(
    `INSERT INTO projects VALUES ('${project}', 'Old', '${JSON.stringify(document)}', 7, '2026-01-01', '2026-02-03')`,
  );
  await up(2);
  expect(await rows('SELECT measurement_ids, pinned_revision FROM projects')).toEqual([
    { measurement_ids: ['a', 'b'], pinned_revision: null },
  ]);
  expect(await rows('SELECT revision, version, patch, document FROM states')).toEqual([
    { revision: 7, version: 1, patch: null, document },
  ]);
  expect(await rows('SELECT number, variant, reason, last_revision FROM versions')).toEqual([
    { number: 1, variant: 'main line', reason: 'begin', last_revision: 7 },
  ]);
});

test('a search that knew its largest number of parts gets limits with it', async () => {
  await up(3);
  await up(4);
  await db.query(
    `INSERT INTO searches VALUES ('${search}', '${project}', '{}', 11, 'done', 2, 'done', 0, 40, '[]', NULL, now(), now())`,
  );
  await up(5);
  const [{ limits }] = await rows<{ limits: Record<string, unknown> }>(
    'SELECT limits FROM searches',
  );
  expect(limits).toMatchObject({ mostParts: 11, mostWatts: null, rates: { coil: 3 } });
  await down(5);
  expect(await rows('SELECT most_parts FROM searches')).toEqual([{ most_parts: 11 }]);
  await up(5);
});

test('notes of versions begin with revision 0; saves have no source', async () => {
  await up(6);
  expect(
    await rows('SELECT annotation_revision, annotation_chain, annotation_number FROM versions'),
  ).toEqual([{ annotation_revision: 0, annotation_chain: null, annotation_number: null }]);
  expect(await rows('SELECT save_chain, save_number FROM projects')).toEqual([
    { save_chain: null, save_number: null },
  ]);
});

test('the tables refuse words and states that the program does not know', async () => {
  await up(7);
  for (const wrong of [
    `UPDATE searches SET state = 'asleep'`,
    `UPDATE versions SET reason = 'whim'`,
    `UPDATE states SET document = NULL`,
    `UPDATE states SET patch = '[]'`,
  ])
    await expect(db.query(wrong)).rejects.toThrow(/violates check constraint/);
  expect(await rows('SELECT state FROM searches')).toEqual([{ state: 'done' }]);
});

test('a project that has the demo’s name was the demo', async () => {
  await db.query(`UPDATE projects SET name = 'The Reading Room'`);
  await up(8);
  expect(await rows('SELECT is_demo FROM projects')).toEqual([{ is_demo: true }]);
  await db.query(`UPDATE projects SET name = 'Old'`);
});

test('all of it can be taken back, the newest first, and the project is as it was', async () => {
  for (let number = migrations.length; number > 1; number--) await down(number);
  expect(await rows('SELECT id, name, document, revision FROM projects')).toEqual([
    { id: project, name: 'Old', document, revision: 7 },
  ]);
  await down(1);
  expect(
    await rows(`SELECT table_name FROM information_schema.tables WHERE table_schema = '${schema}'`),
  ).toEqual([]);
});

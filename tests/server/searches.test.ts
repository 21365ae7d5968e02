/**
 * Searches that the server carries on, with worker processes as they run, against a real
 * PostgreSQL.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import type PgBoss from 'pg-boss';
import { createExploration, explore, tryNetwork } from '@/core/exploration/explore';
import { limitedTo } from '@/core/fitting/limits';
import { database } from '@/server/database';
import { createDemoProject } from '@/server/demo';
import { storeMeasurement } from '@/server/measurements';
import { migrate } from '@/server/migrate';
import { models } from '@/server/models';
import { createProject, deleteProject, listProjects } from '@/server/projects';
import { batchQueue, connectQueue, prepareQueues, queue } from '@/server/queue';
import { beginSearch, continueSearch, listSearches, stopSearch } from '@/server/searches';
import { giveUp, reviveSearches, tryBatch } from '@/server/searchWork';
import { readDemo } from '../fixtures';

const { design: demo, data } = readDemo();
const [, midrange, tweeter] = demo.drivers;
/** Two ways with few parts: some dozens of networks. */
const design = { ...demo, name: 'Searched', drivers: [midrange, tweeter], boxes: [], ways: [] };

let boss: PgBoss;
let projectId: string;
const workers: ChildProcess[] = [];

/** A worker as `npm start` runs it, once it is ready. */
function startWorker(): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['dist/worker.mjs'], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: process.env,
  });
  workers.push(child);
  return new Promise((resolve, reject) => {
    child.once('exit', (code) => reject(new Error(`The worker ended with ${code}.`)));
    child.stdout.once('data', () => resolve(child));
  });
}

const find = async (id: string) => (await listSearches(projectId)).find((one) => one.id === id)!;

async function until(id: string, isSo: (one: Awaited<ReturnType<typeof find>>) => boolean) {
  for (const deadline = Date.now() + 200_000; Date.now() < deadline;) {
    const found = await find(id);
    if (isSo(found)) return found;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`It did not come about: ${JSON.stringify({ ...(await find(id)), networks: 0 })}`);
}

beforeAll(async () => {
  await migrate();
  await prepareQueues();
  if ((await listProjects()).length === 0) await createDemoProject();
  for (const [id, samples] of data)
    await storeMeasurement(id, {
      frequencyHz: [...samples.frequencyHz],
      magnitude: [...samples.magnitude],
      phaseDeg: samples.phaseDeg && [...samples.phaseDeg],
    });
  projectId = (await createProject(design)).id;
  boss = await connectQueue(false);
}, 30_000);

afterAll(async () => {
  for (const worker of workers) worker.kill('SIGKILL');
  await boss.stop({ graceful: false });
  await database().close();
});

test('a search survives the death of its worker, is shared by two others, and finds what a search in one process finds', async () => {
  const { id } = await beginSearch(boss, projectId, design, limitedTo(5));
  expect(await find(id)).toMatchObject({ state: 'running', tried: 0, networks: [] });
  const first = await startWorker();
  await until(id, ({ tried }) => tried > 3);
  first.kill('SIGKILL');
  const before = await find(id);
  await Promise.all([startWorker(), startWorker()]);
  const done = await until(id, ({ state }) => state === 'done');
  expect(before.state).toBe('running');
  expect(done.trouble).toBeNull();

  const exploration = createExploration(design, data, limitedTo(5));
  const alone = await explore(exploration, ({ tries, effort }) =>
    Promise.resolve(tries.flatMap((wish) => tryNetwork(exploration, wish, effort) ?? [])),
  );
  expect(done.tried).toBe(alone.tried);
  expect(done.networks).toEqual(JSON.parse(JSON.stringify(alone.networks)));
  expect(await models().searchTries.count({ where: { searchId: id } })).toBe(0);
}, 240_000);

test('a search that is stopped keeps the best of what was tried, and is left alone then', async () => {
  const { id } = await beginSearch(boss, projectId, design, limitedTo(6));
  await until(id, ({ tried }) => tried > 5);
  const stopped = await stopSearch(projectId, id);
  expect(stopped.state).toBe('stopped');
  expect(stopped.networks!.length).toBeGreaterThan(0);
  await new Promise((resolve) => setTimeout(resolve, 1500));
  expect(await find(id)).toEqual(stopped);
  await expect(stopSearch(crypto.randomUUID(), id)).rejects.toThrow(/no such search/);
}, 60_000);

test('a search without enough drivers is refused at once', async () => {
  const none = { ...design, drivers: [midrange] };
  await expect(beginSearch(boss, projectId, none, limitedTo(5))).rejects.toThrow(
    /joins two to four/,
  );
});

test('ten searches of a project are kept, the newest first', async () => {
  for (let i = 0; i < 11; i++) {
    const { id } = await beginSearch(boss, projectId, design, limitedTo(2));
    await stopSearch(projectId, id);
  }
  const kept = await listSearches(projectId);
  expect(kept).toHaveLength(10);
  const times = kept.map(({ createdAt }) => createdAt);
  expect(times).toEqual([...times].sort().reverse());
}, 30_000);

describe('without a worker', () => {
  beforeAll(async () => {
    for (const worker of workers.splice(0)) {
      if (worker.exitCode !== null || worker.signalCode !== null) continue;
      const gone = new Promise((resolve) => worker.once('exit', resolve));
      worker.kill('SIGKILL');
      await gone;
    }
    await database().query("DELETE FROM pgboss.job WHERE name LIKE 'search%'");
  });
  const runningRow = (stage: number, stageCount: number) =>
    models().searches.create({
      ...{ projectId, design, limits: limitedTo(5), state: 'running', stage, stageCount },
      ...{ stageName: 'made up', tried: 0, networks: [], trouble: null, failedBatch: null },
    });
  const jobs = async (id: string) => {
    const [rows] = (await database().query(
      "SELECT name, data, state FROM pgboss.job WHERE data->>'searchId' = :id ORDER BY created_on",
      { replacements: { id } },
    )) as unknown as [{ name: string; data: Record<string, number>; state: string }[]];
    return rows;
  };

  test('a search says that it waits for a worker, and none is begun when its job can’t be sent', async () => {
    const { id } = await beginSearch(boss, projectId, design, limitedTo(3));
    expect((await find(id)).stageName).toContain('no worker is running');
    expect(await jobs(id)).toMatchObject([{ name: 'search-advance', state: 'created' }]);
    await stopSearch(projectId, id);
    const count = await models().searches.count();
    const broken = { insert: () => Promise.reject(new Error('queue away')) } as unknown as PgBoss;
    await expect(beginSearch(broken, projectId, design, limitedTo(3))).rejects.toThrow('away');
    expect(await models().searches.count()).toBe(count);
  });

  test('work that fails for good ends its search with the reason, keeps the best, and can be left out', async () => {
    const row = await runningRow(0, 12);
    await tryBatch(boss, { searchId: row.id, stage: 0, from: 0, to: 6 });
    await giveUp({ searchId: row.id, stage: 0, from: 6, to: 12 }, 'its worker ended each time.');
    const failed = await find(row.id);
    expect(failed).toMatchObject({ state: 'failed', canGoOn: true });
    expect(failed.trouble).toBe(
      'Networks 7 to 12 of “made up” could not be tried in 6 attempts: its worker ended each time.',
    );
    expect(failed.networks!.length).toBeGreaterThan(0);
    const again = await continueSearch(boss, projectId, row.id);
    expect(again).toMatchObject({ state: 'running', trouble: null, stageDone: 12 });
    await stopSearch(projectId, row.id);
  });

  test('a search whose jobs were lost gets them again, those that are missing only', async () => {
    const row = await runningRow(0, 12);
    await tryBatch({ send: () => Promise.resolve() } as unknown as PgBoss, {
      ...{ searchId: row.id, stage: 0, from: 0, to: 6 },
    });
    const later = new Date(Date.now() + 61_000);
    await reviveSearches(boss, later);
    const again = await jobs(row.id);
    expect(again.map(({ name, data }) => [name, data.from]).sort()).toEqual([
      [batchQueue, 10],
      [batchQueue, 6],
      [batchQueue, 8],
    ]);
    await reviveSearches(boss, later);
    expect(await jobs(row.id)).toHaveLength(3);
    await stopSearch(projectId, row.id);
  });

  test('what a worker still tries when its search is stopped leaves nothing behind', async () => {
    const row = await runningRow(0, 3);
    const trying = tryBatch(boss, { searchId: row.id, stage: 0, from: 0, to: 3 });
    await stopSearch(projectId, row.id);
    await trying;
    expect(await models().searchTries.count({ where: { searchId: row.id } })).toBe(0);
  });

  test('four run at once; the eleventh of a project removes none that runs; a deleted project’s end', async () => {
    const other = await createProject({ ...design, name: 'To be deleted' });
    const begun = [];
    for (let i = 0; i < 4; i++)
      begun.push(await beginSearch(boss, i < 3 ? projectId : other.id, design, limitedTo(2)));
    await expect(beginSearch(boss, projectId, design, limitedTo(2))).rejects.toThrow(
      /4 searches are running already.*Wait until one is done/,
    );
    await deleteProject(other.id);
    expect((await listSearches(other.id))[0]).toMatchObject({ state: 'stopped' });
    for (let i = 0; i < 10; i++)
      await stopSearch(projectId, (await beginSearch(boss, projectId, design, limitedTo(2))).id);
    const kept = await listSearches(projectId);
    for (const { id } of begun.slice(0, 3))
      expect(kept.find((one) => one.id === id)?.state).toBe('running');
    for (const { id } of begun.slice(0, 3)) await stopSearch(projectId, id);
  });

  test('networks that the page has are not sent again', async () => {
    const [newest] = await listSearches(projectId);
    const known = new Map([[newest.id, newest.networksVersion]]);
    const [again] = await listSearches(projectId, known);
    expect(again).toEqual({ ...newest, networks: null });
  });
});

test('a queue that could not be reached is connected to again', async () => {
  const url = process.env.FAIR_DATABASE_URL!;
  const closed = new URL(url);
  closed.port = '1';
  process.env.FAIR_DATABASE_URL = closed.toString();
  await expect(queue()).rejects.toThrow();
  process.env.FAIR_DATABASE_URL = url;
  const connected = await queue();
  await connected.stop({ graceful: false });
});

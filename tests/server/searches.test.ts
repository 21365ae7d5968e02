/** Searches that the server carries on, with worker processes as they run, against a real PostgreSQL. */
import { spawn, type ChildProcess } from 'node:child_process';
import type PgBoss from 'pg-boss';
import { createExploration, explore, tryNetwork } from '@/core/fitting/explore';
import { limitedTo } from '@/core/fitting/limits';
import { database } from '@/server/database';
import { createDemoProject } from '@/server/demo';
import { storeMeasurement } from '@/server/measurements';
import { migrate } from '@/server/migrate';
import { models } from '@/server/models';
import { createProject, listProjects } from '@/server/projects';
import { connectQueue, prepareQueues } from '@/server/queue';
import { beginSearch, listSearches, stopSearch } from '@/server/searches';
import { readDemo } from '../fixtures';

const { design: demo, data } = readDemo();
const [, midrange, tweeter] = demo.drivers;
/** Two ways with few parts: some dozens of networks. */
const design = { ...demo, name: 'Searched', drivers: [midrange, tweeter], ways: [] };

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
  for (const deadline = Date.now() + 100_000; Date.now() < deadline;) {
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
    Promise.resolve(
      tries.flatMap(({ recipe, from }) => tryNetwork(exploration, recipe, effort, from) ?? []),
    ),
  );
  expect(done.tried).toBe(alone.tried);
  expect(done.networks).toEqual(JSON.parse(JSON.stringify(alone.networks)));
  expect(await models().searchTries.count({ where: { searchId: id } })).toBe(0);
}, 120_000);

test('a search that is stopped keeps the best of what was tried, and is left alone then', async () => {
  const { id } = await beginSearch(boss, projectId, design, limitedTo(6));
  await until(id, ({ tried }) => tried > 5);
  const stopped = await stopSearch(projectId, id);
  expect(stopped.state).toBe('stopped');
  expect(stopped.networks.length).toBeGreaterThan(0);
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

import type PgBoss from 'pg-boss';
import type { Transaction } from 'sequelize';
import { bestSoFar } from '@/core/exploration/shortlist';
import { stageAfter, type SearchStage } from '@/core/exploration/stages';
import { tryNetwork } from '@/core/exploration/explore';
import { type Effort, type Exploration, type FoundNetwork } from '@/core/exploration/found';
import { database } from './database';
import { models, type SearchRow } from './models';
import {
  advanceQueue,
  batchQueue,
  retryLimit,
  sendJobs,
  withoutJobs,
  type AdvanceJob,
  type BatchJob,
} from './queue';
import { explorationOf, resultsBefore } from './searches';

/** What workers do with searches. */

/** Networks in one job: seconds of work, far less than after which a worker is taken for dead. */
const batchSizes: Readonly<Record<Effort, number>> = { look: 60, grow: 50, finish: 2, stock: 1 };

const batch = (data: BatchJob) => ({ name: batchQueue, data });

/** Jobs for the tries of a stage that are not there yet. */
async function missingBatches(
  row: Pick<SearchRow, 'id' | 'stage' | 'stageCount'>,
  size: number,
  transaction: Transaction,
) {
  const done = new Set(
    (
      await models().searchTries.findAll({
        where: { searchId: row.id, stage: row.stage },
        attributes: ['number'],
        transaction,
      })
    ).map(({ number }) => number),
  );
  const jobs: ReturnType<typeof batch>[] = [];
  for (let from = 0; from < row.stageCount; from += size) {
    const to = Math.min(row.stageCount, from + size);
    const isOpen = Array.from({ length: to - from }, (_, i) => from + i).some((n) => !done.has(n));
    if (isOpen) jobs.push(batch({ searchId: row.id, stage: row.stage, from, to }));
  }
  return jobs;
}

/**
 * Begins the next stage of a search when the present one is over. Doing it twice does nothing the
 * second time: what the stage holds is worked out first, and under the lock it is only looked
 * whether that is still the question.
 */
export async function advanceSearch(boss: PgBoss, { searchId }: AdvanceJob): Promise<void> {
  const seen = await models().searches.findByPk(searchId);
  if (seen?.state !== 'running' || !(await isStageOver(seen))) return;
  const before = await resultsBefore(searchId, seen.stage + 1);
  const next = stageAfter(await explorationOf(seen), before);
  await database().transaction(async (transaction) => {
    const row = await lockedRunning(transaction, searchId);
    if (row?.stage !== seen.stage) return;
    await row.update(
      {
        state: next ? 'running' : 'done',
        stage: before.length,
        stageName: next?.name ?? 'done',
        stageCount: next?.tries.length ?? 0,
        tried: before.flat().length,
        networks: bestSoFar(before, row.limits, next === null),
      },
      { transaction },
    );
    if (!next) await models().searchTries.destroy({ where: { searchId }, transaction });
    else if (next.tries.length === 0)
      // A stage without tries is over at once.
      await sendJobs(boss, transaction, [{ name: advanceQueue, data: { searchId } }]);
    else
      await sendJobs(
        boss,
        transaction,
        await missingBatches(row, batchSizes[next.effort], transaction),
      );
  });
}

const lockedRunning = (transaction: Transaction, id: string): Promise<SearchRow | null> =>
  models().searches.findOne({
    where: { id, state: 'running' },
    transaction,
    lock: transaction.LOCK.UPDATE,
  });

async function isStageOver({ id, stage, stageCount }: SearchRow): Promise<boolean> {
  return (
    stage < 0 ||
    (await models().searchTries.count({ where: { searchId: id, stage } })) >= stageCount
  );
}

/** The stage that was worked at last, for the next batch of it. */
let lastStage: {
  readonly key: string;
  readonly exploration: Exploration;
  readonly stage: SearchStage;
} | null = null;

async function stageOf(searchId: string, number: number) {
  const key = `${searchId} ${number}`;
  if (lastStage?.key === key) return lastStage;
  const row = await models().searches.findByPk(searchId, { attributes: ['design', 'limits'] });
  if (!row) return null;
  const exploration = await explorationOf(row);
  const stage = stageAfter(exploration, await resultsBefore(searchId, number));
  return stage ? (lastStage = { key, exploration, stage }) : null;
}

/** What was tried is stored so often: each question to the database costs as much as a network. */
const storeEveryMs = 250;

/**
 * Tries the networks of a batch that were not tried yet; stops soon after the search was stopped.
 */
export async function tryBatch(boss: PgBoss, job: BatchJob): Promise<void> {
  const { searchId, stage, from, to } = job;
  const done = await models().searchTries.findAll({
    where: { searchId, stage },
    attributes: ['number'],
  });
  const known = new Set(done.map(({ number }) => number));
  const open = Array.from({ length: to - from }, (_, i) => from + i).filter((n) => !known.has(n));
  let tried: TriedNetwork[] = [];
  let storedAt = -Infinity;
  for (const number of open) {
    if (performance.now() - storedAt > storeEveryMs) {
      if (!(await keepTries(job, tried))) return;
      tried = [];
      storedAt = performance.now();
    }
    const work = await stageOf(searchId, stage);
    if (!work) return;
    const network = tryNetwork(work.exploration, work.stage.tries[number], work.stage.effort);
    tried.push({ number, network });
  }
  if (!(await keepTries(job, tried))) return;
  await boss.send(advanceQueue, { searchId } satisfies AdvanceJob);
}

interface TriedNetwork {
  readonly number: number;
  /** Null for one that can't be solved. */
  readonly network: FoundNetwork | null;
}

/**
 * Stores what was tried, unless the search was stopped meanwhile: who stops it holds its row, and
 * takes the tries away. Another worker may have been given the same when this one was taken for
 * dead.
 *
 * @returns whether the search is still at this stage
 */
async function keepTries(
  { searchId, stage }: BatchJob,
  tried: readonly TriedNetwork[],
): Promise<boolean> {
  const [rows] = await database().query(
    `WITH search AS (
       SELECT id FROM searches WHERE id = $1 AND state = 'running' AND stage = $2 FOR SHARE
     ), kept AS (
       INSERT INTO search_tries (search_id, stage, number, network)
       SELECT search.id, $2, (one->>'number')::integer, nullif(one->'network', 'null'::jsonb)
       FROM search, jsonb_array_elements($3::jsonb) AS one
       ON CONFLICT DO NOTHING
     )
     SELECT id FROM search`,
    { bind: [searchId, stage, JSON.stringify(tried)] },
  );
  return rows.length > 0;
}

/**
 * A search ends when a part of its work fails for good; the best so far stays, and it can go on
 * without that part.
 */
export async function giveUp(job: AdvanceJob | BatchJob, reason: string): Promise<void> {
  const isBatch = 'from' in job;
  await database().transaction(async (transaction) => {
    const row = await lockedRunning(transaction, job.searchId);
    if (!row || (isBatch && row.stage !== job.stage)) return;
    const before = await resultsBefore(row.id, row.stage + 1, transaction);
    const which = isBatch
      ? `Networks ${job.from + 1} to ${job.to} of “${row.stageName}” could not be tried in ${retryLimit + 1} attempts: `
      : '';
    await row.update(
      {
        state: 'failed',
        trouble: which + reason,
        failedBatch: isBatch ? { stage: job.stage, from: job.from, to: job.to } : null,
        networks: bestSoFar(before, row.limits),
      },
      { transaction },
    );
  });
}

/** After so long without a sign, a running search is looked after. */
const quietMs = 60_000;

/**
 * Sends again what is missing of running searches for which no job is left: the queue lost it, or
 * was restored.
 */
export async function reviveSearches(boss: PgBoss, now = new Date()): Promise<void> {
  const running = await models().searches.findAll({
    where: { state: 'running' },
    attributes: ['id', 'updatedAt'],
  });
  const quiet = running.filter(({ updatedAt }) => now.getTime() - updatedAt.getTime() > quietMs);
  for (const id of await withoutJobs(quiet.map((row) => row.id)))
    await database().transaction(async (transaction) => {
      const row = await lockedRunning(transaction, id);
      if (!row) return;
      const jobs = row.stage < 0 ? [] : await missingBatches(row, batchSizes.finish, transaction);
      await sendJobs(
        boss,
        transaction,
        jobs.length > 0 ? jobs : [{ name: advanceQueue, data: { searchId: id } }],
      );
    });
}

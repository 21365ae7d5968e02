import type PgBoss from 'pg-boss';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import { upToDate } from '@/core/document/readDesign';
import type { Design } from '@/core/document/schema';
import { bestSoFar } from '@/core/exploration/shortlist';
import { createExploration } from '@/core/exploration/explore';
import { type FoundNetwork } from '@/core/exploration/found';
import type { SearchLimits } from '@/core/fitting/limits';
import { networksVersion, type ServerSearch } from '@/core/exploration/serverSearch';
import { problem } from '@/core/problem';
import { database } from './database';
import { measurementsOf } from './measurements';
import { requireProject } from './missing';
import { models, type SearchRow } from './models';
import { advanceQueue, isWorkerThere, sendJobs } from './queue';

/** What pages ask of searches; what workers do with them is in `searchWork.ts`. */

/** Searches of a project that are kept. */
const keptPerProject = 10;
/** Searches that may run at once; more would only slow each other down. */
const mostRunning = 4;

const missingSearch = () =>
  problem(
    'search_not_found',
    '',
    'There is no such search.',
    'It was removed meanwhile.',
    '',
    'missing',
  );

/** All that a worker needs to try networks for a search. */
export async function explorationOf(row: Pick<SearchRow, 'design' | 'limits'>) {
  const design = upToDate(row.design as Design, 'search');
  return createExploration(design, await measurementsOf(design), row.limits);
}

/**
 * Begins a search that goes on whatever becomes of the page. Search and first job are stored
 * together or not at all.
 *
 * @throws ProblemError when a measurement or enough drivers are missing, or `searches_busy`
 */
export async function beginSearch(
  boss: PgBoss,
  projectId: string,
  design: Design,
  limits: SearchLimits,
): Promise<ServerSearch> {
  await requireProject(projectId);
  await explorationOf({ design, limits });
  const row = await database().transaction(async (transaction) => {
    await requireRoom(transaction);
    const begun = await models().searches.create(
      {
        ...{ projectId, design, limits },
        state: 'running',
        stage: -1,
        stageName: 'waiting for a worker',
        stageCount: 0,
        tried: 0,
        networks: [],
        trouble: null,
        failedBatch: null,
      },
      { transaction },
    );
    const old = await models().searches.findAll({
      where: { projectId, state: { [Op.not]: 'running' } },
      order: [['createdAt', 'DESC']],
      // The one that was just begun is kept as well.
      offset: keptPerProject - 1,
      attributes: ['id'],
      transaction,
    });
    await models().searches.destroy({ where: { id: old.map(({ id }) => id) }, transaction });
    await sendJobs(boss, transaction, [{ name: advanceQueue, data: { searchId: begun.id } }]);
    return begun;
  });
  return toldSearch(row, await isWorkerThere());
}

async function requireRoom(transaction: Transaction): Promise<void> {
  // One beginning at a time, so that two don't both find the last place.
  await database().query(`SELECT pg_advisory_xact_lock(hashtext('fair searches'))`, {
    transaction,
    type: QueryTypes.SELECT,
  });
  const running = await models().searches.count({ where: { state: 'running' }, transaction });
  if (running < mostRunning) return;
  throw problem(
    'searches_busy',
    '',
    `${running} searches are running already.`,
    `The server carries on ${mostRunning} at once.`,
    'Wait until one is done, or stop one.',
    'busy',
  );
}

async function toldSearch(row: SearchRow, isWorkerHere: boolean): Promise<ServerSearch> {
  const { id, state, limits, stage, stageCount, tried, networks, trouble } = row;
  const isRunning = state === 'running';
  const stageDone = isRunning
    ? await models().searchTries.count({ where: { searchId: id, stage } })
    : 0;
  return {
    ...{ id, state, limits, stageCount, stageDone, trouble },
    stageName:
      isRunning && !isWorkerHere
        ? 'no worker is running; it goes on as soon as one does'
        : row.stageName,
    // Absent when only the rest was asked for.
    networks: networks ?? null,
    networksVersion: networksVersion(row),
    canGoOn: row.failedBatch !== null && state === 'failed',
    tried: tried + stageDone,
    createdAt: row.createdAt.toISOString(),
  };
}

/**
 * The searches of a project, the newest first.
 *
 * @param known versions of the networks that the asker has already, by search: these are not sent
 *   again
 */
export async function listSearches(
  projectId: string,
  known: ReadonlyMap<string, string> = new Map(),
): Promise<ServerSearch[]> {
  const rows = await models().searches.findAll({
    where: { projectId },
    order: [['createdAt', 'DESC']],
    attributes: { exclude: ['design', 'networks'] },
  });
  const stale = rows.filter((row) => known.get(row.id) !== networksVersion(row));
  const networks = new Map(
    (
      await models().searches.findAll({
        where: { id: stale.map(({ id }) => id) },
        attributes: ['id', 'networks'],
      })
    ).map((row) => [row.id, row.networks] as const),
  );
  const isWorkerHere = await isWorkerThere();
  return Promise.all(
    rows.map(async (row) => ({
      ...(await toldSearch(row, isWorkerHere)),
      networks: networks.get(row.id) ?? null,
    })),
  );
}

/** A search under lock, to be changed. @throws ProblemError `search_not_found` */
async function locked(transaction: Transaction, projectId: string, id: string): Promise<SearchRow> {
  const row = await models().searches.findOne({
    where: { id, projectId },
    transaction,
    lock: transaction.LOCK.UPDATE,
  });
  if (!row) throw missingSearch();
  return row;
}

/** Stops a search and keeps the best of what was tried. */
export async function stopSearch(projectId: string, id: string): Promise<ServerSearch> {
  const row = await database().transaction(async (transaction) => {
    const found = await locked(transaction, projectId, id);
    if (found.state !== 'running') return found;
    const before = await resultsBefore(id, found.stage + 1, transaction);
    await found.update(
      {
        state: 'stopped',
        networks: bestSoFar(before, found.limits),
        tried: before.flat().length,
      },
      { transaction },
    );
    await models().searchTries.destroy({ where: { searchId: id }, transaction });
    return found;
  });
  return toldSearch(row, await isWorkerThere());
}

/** Goes on with a search that failed, without the networks that could not be tried. */
export async function continueSearch(
  boss: PgBoss,
  projectId: string,
  id: string,
): Promise<ServerSearch> {
  const row = await database().transaction(async (transaction) => {
    await requireRoom(transaction);
    const found = await locked(transaction, projectId, id);
    const { state, failedBatch } = found;
    if (state !== 'failed' || !failedBatch) return found;
    const { stage, from, to } = failedBatch;
    await models().searchTries.bulkCreate(
      Array.from({ length: to - from }, (_, i) => ({
        ...{ searchId: id, stage, number: from + i },
        network: null,
      })),
      { transaction, ignoreDuplicates: true },
    );
    await found.update({ state: 'running', trouble: null, failedBatch: null }, { transaction });
    await sendJobs(boss, transaction, [{ name: advanceQueue, data: { searchId: id } }]);
    return found;
  });
  return toldSearch(row, await isWorkerThere());
}

/** Ends the searches of a project that is deleted. */
export async function endSearches(projectId: string, transaction: Transaction): Promise<void> {
  await models().searches.update(
    { state: 'stopped', stageName: 'the project was deleted' },
    { where: { projectId, state: 'running' }, transaction },
  );
}

/** What the stages before a number have found, from the first; the order of the tries is kept. */
export async function resultsBefore(
  searchId: string,
  stage: number,
  transaction: Transaction | null = null,
): Promise<FoundNetwork[][]> {
  const rows = await models().searchTries.findAll({
    where: { searchId, stage: { [Op.lt]: stage } },
    order: ['stage', 'number'],
    ...(transaction && { transaction }),
  });
  const results: FoundNetwork[][] = Array.from({ length: Math.max(0, stage) }, () => []);
  for (const row of rows) if (row.network) results[row.stage].push(row.network);
  return results;
}

import type PgBoss from 'pg-boss';
import { Op } from 'sequelize';
import type { MeasurementData } from '@/core/design/predict';
import { readDesign } from '@/core/design/readDesign';
import type { Design } from '@/core/design/schema';
import {
  bestSoFar,
  createExploration,
  stageAfter,
  tryNetwork,
  type Effort,
  type Exploration,
  type FoundNetwork,
  type Stage,
} from '@/core/fitting/explore';
import type { SearchLimits } from '@/core/fitting/limits';
import type { ServerSearch } from '@/core/fitting/serverSearch';
import type { Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { database } from './database';
import { findMeasurement, samplesFrom } from './measurements';
import { models, type SearchRow } from './models';
import { advanceQueue, batchQueue, type AdvanceJob, type BatchJob } from './queue';

/** Networks in one job: a second or two of work. */
const batchSizes: Readonly<Record<Effort, number>> = { look: 40, consider: 12, finish: 6 };
/** Searches of a project that are kept. */
const keptPerProject = 10;

const missingSearch = () =>
  problem(
    'search_not_found',
    '',
    'There is no such search.',
    'It was removed meanwhile.',
    '',
    'missing',
  );

async function measurementsOf({ measurements }: Design): Promise<MeasurementData> {
  const found = await Promise.all(
    measurements.map(async ({ id }): Promise<[string, Samples]> => [
      id,
      samplesFrom(await findMeasurement(id)),
    ]),
  );
  return new Map(found);
}

/**
 * Begins a search that goes on whatever becomes of the page.
 *
 * @throws ProblemError when a measurement or enough drivers are missing
 */
export async function beginSearch(
  boss: PgBoss,
  projectId: string,
  design: Design,
  limits: SearchLimits,
): Promise<ServerSearch> {
  createExploration(design, await measurementsOf(design), limits);
  const row = await models().searches.create({
    projectId,
    design,
    limits,
    state: 'running',
    stage: -1,
    stageName: 'waiting for a worker',
    stageCount: 0,
    tried: 0,
    networks: [],
    trouble: null,
  });
  const old = await models().searches.findAll({
    where: { projectId },
    order: [['createdAt', 'DESC']],
    offset: keptPerProject,
    attributes: ['id'],
  });
  await models().searches.destroy({ where: { id: old.map(({ id }) => id) } });
  await boss.send(advanceQueue, { searchId: row.id } satisfies AdvanceJob);
  return toldSearch(row);
}

async function toldSearch(row: SearchRow): Promise<ServerSearch> {
  const { id, state, limits, stageName, stage, stageCount, tried, networks, trouble } = row;
  const stageDone =
    state === 'running' ? await models().searchTries.count({ where: { searchId: id, stage } }) : 0;
  return {
    ...{ id, state, limits, stageName, stageCount, stageDone, networks, trouble },
    tried: tried + stageDone,
    createdAt: row.createdAt.toISOString(),
  };
}

/** The searches of a project, the newest first. */
export async function listSearches(projectId: string): Promise<ServerSearch[]> {
  const rows = await models().searches.findAll({
    where: { projectId },
    order: [['createdAt', 'DESC']],
  });
  return Promise.all(rows.map(toldSearch));
}

/** Stops a search and keeps the best of what was tried. */
export async function stopSearch(projectId: string, id: string): Promise<ServerSearch> {
  const row = await models().searches.findOne({ where: { id, projectId } });
  if (!row) throw missingSearch();
  if (row.state === 'running') {
    const before = await resultsBefore(id, row.stage + 1);
    await row.update({
      state: 'stopped',
      networks: bestSoFar(before, row.limits),
      tried: before.flat().length,
    });
    await models().searchTries.destroy({ where: { searchId: id } });
  }
  return toldSearch(row);
}

/** What the stages before a number have found, from the first; the order of the tries is kept. */
async function resultsBefore(searchId: string, stage: number): Promise<FoundNetwork[][]> {
  const rows = await models().searchTries.findAll({
    where: { searchId, stage: { [Op.lt]: stage } },
    order: ['stage', 'number'],
  });
  const results: FoundNetwork[][] = Array.from({ length: stage }, () => []);
  for (const row of rows) if (row.network) results[row.stage].push(row.network);
  return results;
}

/** Begins the next stage of a search when the present one is over. Doing it twice does nothing the second time. */
export async function advanceSearch(boss: PgBoss, { searchId }: AdvanceJob): Promise<void> {
  await database().transaction(async (transaction) => {
    const row = await models().searches.findByPk(searchId, {
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    if (row?.state !== 'running') return;
    const done = await models().searchTries.count({ where: { searchId, stage: row.stage } });
    if (row.stage >= 0 && done < row.stageCount) return;
    const design = readDesign(row.design, `search ${searchId}`);
    const exploration = createExploration(design, await measurementsOf(design), row.limits);
    const before = await resultsBefore(searchId, row.stage + 1);
    const next = stageAfter(exploration, before);
    const count = next?.tries.length ?? 0;
    const size = next ? batchSizes[next.effort] : 1;
    for (let from = 0; from < count; from += size)
      await boss.send(batchQueue, {
        ...{ searchId, stage: before.length, from },
        to: Math.min(count, from + size),
      } satisfies BatchJob);
    // A stage without tries is over at once.
    if (next && count === 0) await boss.send(advanceQueue, { searchId } satisfies AdvanceJob);
    await row.update(
      {
        state: next ? 'running' : 'done',
        stage: before.length,
        stageName: next?.name ?? 'done',
        stageCount: count,
        tried: before.flat().length,
        networks: bestSoFar(before, row.limits),
      },
      { transaction },
    );
    if (!next) await models().searchTries.destroy({ where: { searchId }, transaction });
  });
}

/** The stage that was worked at last, for the next batch of it. */
let lastStage: {
  readonly key: string;
  readonly exploration: Exploration;
  readonly stage: Stage;
} | null = null;

async function stageOf(row: SearchRow, number: number) {
  const key = `${row.id} ${number}`;
  if (lastStage?.key === key) return lastStage;
  const design = readDesign(row.design, `search ${row.id}`);
  const exploration = createExploration(design, await measurementsOf(design), row.limits);
  const stage = stageAfter(exploration, await resultsBefore(row.id, number));
  return stage ? (lastStage = { key, exploration, stage }) : null;
}

/** Tries the networks of a batch that were not tried yet; stops between two when the search was stopped. */
export async function tryBatch(boss: PgBoss, job: BatchJob): Promise<void> {
  const { searchId, stage, from, to } = job;
  for (let number = from; number < to; number++) {
    const row = await models().searches.findByPk(searchId);
    if (row?.state !== 'running') return;
    const where = { searchId, stage, number };
    if ((await models().searchTries.count({ where })) > 0) continue;
    const work = await stageOf(row, stage);
    if (!work) return;
    const { recipe, from: start } = work.stage.tries[number];
    const network = tryNetwork(work.exploration, recipe, work.stage.effort, start);
    // Another worker may have been given the same when this one was taken for dead.
    await models().searchTries.bulkCreate([{ ...where, network }], { ignoreDuplicates: true });
  }
  await boss.send(advanceQueue, { searchId } satisfies AdvanceJob);
}

/** Ends a search that can't go on. */
export async function failSearch(id: string, trouble: string): Promise<void> {
  await models().searches.update({ state: 'failed', trouble }, { where: { id, state: 'running' } });
}

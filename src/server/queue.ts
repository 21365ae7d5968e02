import PgBoss from 'pg-boss';
import { QueryTypes, type Transaction } from 'sequelize';
import { database, databaseUrl } from './database';

/** Works a search on: begins its next stage when the present one is over. */
export const advanceQueue = 'search-advance';
/** Tries some networks of a stage. */
export const batchQueue = 'search-batch';
/** Jobs that failed for good, whether by an error or because their worker died each time. */
export const failedQueue = 'search-failed';

export interface AdvanceJob {
  readonly searchId: string;
}

export interface BatchJob {
  readonly searchId: string;
  readonly stage: number;
  /** Numbers of the tries, the last one excluded. */
  readonly from: number;
  readonly to: number;
}

/** A worker that is silent for so long is taken for dead, and its job is given to another. */
const expireInSeconds = 30;
/** A job that fails more often is given up. */
export const retryLimit = 5;

/** What workers call themselves to the database; so one sees whether there are any. */
const workerName = 'fair worker';

/**
 * A connection to the queue in PostgreSQL.
 *
 * @param isWorker also looks after jobs whose worker died
 */
export async function connectQueue(isWorker: boolean): Promise<PgBoss> {
  const boss = new PgBoss({
    connectionString: databaseUrl(),
    application_name: isWorker ? workerName : 'fair web',
    max: 2,
    schedule: false,
    supervise: isWorker,
    maintenanceIntervalSeconds: 5,
    deleteAfterHours: 24,
  });
  boss.on('error', (error) => process.stderr.write(`queue: ${error.message}\n`));
  await boss.start();
  return boss;
}

/** Makes the queues; done once before anything uses them. */
export async function prepareQueues(): Promise<void> {
  const boss = await connectQueue(false);
  await boss.createQueue(failedQueue, { name: failedQueue, policy: 'standard', retryLimit: 20 });
  for (const name of [advanceQueue, batchQueue]) {
    const options = {
      name,
      policy: 'standard',
      retryLimit,
      expireInSeconds,
      deadLetter: failedQueue,
    } as const;
    await boss.createQueue(name, options);
    // One that an earlier version made gets what is new.
    await boss.updateQueue(name, options);
  }
  await boss.stop({ graceful: false });
}

/** Puts jobs into the queue as part of a transaction: with all else, or not at all. */
export async function sendJobs(
  boss: PgBoss,
  transaction: Transaction,
  jobs: readonly { readonly name: string; readonly data: AdvanceJob | BatchJob }[],
): Promise<void> {
  if (jobs.length === 0) return;
  const executeSql = async (text: string, values: unknown[]) => {
    const rows = await database().query<{ id: string }>(text, {
      // The queue leaves out what the database shall choose.
      bind: values.map((value) => value ?? null),
      transaction,
      type: QueryTypes.SELECT,
    });
    return { rows, rowCount: rows.length };
  };
  await boss.insert(
    jobs.map(({ name, data }) => ({ name, data })),
    { db: { executeSql } },
  );
}

/** Whether any worker is connected to the database. */
export async function isWorkerThere(): Promise<boolean> {
  const [{ count }] = await database().query<{ count: number }>(
    `SELECT count(*)::int AS count FROM pg_stat_activity
      WHERE datname = current_database() AND application_name = :workerName`,
    { replacements: { workerName }, type: QueryTypes.SELECT },
  );
  return count > 0;
}

/** Searches among those given for which no job waits or is worked on. */
export async function withoutJobs(searchIds: readonly string[]): Promise<string[]> {
  if (searchIds.length === 0) return [];
  const rows = await database().query<{ id: string }>(
    `SELECT DISTINCT data->>'searchId' AS id FROM pgboss.job
      WHERE name IN (:queues) AND state < 'completed' AND data->>'searchId' IN (:searchIds)`,
    {
      replacements: { queues: [advanceQueue, batchQueue, failedQueue], searchIds },
      type: QueryTypes.SELECT,
    },
  );
  const busy = new Set(rows.map(({ id }) => id));
  return searchIds.filter((id) => !busy.has(id));
}

// Kept across hot reloads in development, where modules are evaluated again.
const shared = globalThis as { fairQueue?: Promise<PgBoss> | undefined };

/** The queue of this web server. One that could not be reached is tried again at the next call. */
export function queue(): Promise<PgBoss> {
  shared.fairQueue ??= connectQueue(false).catch((error: unknown) => {
    shared.fairQueue = undefined;
    throw error;
  });
  return shared.fairQueue;
}

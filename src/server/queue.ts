import PgBoss from 'pg-boss';
import { databaseUrl } from './database';

/** Works a search on: begins its next stage when the present one is over. */
export const advanceQueue = 'search-advance';
/** Tries some networks of a stage. */
export const batchQueue = 'search-batch';

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
/** A job that fails so often is given up. */
export const retryLimit = 5;

/**
 * A connection to the queue in PostgreSQL.
 *
 * @param isWorker also looks after jobs whose worker died
 */
export async function connectQueue(isWorker: boolean): Promise<PgBoss> {
  const boss = new PgBoss({
    connectionString: databaseUrl(),
    application_name: isWorker ? 'fair worker' : 'fair web',
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
  for (const name of [advanceQueue, batchQueue])
    await boss.createQueue(name, { name, policy: 'standard', retryLimit, expireInSeconds });
  await boss.stop({ graceful: false });
}

// Kept across hot reloads in development, where modules are evaluated again.
const shared = globalThis as { fairQueue?: Promise<PgBoss> };

/** The queue of this web server. */
export const queue = (): Promise<PgBoss> => (shared.fairQueue ??= connectQueue(false));

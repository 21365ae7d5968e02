/**
 * A process that carries on what takes long: searches for networks. Any number of them may run, on any machine that reaches
 * the database. Bundled to dist/worker.mjs; run by the start script, or by hand with FAIR_DATABASE_URL.
 */
import type PgBoss from 'pg-boss';
import { ProblemError } from '@/core/problem';
import { database } from './database';
import {
  advanceQueue,
  batchQueue,
  connectQueue,
  retryLimit,
  type AdvanceJob,
  type BatchJob,
} from './queue';
import { advanceSearch, failSearch, tryBatch } from './searches';

const boss = await connectQueue(true);

/** A problem that is the search's own ends it; anything else is tried again, a few times. */
const carefully =
  <T extends AdvanceJob>(work: (boss: PgBoss, job: T) => Promise<void>) =>
  async ([{ data, retryCount }]: PgBoss.JobWithMetadata<T>[]): Promise<void> => {
    try {
      await work(boss, data);
    } catch (error) {
      const isLast = retryCount >= retryLimit;
      if (error instanceof ProblemError || isLast)
        await failSearch(data.searchId, error instanceof Error ? error.message : String(error));
      if (!(error instanceof ProblemError)) throw error;
    }
  };

const options = { includeMetadata: true, batchSize: 1, pollingIntervalSeconds: 0.5 } as const;
await boss.work<AdvanceJob>(advanceQueue, options, carefully(advanceSearch));
await boss.work<BatchJob>(batchQueue, options, carefully(tryBatch));

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    // What is under way comes to its end; what waits is left to the next worker.
    void boss
      .stop({ graceful: true, timeout: 8000 })
      .then(() => database().close())
      .finally(() => process.exit(0));
  });
process.stdout.write('worker is ready\n');

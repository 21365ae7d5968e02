/**
 * A process that carries on what takes long: searches for networks. Any number of them may run, on
 * any machine that reaches the database. Bundled to dist/worker.mjs; run by the start script, or by
 * hand with FAIR_DATABASE_URL.
 */
import type PgBoss from 'pg-boss';
import { ProblemError } from '@/core/problem';
import { database } from './database';
import {
  advanceQueue,
  batchQueue,
  connectQueue,
  failedQueue,
  type AdvanceJob,
  type BatchJob,
} from './queue';
import { advanceSearch, giveUp, reviveSearches, tryBatch } from './searchWork';

const boss = await connectQueue(true);

/**
 * A problem that is the search's own ends it at once; anything else is tried again, a few times.
 */
const carefully =
  <T extends AdvanceJob>(work: (boss: PgBoss, job: T) => Promise<void>) =>
  async ([{ data }]: PgBoss.JobWithMetadata<T>[]): Promise<void> => {
    try {
      await work(boss, data);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      await giveUp(data, error.message);
    }
  };

/** What the queue says of a job that failed for good. */
const reasonOf = (output: unknown): string => {
  const { message, value } = (output ?? {}) as {
    message?: string;
    value?: { message?: string };
  };
  const text = message ?? value?.message ?? 'its worker ended each time';
  return text.endsWith('.') ? text : `${text}.`;
};

const options = { includeMetadata: true, batchSize: 1, pollingIntervalSeconds: 0.5 } as const;
await boss.work<AdvanceJob>(advanceQueue, options, carefully(advanceSearch));
// Two, so that the next job is there when one is done: it is asked for every half second only.
for (let hand = 0; hand < 2; hand++)
  await boss.work<BatchJob>(batchQueue, options, carefully(tryBatch));
await boss.work<AdvanceJob | BatchJob>(failedQueue, options, async ([{ data, output }]) =>
  giveUp(data, reasonOf(output)),
);

const lookAfter = () =>
  reviveSearches(boss).catch((error: unknown) =>
    process.stderr.write(`looking after searches: ${String(error)}\n`),
  );
void lookAfter();
const looking = setInterval(() => void lookAfter(), 30_000);

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.once(signal, () => {
    clearInterval(looking);
    // What is under way comes to its end; what waits is left to the next worker.
    void boss
      .stop({ graceful: true, timeout: 8000 })
      .then(() => database().close())
      .finally(() => process.exit(0));
  });
process.stdout.write('worker is ready\n');

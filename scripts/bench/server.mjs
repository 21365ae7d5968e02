// The second half of npm run bench, at a server of the bench's own: how long a picture takes after
// a key stroke, a search on the queue with one and two workers, and what a save and a read take
// while many others do the same.
import { buildIfChanged } from '../lib/build.mjs';
import { bundleIfStale } from '../lib/bundle.mjs';
import { freePort, startPostgres } from '../lib/postgres.mjs';
import { answering, ended, prepareDatabase, startWeb } from '../lib/web.mjs';
import { loadTest } from './load.ts';
import { limitedTo } from '@/core/fitting/limits';
import { paintTest } from './paint.ts';
import { queueTest } from './queue.mjs';

await bundleIfStale('database');
await bundleIfStale('worker');
buildIfChanged();
const postgres = await startPostgres('bench-database');
let web;
try {
  await prepareDatabase(postgres.url, '--demo');
  const port = await freePort();
  web = startWeb(port, postgres.url);
  await answering(web, port);
  const url = `http://127.0.0.1:${port}`;
  const { medianMs, p95Ms } = await paintTest(url);
  console.log(
    `from a key stroke to the picture of its curves, median / 95 %: ${medianMs.toFixed(1)} / ${p95Ms.toFixed(1)} ms`,
  );
  let alone = null;
  for (const workers of [1, 2]) {
    const { seconds, tried, best } = await queueTest(url, postgres.url, workers, limitedTo(13));
    alone ??= seconds;
    console.log(
      `search of the demo, 13 parts, on the queue with ${workers} worker${workers === 1 ? '' : 's'}: ${seconds.toFixed(1)} s (${(alone / seconds).toFixed(2)} ×), ${tried} networks, best ±${best.toFixed(2)} dB`,
    );
  }
  // The first requests meet code that is not compiled yet.
  await loadTest(url, 20, 15);
  for (const desks of [5, 50]) {
    const { savesPerSecond, readsPerSecond, saveMs, readMs, errors } = await loadTest(
      url,
      desks,
      20,
    );
    const told = ({ p50, p95, p99 }) =>
      `${p50.toFixed(0)} / ${p95.toFixed(0)} / ${p99.toFixed(0)} ms`;
    console.log(
      `${desks} desks, each a save and two reads a second, p50 / p95 / p99: save ${told(saveMs)} (${savesPerSecond.toFixed(0)} a second), read ${told(readMs)} (${readsPerSecond.toFixed(0)} a second), ${errors} errors`,
    );
  }
} finally {
  if (web) await ended(web);
  postgres.stop();
}

// npm run worker: one more process that carries searches on, here or on another machine that
// reaches the database named by FAIR_DATABASE_URL.
import { bundleIfStale } from './lib/bundle.mjs';
import { runMain, say } from './lib/say.mjs';
import { ensureNodeModules } from './lib/system.mjs';
import { startWorker } from './lib/web.mjs';

await runMain(async () => {
  const address = process.env.FAIR_DATABASE_URL;
  if (!address) {
    say(
      'FAIR_DATABASE_URL is not set. Set it to the address of the database, e.g. postgres://user:…@host:5432/fair',
    );
    process.exit(1);
  }
  ensureNodeModules();
  await bundleIfStale('worker');
  const stop = startWorker(address);
  for (const signal of ['SIGINT', 'SIGTERM'])
    // It ends what is under way within eight seconds.
    process.on(signal, () => void stop(10_000).then(() => process.exit(0)));
  say('A worker is running. Ctrl-C stops it.');
});

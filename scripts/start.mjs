// npm start: installs what is missing, starts the private database, migrates, loads the demo once,
// builds when the sources changed, serves on 127.0.0.1, prints the address, and on Ctrl-C stops
// what it started.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bundleIfStale } from './lib/bundle.mjs';
import { buildIfChanged } from './lib/build.mjs';
import { freePort, startPostgres } from './lib/postgres.mjs';
import { runMain, say } from './lib/say.mjs';
import { supervise } from './lib/supervise.mjs';
import { ensureNodeModules, ensurePackages, privateFolder } from './lib/system.mjs';
import { answering, ended, prepareDatabase, startWeb, startWorker } from './lib/web.mjs';

/** Fixed, so that what a browser keeps for this address is found again. */
const usualPort = 8417;

const runFile = join(privateFolder(), 'running.json');

const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};

/** Does this process id still belong to what we started? Ids are used again by the system. */
const isOurs = (pid, word) => {
  try {
    return isAlive(pid) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(word);
  } catch {
    return false;
  }
};

/**
 * Another start that is still running, or the remains of one that was killed, which are cleared
 * away.
 */
function earlierStart() {
  if (!existsSync(runFile)) return null;
  let earlier;
  try {
    earlier = JSON.parse(readFileSync(runFile, 'utf8'));
  } catch {
    return null;
  }
  if (isOurs(earlier.pid, 'start.mjs')) return earlier;
  if (isOurs(earlier.webPid, 'next')) process.kill(earlier.webPid, 'SIGKILL');
  rmSync(runFile, { force: true });
  return null;
}

async function choosePort() {
  const wanted = Number(process.env.PORT ?? usualPort);
  try {
    return await freePort(wanted);
  } catch {
    const port = await freePort();
    say(`Port ${wanted} is taken by another program; using ${port} this time.`);
    return port;
  }
}

await runMain(async () => {
  const running = earlierStart();
  if (running) {
    say(`Fair Voicing is running already: http://127.0.0.1:${running.port}`);
    return;
  }
  ensurePackages(['postgresql']);
  ensureNodeModules();
  const postgres = await startPostgres('database');
  let web;
  let stopWorker;
  /** What ends the looking after. */
  const letGo = [];
  let isStopping = false;
  const stop = async () => {
    if (isStopping) return;
    isStopping = true;
    for (const end of letGo) end();
    // The database last: what is being saved is finished first.
    await Promise.all([web && ended(web), stopWorker?.()]);
    postgres.stop();
    rmSync(runFile, { force: true });
    process.exit(0);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop());
  try {
    await bundleIfStale('database');
    await bundleIfStale('worker');
    await prepareDatabase(postgres.url, '--demo');
    buildIfChanged();
    const port = await choosePort();
    const note = () =>
      writeFileSync(runFile, JSON.stringify({ pid: process.pid, webPid: web.pid, port }));
    const begin = async () => {
      web = startWeb(port, postgres.url);
      await answering(web, port);
      note();
    };
    await begin();
    stopWorker = startWorker(postgres.url);
    letGo.push(
      supervise('The web server', begin, (ended) =>
        web.once('exit', (code, signal) => ended(signal ?? `exit code ${code}`)),
      ),
      superviseDatabase(postgres),
    );
    say(`\nFair Voicing is ready: http://127.0.0.1:${port}\nCtrl-C stops it.`);
  } catch (error) {
    // What was still starting ends with the rest.
    if (isStopping) return;
    if (web) await ended(web);
    postgres.stop();
    throw error;
  }
});

/** Looks every second whether the database is alive. */
function superviseDatabase(postgres) {
  let timer;
  const end = supervise(
    'The database',
    async () => postgres.restart(),
    (ended) => {
      timer = setInterval(() => {
        if (postgres.isRunning()) return;
        clearInterval(timer);
        ended('its process is gone');
      }, 1000);
    },
  );
  return () => {
    clearInterval(timer);
    end();
  };
}

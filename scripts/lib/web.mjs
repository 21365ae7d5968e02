// Starts the built application on loopback.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { root } from './bundle.mjs';
import { Stop } from './say.mjs';
import { quietEnvironment } from './system.mjs';

/** Prepares the database (migrations, demo) with the bundled tool. */
export function prepareDatabase(databaseUrl, ...args) {
  return new Promise((resolve, reject) => {
    const tool = spawn(process.execPath, [join(root, 'dist/database.mjs'), ...args], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, FAIR_DATABASE_URL: databaseUrl },
    });
    tool.once('exit', (code) =>
      code === 0
        ? resolve()
        : reject(new Stop('The database could not be prepared; the reason is above.')),
    );
  });
}

/**
 * Ends a process: kindly, so that it can finish what is under way; by force when that takes longer.
 * A web server would wait for as long as a browser keeps its connection, and answer on it.
 */
export function ended(child, graceMs = 2000) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const timer = setTimeout(() => child.kill('SIGKILL'), graceMs);
    child.once('exit', () => {
      clearTimeout(timer);
      resolve();
    });
    child.kill('SIGTERM');
  });
}

/**
 * Starts a process that carries searches on; it is started again when it ends by itself.
 *
 * @returns what stops it, within so many milliseconds
 */
export function startWorker(databaseUrl) {
  let child;
  let isWanted = true;
  const begin = () => {
    child = spawn(process.execPath, [join(root, 'dist/worker.mjs')], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, NODE_ENV: 'production', FAIR_DATABASE_URL: databaseUrl },
    });
    child.once('exit', () => isWanted && setTimeout(() => isWanted && begin(), 2000));
  };
  begin();
  return (graceMs) => {
    isWanted = false;
    return ended(child, graceMs);
  };
}

/** Starts the web server; it answers a moment later, see {@link answering}. */
export function startWeb(port, databaseUrl) {
  return spawn(
    process.execPath,
    [
      join(root, 'node_modules/next/dist/bin/next'),
      'start',
      ...['-H', '127.0.0.1', '-p', String(port)],
      // Longer than browsers keep an idle connection: none is closed under a request.
      ...['--keepAliveTimeout', '330000'],
    ],
    {
      cwd: root,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: {
        ...process.env,
        ...quietEnvironment,
        NODE_ENV: 'production',
        FAIR_DATABASE_URL: databaseUrl,
      },
    },
  );
}

/** Waits until a web server answers; throws a Stop when it ends, or takes a minute. */
export async function answering(web, port) {
  const deadline = Date.now() + 60_000;
  while (Date.now() < deadline) {
    if (web.exitCode !== null || web.signalCode !== null)
      throw new Stop(
        `The web server ended at once (${web.signalCode ?? `exit code ${web.exitCode}`}); its message is above.`,
      );
    const isUp = await fetch(`http://127.0.0.1:${port}/api/health`).then(
      (response) => response.ok,
      () => false,
    );
    if (isUp) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  await ended(web);
  throw new Stop(`The web server did not answer on port ${port} within a minute.`);
}

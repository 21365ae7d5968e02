// npm test: the same set-up as npm start with a database of its own, then lint, types, unit,
// reference and browser tests. The last line counts over all runners: "N passed, N failed".
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { bundleIfStale, root } from './lib/bundle.mjs';
import { buildIfChanged } from './lib/build.mjs';
import { freePort, startPostgres } from './lib/postgres.mjs';
import { runMain, say } from './lib/say.mjs';
import { ensureNodeModules, ensurePackages, quietEnvironment } from './lib/system.mjs';
import { answering, ended, prepareDatabase, startWeb, startWorker } from './lib/web.mjs';

const results = join(root, 'test-results');

/** Runs a tool of node_modules to its end; true when it found nothing wrong. */
function run(command, args, env = {}) {
  return new Promise((resolve) => {
    const child = spawn(join(root, 'node_modules/.bin', command), args, {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, ...quietEnvironment, FORCE_COLOR: '0', ...env },
    });
    child.once('error', (error) => {
      console.error(error);
      resolve(false);
    });
    child.once('exit', (code) => resolve(code === 0));
  });
}

/** What went wrong, told again at the end: whoever sees only that must know where to look. */
const troubles = [];

/** A check without tests of its own counts as one. */
const asOne = (isGood) => ({ passed: isGood ? 1 : 0, failed: isGood ? 0 : 1 });

async function check(title, command, args) {
  say(`\n== ${title}`);
  const isGood = await run(command, args);
  if (!isGood) troubles.push(`${title}: see above`);
  return asOne(isGood);
}

function readJson(file) {
  const path = join(results, file);
  return existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : null;
}

/** Server tests share a database and come one after the other; the others use both cores. */
const unitRuns = [
  [
    'unit and reference tests',
    'jest-unit.json',
    ['--testPathIgnorePatterns=tests/server', '--maxWorkers=2'],
  ],
  ['server tests', 'jest-server.json', ['--testPathPatterns=tests/server', '--runInBand']],
];

async function jest(databaseUrl, [title, file, args]) {
  say(`\n== ${title}`);
  const isGood = await run(
    'jest',
    ['--json', `--outputFile=${join(results, file)}`, '--silent=false', ...args],
    { FAIR_DATABASE_URL: databaseUrl },
  );
  const report = readJson(file);
  if (!report) {
    troubles.push(`${title}: the runner ended without a report`);
    return asOne(false);
  }
  const failed = report.testResults.filter(({ status }) => status === 'failed');
  for (const { name, message } of failed)
    troubles.push(`${relative(root, name)}:\n${message.slice(0, 3000)}`);
  if (!isGood && failed.length === 0)
    troubles.push(`${title}: the runner failed, and no test of it did; see above`);
  const broken = failed.filter(({ assertionResults }) => assertionResults.length === 0).length;
  return counted(report.numPassedTests, report.numFailedTests + broken, isGood);
}

async function playwright(url, databaseUrl) {
  say('\n== browser tests');
  const isGood = await run('playwright', ['test'], {
    FAIR_URL: url,
    FAIR_DATABASE_URL: databaseUrl,
  });
  const report = readJson('playwright.json');
  if (!report) {
    troubles.push('browser tests: the runner ended without a report');
    return asOne(false);
  }
  for (const { message } of report.errors)
    troubles.push(`browser tests, outside a test: ${message}`);
  const { expected, flaky, unexpected } = report.stats;
  return counted(expected + flaky, unexpected + report.errors.length, isGood);
}

/** A runner that failed without a failed test has still failed, and so has one that ran nothing. */
const counted = (passed, failed, isGood) => ({
  passed,
  failed: failed === 0 && (!isGood || passed === 0) ? 1 : failed,
});

await runMain(async () => {
  ensurePackages(['postgresql', 'chromium', 'hdf5-tools']);
  ensureNodeModules();
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });
  const only = process.argv.slice(2);
  const wants = (part) => only.length === 0 || only.includes(part);
  const counts = [];
  const postgres = await startPostgres('test-database');
  let web;
  let stopWorker;
  const stop = async () => {
    await Promise.all([web && ended(web), stopWorker?.()]);
    postgres.stop();
  };
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.on(signal, () => void stop().then(() => process.exit(1)));
  try {
    await bundleIfStale('database');
    await bundleIfStale('fair');
    await bundleIfStale('worker');
    await prepareDatabase(postgres.url, '--demo');
    if (wants('lint')) {
      counts.push(await check('format', 'prettier', ['--check', '--log-level', 'warn', '.']));
      counts.push(await check('lint', 'eslint', ['.', '--max-warnings', '0']));
    }
    if (wants('types')) {
      counts.push(await check('route types', 'next', ['typegen']));
      counts.push(await check('types', 'tsc', ['--noEmit']));
      counts.push(await check('types of the core alone', 'tsc', ['-p', 'tsconfig.core.json']));
    }
    if (wants('unit')) for (const one of unitRuns) counts.push(await jest(postgres.url, one));
    if (wants('browser')) {
      buildIfChanged();
      const port = await freePort();
      web = startWeb(port, postgres.url);
      await answering(web, port);
      stopWorker = startWorker(postgres.url);
      counts.push(await playwright(`http://127.0.0.1:${port}`, postgres.url));
    }
  } finally {
    await stop();
  }
  const passed = counts.reduce((sum, count) => sum + count.passed, 0);
  const failed = counts.reduce((sum, count) => sum + count.failed, 0);
  for (const trouble of troubles) console.log(`\n!! ${trouble}`);
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed > 0 ? 1 : 0);
});

/** npm start as a person uses it: start, work, crash, start again, stop. */
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { emptyDesign } from '@/core/document/schema';

test.describe.configure({ mode: 'serial', timeout: 180_000 });

// Below /tmp, which the user "postgres" can pass through when root runs this.
let folder: string;
let port: number;
let running: ChildProcess | null = null;

test.beforeAll(async () => {
  folder = mkdtempSync('/tmp/fair-start-');
  chmodSync(folder, 0o711);
  port = await new Promise<number>((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port: free } = probe.address() as AddressInfo;
      probe.close(() => resolve(free));
    });
  });
});
test.afterAll(async () => {
  if (running) await stop('SIGINT');
  rmSync(folder, { recursive: true, force: true });
});

/**
 * Starts and waits for a line of its output; gives everything printed until then and the seconds it
 * took.
 */
async function start(line: RegExp): Promise<{ output: string; seconds: number }> {
  const began = Date.now();
  const child = spawn(process.execPath, ['scripts/start.mjs'], {
    env: { ...process.env, FAIR_FOLDER: join(folder, 'private'), PORT: String(port) },
  });
  running = child;
  let output = '';
  await new Promise<void>((resolve, reject) => {
    const read = (chunk: Buffer) => {
      output += chunk.toString();
      if (line.test(output)) resolve();
    };
    child.stdout.on('data', read);
    child.stderr.on('data', read);
    child.once('exit', (code) =>
      line.test(output) ? resolve() : reject(new Error(`ended with ${code}:\n${output}`)),
    );
  });
  return { output, seconds: (Date.now() - began) / 1000 };
}

async function stop(signal: NodeJS.Signals): Promise<void> {
  const child = running!;
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill(signal);
  await gone;
  running = null;
}

const address = () => `http://127.0.0.1:${port}`;
const names = async () =>
  ((await (await fetch(`${address()}/api/projects`)).json()) as { name: string }[]).map(
    ({ name }) => name,
  );
const pidOfWeb = () =>
  (
    JSON.parse(readFileSync(join(folder, 'private/running.json'), 'utf8')) as {
      webPid: number;
    }
  ).webPid;
const isUp = () =>
  fetch(`${address()}/api/health`).then(
    (response) => response.ok,
    () => false,
  );

test('the first start makes a private database, loads the demo and prints the address', async () => {
  const { output } = await start(/is ready/);
  expect(output).toContain('Making a private database');
  expect(output).toContain(`is ready: ${address()}`);
  expect(await names()).toEqual(['The Reading Room']);
  const password = join(folder, 'private/database/password');
  expect(statSync(password).mode & 0o777).toBe(0o600);
  expect(readFileSync(password, 'utf8').trim()).toMatch(/^[0-9a-f]{48}$/);
});

test('a second start beside it says where it runs', async () => {
  const first = running;
  const { output } = await start(/running already/);
  expect(output).toContain(`running already: ${address()}`);
  running = first;
  expect(await isUp()).toBe(true);
});

test('killed outright, it is recovered by the next start with all its data, and fast', async () => {
  await fetch(`${address()}/api/projects`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ demo: 'fresh' }),
  });
  await stop('SIGKILL');
  const { output, seconds } = await start(/is ready/);
  expect(output).not.toContain('Making');
  expect(output).not.toContain('taken by another program');
  expect(await names()).toEqual(['The Reading Room 2', 'The Reading Room']);
  // The limit only tells a start from a build; it says nothing about speed.
  expect(seconds).toBeLessThan(60);
});

test('what dies is started again by itself, and goes on with all its data', async () => {
  const before = await names();
  const webPid = pidOfWeb();
  process.kill(webPid, 'SIGKILL');
  await expect.poll(isUp, { timeout: 20_000 }).toBe(false);
  await expect.poll(isUp, { timeout: 60_000 }).toBe(true);
  const [postmaster] = readFileSync(
    join(folder, 'private/database/data/postmaster.pid'),
    'utf8',
  ).split('\n');
  process.kill(Number(postmaster), 'SIGKILL');
  await expect.poll(isUp, { timeout: 20_000 }).toBe(false);
  await expect.poll(isUp, { timeout: 60_000 }).toBe(true);
  expect(await names()).toEqual(before);
});

test('of many projects the newest are listed, and the older ones on request', async ({ page }) => {
  const made: string[] = [];
  for (let i = 0; i < 40; i++) {
    const response = await page.request.post(`${address()}/api/projects`, {
      data: { document: emptyDesign(`Number ${i}`) },
    });
    made.push(((await response.json()) as { id: string }).id);
  }
  await page.goto(address());
  const rows = page.getByRole('list', { name: 'Projects' }).getByRole('listitem');
  await expect(rows).toHaveCount(40);
  await expect(rows.first()).toContainText('Number 39');
  // The demo is among the older ones.
  await expect(page.getByRole('button', { name: 'Fresh copy of the demo' })).toBeVisible();
  await page.getByRole('button', { name: 'More for Number 39', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(rows.last()).toContainText('The Reading Room');
  await page.getByRole('button', { name: 'Show older projects' }).click();
  await expect(rows).toHaveCount(41);
  await expect(rows.nth(40).getByRole('link')).toBeFocused();
  await expect(page.getByRole('button', { name: 'Show older projects' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo the deletion' }).click();
  await expect(rows).toHaveCount(42);
  for (const id of made) await page.request.delete(`${address()}/api/projects/${id}`);
});

test('Ctrl-C stops everything that it started', async ({ page }) => {
  // A browser keeps its connection open; while it is being stopped it answers still.
  await page.goto(address());
  const webPid = pidOfWeb();
  const asking = setInterval(() => void isUp(), 50);
  await stop('SIGINT');
  clearInterval(asking);
  expect(() => process.kill(webPid, 0)).toThrow('ESRCH');
  expect(await isUp()).toBe(false);
  const { output } = await start(/is ready/);
  expect(output).not.toContain('Making');
  expect(await names()).toHaveLength(2);
  await stop('SIGTERM');
  expect(await isUp()).toBe(false);
});

test('Ctrl-C in the middle of a start leaves nothing behind', async () => {
  const ready = start(/is ready/).then(
    () => 'is ready',
    (error: Error) => error.message,
  );
  const child = running!;
  const callOf = (pid: string) => {
    try {
      return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
    } catch {
      return ''; // It has ended meanwhile.
    }
  };
  const findWeb = () =>
    readFileSync(`/proc/${child.pid}/task/${child.pid}/children`, 'utf8')
      .split(' ')
      .find((pid) => callOf(pid).includes('next/dist/bin')) ?? '';
  await expect.poll(findWeb, { intervals: [5], timeout: 60_000 }).toMatch(/^\d+$/);
  const webPid = Number(findWeb());
  await stop('SIGINT');
  expect(await ready).toMatch(/^ended with 0:/);
  expect(() => process.kill(webPid, 0)).toThrow('ESRCH');
  expect(existsSync(join(folder, 'private/database/data/postmaster.pid'))).toBe(false);
  expect(existsSync(join(folder, 'private/running.json'))).toBe(false);
});

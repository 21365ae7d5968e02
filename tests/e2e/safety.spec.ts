/** Nothing is lost: server killed, two tabs, foreign requests. */
import { request as rawRequest } from 'node:http';
import { expect, test } from '@playwright/test';
import { drawn, expectCurves, expectSaved, openDemo, part, stored, settled } from './desk';
import { databaseGate, ownServer, type OwnServer } from './server';

test.describe('with a server of its own', () => {
  let server: OwnServer;
  test.beforeAll(async () => {
    server = await ownServer();
    await server.start();
  });
  test.afterAll(() => server.kill());

  test('the server is killed in mid-edit and comes back: nothing is lost', async ({ browser }) => {
    const context = await browser.newContext({
      baseURL: server.url,
      viewport: { width: 1280, height: 800 },
    });
    const page = await context.newPage();
    const id = await openDemo(page);
    await expectSaved(page);
    await part(page, 'L1').focus();
    await page.keyboard.press('ArrowUp');
    await server.kill();
    await page.keyboard.press('ArrowUp');
    await expect(page.getByText(/Your changes are kept in this browser/)).toBeVisible();
    await expect(page.getByRole('button', { name: /^L1, coil in series, 3.9 mH/ })).toBeVisible();
    const picture = await settled(page, 'sum');

    await server.start();
    await expectSaved(page);
    expect((await stored(page, id)).document.ways[0].parts[0].henries).toBe(3.9e-3);
    await page.reload();
    await expectCurves(page);
    await expect.poll(() => drawn(page, 'sum')).toBe(picture);
    await context.close();
  });

  test('a change kept while the server is down survives closing the tab', async ({ browser }) => {
    const context = await browser.newContext({
      baseURL: server.url,
      viewport: { width: 1280, height: 800 },
    });
    const page = await context.newPage();
    const id = await openDemo(page, 'bench');
    await expect(page.getByRole('heading', { name: 'Drivers' })).toBeVisible();
    await expectSaved(page);
    await server.kill();
    await page.getByLabel('Measurement files', { exact: true }).setInputFiles({
      name: 'kept.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from('20 80 1\n30 81 1\n'),
    });
    await expect(page.getByText(/Your changes are kept in this browser/)).toBeVisible();
    await page.close();

    await server.start();
    const later = await context.newPage();
    await later.goto(`/p/${id}/bench`);
    await expect(later.getByRole('button', { name: /^kept/ })).toBeVisible();
    await expectSaved(later);
    await expect
      .poll(async () => JSON.stringify((await stored(later, id)).document))
      .toContain('kept.txt');
    await context.close();
  });
});

test('the database is restarted between saves: no state and no version is lost', async ({
  browser,
}) => {
  const gate = await databaseGate();
  await gate.open();
  const server = await ownServer(gate.url);
  await server.start();
  const context = await browser.newContext({
    baseURL: server.url,
    viewport: { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  const id = await openDemo(page);
  await part(page, 'L1').focus();
  await page.keyboard.press('ArrowUp');
  await expectSaved(page);
  await gate.cut();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/Your changes are kept in this browser/)).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await gate.open();
  await expectSaved(page);
  const { revision, document } = await stored(page, id);
  expect(document.ways[0].parts[0].henries).toBe(4.3e-3);
  const state = async (at: number) =>
    (await (await page.request.get(`/api/projects/${id}/states/${at}`)).json()) as {
      document: typeof document;
    };
  expect(await state(revision)).toMatchObject({ document });
  expect((await state(2)).document.ways[0].parts[0].henries).toBe(3.6e-3);
  const versions = (await (await page.request.get(`/api/projects/${id}/log`)).json()) as {
    lastRevision: number;
  }[];
  expect(versions[0].lastRevision).toBe(revision);
  await context.close();
  await server.kill();
  await gate.cut();
});

test('two tabs: the second sees the first’s save; a clash asks and loses nothing', async ({
  context,
  page,
}) => {
  const id = await openDemo(page);
  await expectSaved(page);
  const other = await context.newPage();
  await other.goto(`/p/${id}/network`);
  await expectCurves(other);

  await part(page, 'C1').focus();
  await page.keyboard.press('ArrowUp');
  await expect(other.getByRole('button', { name: /^C1, capacitor in shunt, 62 µF/ })).toBeVisible();

  // The other tab can't reach the server for a moment and goes on working; so does this one.
  await other.route('**/api/**', (route) => route.abort());
  await part(other, 'C1').focus();
  await other.keyboard.press('ArrowDown');
  await expect(other.getByText(/Your changes are kept/)).toBeVisible();
  await page.keyboard.press('ArrowUp');
  await expectSaved(page);
  await other.unroute('**/api/**');
  await expect(other.getByText(/was changed elsewhere/)).toBeVisible();
  expect((await stored(page, id)).document.ways[0].parts[1].farads).toBe(68e-6);

  // The log has every state that was saved, whoever saved it.
  const steps = await page.request.get(`/api/projects/${id}/log/1`);
  expect(((await steps.json()) as { revision: number }[]).map(({ revision }) => revision)).toEqual([
    3, 2, 1,
  ]);

  await other.getByRole('button', { name: 'Keep both: save mine as a copy' }).click();
  await expect(other.getByRole('button', { name: /^C1, capacitor in shunt, 68 µF/ })).toBeVisible();
  await other.goto('/');
  await expect(other.getByRole('link', { name: /from this tab/ }).first()).toBeVisible();
});

/** Status of a request with a Host or Origin that a browser elsewhere would send. */
const statusWith = (url: string, headers: Record<string, string>) =>
  new Promise<number | undefined>((resolve, reject) => {
    rawRequest(url, { headers }, (response) => {
      response.resume();
      resolve(response.statusCode);
    })
      .on('error', reject)
      .end();
  });

test('foreign Host and Origin are refused', async ({ baseURL }) => {
  const { host } = new URL(baseURL!);
  expect(await statusWith(baseURL!, {})).toBe(200);
  expect(await statusWith(baseURL!, { Host: 'evil.example' })).toBe(403);
  expect(
    await statusWith(`${baseURL}/api/projects`, { Host: host, Origin: 'http://evil.example' }),
  ).toBe(403);
  expect(
    await statusWith(`${baseURL}/api/projects`, { Host: host, Origin: `http://${host}` }),
  ).toBe(200);
  expect(await statusWith(`${baseURL}/icon.svg`, { Host: 'evil.example' })).toBe(403);
});

test('wrong requests get clear answers', async ({ request }) => {
  const answer = async (path: string, data: unknown) => {
    const response = await request.post(`/api/${path}`, { data });
    return [
      response.status(),
      ((await response.json()) as { problem?: { code: string } }).problem?.code,
    ];
  };
  expect(await answer('projects', { document: { format: 'other' } })).toEqual([
    422,
    'not_a_design',
  ]);
  expect(await answer('projects', { document: { format: 'fair-voicing', version: 99 } })).toEqual([
    422,
    'design_too_new',
  ]);
  expect(await answer('projects', { nonsense: 1 })).toEqual([422, 'request_invalid']);
  const nowhere = '/api/projects/00000000-0000-4000-8000-000000000000';
  const large = { baseRevision: 1, note: {}, document: { pad: 'x'.repeat(9 * 2 ** 20) } };
  expect((await request.put(nowhere, { data: large })).status()).toBe(413);
  expect((await request.get(`${nowhere}/states/1`)).status()).toBe(404);
  expect((await request.get(`${nowhere}/states/-1`)).status()).toBe(404);
  expect((await request.get('/api/projects/../../etc')).status()).toBe(404);
  for (const ids of ['', '../x', `${'0'.repeat(32)},'`, Array(61).fill('0'.repeat(32)).join(',')])
    expect((await request.get(`/api/measurements/many?ids=${ids}`)).status()).toBe(422);
  const none = await request.get(`/api/measurements/many?ids=${'0'.repeat(32)}`);
  expect(await none.json()).toEqual({});
  expect((await request.get('/api/projects/00000000-0000-4000-8000-000000000000')).status()).toBe(
    404,
  );
  expect(
    (
      await request.put(`/api/measurements/${'0'.repeat(32)}`, {
        data: { frequencyHz: [1, 2], magnitude: [1, 2], phaseDeg: null },
      })
    ).status(),
  ).toBe(422);
});

/** What the server takes and what it refuses, over the wire. */
import { expect, test, type APIRequestContext } from '@playwright/test';
import { emptyDesign } from '../../src/core/document/schema';

const note = { label: '', figures: null, begins: null };

async function project(request: APIRequestContext): Promise<{ id: string; document: object }> {
  const response = await request.post('/api/projects', { data: { demo: 'fresh' } });
  return (await response.json()) as { id: string; document: object };
}
const put = (request: APIRequestContext, id: string, document: unknown, more: object = {}) =>
  request.put(`/api/projects/${id}`, {
    data: {
      baseRevision: 1,
      ticket: { chain: crypto.randomUUID(), number: 1 },
      document,
      note,
      ...more,
    },
  });

/** JSON of a given length: a body whose filling nobody reads. */
const bodyOf = (bytes: number) => {
  const frame = '{"document":{"format":"other","x":""}}';
  return `${frame.slice(0, -3)}${'a'.repeat(bytes - frame.length)}"}}`;
};

test('a body just under its limit arrives whole, one just over it is refused as too large', async ({
  request,
}) => {
  const headers = { 'Content-Type': 'application/json' };
  const limit = 8 * 2 ** 20;
  const under = await request.post('/api/projects', {
    headers,
    data: Buffer.from(bodyOf(limit - 10)),
  });
  // It was parsed to its end: what is wrong is its content.
  expect(under.status()).toBe(422);
  expect(await under.text()).toContain('not_a_design');
  const over = await request.post('/api/projects', {
    headers,
    data: Buffer.from(bodyOf(limit + 10)),
  });
  expect(over.status()).toBe(413);
  expect(await over.text()).toContain('Up to 8 MiB');
});

test('a table of the most rows, with all digits, is stored', async ({ request }) => {
  test.slow();
  const count = 200_000;
  const frequencyHz = Array.from({ length: count }, (_, i) => 1 + i / 7);
  const body = JSON.stringify({
    frequencyHz,
    magnitude: frequencyHz.map((hz) => Math.sin(hz) * 100),
    phaseDeg: frequencyHz.map((hz) => Math.cos(hz) * 180),
  });
  expect(body.length).toBeGreaterThan(10 * 2 ** 20);
  const headers = { 'Content-Type': 'application/json' };
  const wrong = await request.put(`/api/measurements/${'0'.repeat(32)}`, {
    headers,
    data: Buffer.from(body),
  });
  // The whole of it came: only its name is not that of these numbers.
  expect(await wrong.text()).toContain('fingerprint_differs');
  const huge = Buffer.from(`{"frequencyHz":[${'1,'.repeat(17 * 2 ** 20)}1]}`);
  const over = await request.put(`/api/measurements/${'0'.repeat(32)}`, { headers, data: huge });
  expect(over.status()).toBe(413);
});

test('text that no database takes is refused with its place, and never looks like a server in trouble', async ({
  request,
}) => {
  const { id, document } = await project(request);
  for (const bad of ['a\u0000b', 'half \ud83d', 'bell \u0007']) {
    const answer = await put(request, id, { ...document, name: bad });
    expect(answer.status()).toBe(422);
    expect(((await answer.json()) as { problem: { where: string } }).problem.where).toBe(
      'document.name',
    );
    const label = await put(request, id, document, { note: { ...note, label: bad } });
    expect(label.status()).toBe(422);
    const written = await request.patch(`/api/projects/${id}/log/1`, {
      data: {
        baseRevision: 0,
        ticket: { chain: crypto.randomUUID(), number: 1 },
        annotation: { note: bad },
      },
    });
    expect(written.status()).toBe(422);
  }
  const old = await put(request, id, { format: 'fair-voicing', version: 4, ways: [null] });
  expect(old.status()).toBe(422);
  const emoji = await request.post('/api/projects', {
    data: { document: emptyDesign(`${'n'.repeat(69)}😀`) },
  });
  const { id: named } = (await emoji.json()) as { id: string };
  expect((await request.post('/api/projects', { data: { duplicateOf: named } })).status()).toBe(
    200,
  );
});

test('what is not there answers 404, whichever way it is asked for', async ({ request }) => {
  const { id } = await project(request);
  await request.delete(`/api/projects/${id}`);
  const gone = crypto.randomUUID();
  for (const path of [
    ...[id, gone, 'nonsense'].flatMap((one) => [
      `projects/${one}`,
      `projects/${one}/log`,
      `projects/${one}/log?documents`,
      `projects/${one}/log/1`,
      `projects/${one}/states/1`,
      `projects/${one}/searches`,
    ]),
    `measurements/${'1'.repeat(32)}`,
    'measurements/nonsense',
    `library/${gone}`,
  ])
    expect([path, (await request.get(`/api/${path}`)).status()]).toEqual([path, 404]);
});

test('what a foreign page could send is refused: other types, other sites', async ({
  request,
  page,
}) => {
  const { id } = await project(request);
  for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data']) {
    const answer = await request.post('/api/projects', {
      headers: { 'Content-Type': type },
      data: Buffer.from('{"demo":true}'),
    });
    expect(answer.status()).toBe(422);
  }
  for (const site of ['cross-site', 'same-site']) {
    const headers = { 'Sec-Fetch-Site': site, 'Sec-Fetch-Mode': 'no-cors' };
    expect((await request.get(`/api/projects/${id}`, { headers })).status()).toBe(403);
    expect((await request.delete(`/api/projects/${id}`, { headers })).status()).toBe(403);
  }
  // A link from elsewhere may be followed.
  const link = { 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'navigate' };
  expect((await request.get(`/p/${id}/network`, { headers: link })).status()).toBe(200);
  const answer = await page.goto(`/p/${id}/network`);
  const policy = answer!.headers()['content-security-policy'];
  expect(policy).toMatch(/script-src 'self' 'nonce-[^']+' 'wasm-unsafe-eval'(;|$)/);
  // A script without the nonce of this answer does not run.
  await page.evaluate(() => {
    const script = document.createElement('script');
    script.textContent = 'window.hostile = true';
    document.body.append(script);
  });
  expect(await page.evaluate(() => 'hostile' in window)).toBe(false);
});

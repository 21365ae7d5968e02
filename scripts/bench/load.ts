/**
 * Many desks at one server: each saves a change once a second and reads twice, as a page with its
 * log does. Reports p50 and p95.
 */
import { applyChange } from '@/core/editing/applyChange';
import type { Design } from '@/core/document/schema';

export interface LoadReport {
  readonly desks: number;
  readonly savesPerSecond: number;
  readonly readsPerSecond: number;
  readonly saveMs: Quantiles;
  readonly readMs: Quantiles;
  readonly errors: number;
}

interface Quantiles {
  readonly p50: number;
  readonly p95: number;
  readonly p99: number;
}

function quantiles(values: number[]): Quantiles {
  const sorted = values.toSorted((a, b) => a - b);
  const at = (share: number) =>
    sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
  return { p50: at(0.5), p95: at(0.95), p99: at(0.99) };
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function call<T>(url: string, method: string, body?: unknown): Promise<T> {
  const response = await fetch(url, {
    method,
    ...(body === undefined
      ? {}
      : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
  });
  if (!response.ok)
    throw new Error(`${method} ${url}: ${response.status} ${await response.text()}`);
  return (await response.json()) as T;
}

/**
 * @param url address of a server with the demo's measurements
 */
export async function loadTest(url: string, desks: number, seconds: number): Promise<LoadReport> {
  const saveMs: number[] = [];
  const readMs: number[] = [];
  let errors = 0;
  const timed = async <T>(times: number[], work: () => Promise<T>): Promise<T> => {
    const from = performance.now();
    const result = await work();
    times.push(performance.now() - from);
    return result;
  };
  const end = Date.now() + 1000 * seconds;
  const desk = async (number: number) => {
    const created = await call<{ id: string; revision: number; document: Design }>(
      `${url}/api/projects`,
      'POST',
      { demo: 'fresh' },
    );
    const project = `${url}/api/projects/${created.id}`;
    let { revision, document } = created;
    await pause((1000 * number) / desks);
    for (let turn = 1; Date.now() < end; turn++) {
      const next = Date.now() + 1000;
      document = applyChange(document, {
        type: 'setPartValue',
        id: 'l1',
        value: 3e-3 * (1 + (turn % 50) / 100),
      });
      const note = { label: 'set L1', figures: null, begins: null };
      try {
        const saved = await timed(saveMs, () =>
          call<{ revision: number }>(project, 'PUT', {
            baseRevision: revision,
            ticket: { chain: crypto.randomUUID(), number: 1 },
            document,
            note,
          }),
        );
        revision = saved.revision;
        await timed(readMs, () => call(project, 'GET'));
        await timed(readMs, () => call(`${project}/log`, 'GET'));
      } catch (error) {
        errors++;
        process.stderr.write(`${String(error).slice(0, 200)}\n`);
      }
      await pause(Math.max(0, next - Date.now()));
    }
  };
  const from = Date.now();
  await Promise.all(Array.from({ length: desks }, (_, number) => desk(number)));
  const took = (Date.now() - from) / 1000;
  return {
    desks,
    savesPerSecond: saveMs.length / took,
    readsPerSecond: readMs.length / took,
    saveMs: quantiles(saveMs),
    readMs: quantiles(readMs),
    errors,
  };
}

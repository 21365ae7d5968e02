// The demo's search on the real queue, by the bundled workers.
import { startWorker } from '../lib/web.mjs';

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

async function asked(url, method = 'GET', body = undefined) {
  const response = await fetch(url, {
    method,
    ...(body && { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
  });
  if (!response.ok)
    throw new Error(`${method} ${url}: ${response.status} ${await response.text()}`);
  return response.json();
}

/**
 * Seconds that a whole search takes on the queue.
 *
 * @param url address of a server with the demo's measurements
 * @param limits of the search
 */
export async function queueTest(url, databaseUrl, workers, limits) {
  const { id, document } = await asked(`${url}/api/projects`, 'POST', { demo: 'fresh' });
  const stops = Array.from({ length: workers }, () => startWorker(databaseUrl));
  // Workers that are still starting are not what is measured.
  await pause(4000);
  const began = performance.now();
  const searches = `${url}/api/projects/${id}/searches`;
  await asked(searches, 'POST', { document, limits });
  try {
    for (;;) {
      await pause(200);
      const [{ state, tried, networks }] = await asked(searches);
      if (state === 'failed') throw new Error('The search on the queue failed.');
      if (state !== 'done') continue;
      const best = Math.min(...networks.map(({ figures }) => figures.deviationDb));
      return { seconds: (performance.now() - began) / 1000, tried, best };
    }
  } finally {
    await Promise.all(stops.map((stop) => stop(10_000)));
  }
}

/**
 * The demo's search shared by processes, as the queue shares it among workers: each is told a
 * network to try and answers with what it found. Run by itself this file is such a process.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { createExploration, explore, tryNetwork } from '@/core/fitting/explore';
import { type Effort, type FoundNetwork, type Try } from '@/core/fitting/found';
import { limitedTo } from '@/core/fitting/limits';
import { readDemo } from '../tests/fixtures';

interface Task {
  readonly wish: Try;
  readonly effort: Effort;
}

const explorationOfDemo = () => {
  const { design, data } = readDemo();
  return createExploration(design, data, limitedTo(13));
};

/** Milliseconds that some processes take, once they are there. */
export async function sharedSearch(count: number): Promise<number> {
  const path = fileURLToPath(import.meta.url);
  const workers = Array.from({ length: count }, () => fork(path, ['try']));
  const answer = (worker: ChildProcess) =>
    new Promise<FoundNetwork | null>((resolve) => worker.once('message', resolve));
  await Promise.all(workers.map(answer));
  const began = performance.now();
  await explore(explorationOfDemo(), async ({ tries, effort }) => {
    const found: (FoundNetwork | null)[] = [];
    let next = 0;
    await Promise.all(
      workers.map(async (worker) => {
        while (next < tries.length) {
          const at = next++;
          const answered = answer(worker);
          worker.send({ wish: tries[at], effort } satisfies Task);
          found[at] = await answered;
        }
      }),
    );
    return found.filter((one) => one !== null);
  });
  const took = performance.now() - began;
  for (const worker of workers) worker.kill();
  return took;
}

if (process.argv[2] === 'try') {
  const exploration = explorationOfDemo();
  process.on('message', ({ wish, effort }: Task) =>
    process.send!(tryNetwork(exploration, wish, effort)),
  );
  process.send!(null);
}

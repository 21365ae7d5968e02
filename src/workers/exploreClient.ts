import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import {
  createExploration,
  explore,
  type ExploreProgress,
  type TryAll,
} from '@/core/exploration/explore';
import { bestSoFar } from '@/core/exploration/shortlist';
import { type FoundNetwork } from '@/core/exploration/found';
import type { SearchLimits } from '@/core/fitting/limits';
import type { ExploreService } from './explore.worker';
import { unwrap } from './result';
import { startService, type WorkerService } from './startService';

interface SearchListener {
  readonly onStage: (progress: ExploreProgress) => void;
  /** Networks of the present stage that were fitted, and how many there are. */
  readonly onProgress: (done: number, of: number) => void;
}

/** Milliseconds between two words on how far a search is. */
const tellingMs = 250;

export interface SearchOutcome {
  /** What was found; when stopped, the best of what was fitted until then. */
  readonly networks: readonly FoundNetwork[];
  readonly tried: number;
  readonly isStopped: boolean;
}

/**
 * Searches whole networks in several workers. The answer does not depend on their number.
 *
 * @throws ProblemError saying what is missing
 */
export async function searchNetworks(
  design: Design,
  data: MeasurementData,
  limits: SearchLimits,
  signal: AbortSignal,
  { onStage, onProgress }: SearchListener,
): Promise<SearchOutcome> {
  const exploration = createExploration(design, data, limits);
  const count = Math.max(1, Math.min(4, navigator.hardwareConcurrency));
  const services = Array.from({ length: count }, () =>
    startService<ExploreService>(
      new Worker(new URL('./explore.worker.ts', import.meta.url), { type: 'module' }),
      'The search',
    ),
  );
  let last: ExploreProgress = { stage: null, best: [], tried: 0 };
  /** Of the stage that is going on. */
  let underWay: (FoundNetwork | null)[] = [];
  const stopped = new Promise<null>((resolve) =>
    signal.addEventListener('abort', () => resolve(null)),
  );
  const tryAll: TryAll = async ({ tries, effort }) => {
    const found: (FoundNetwork | null)[] = new Array<null>(tries.length).fill(null);
    underWay = found;
    let [next, done, toldAt] = [0, 0, 0];
    const work = async ({ ask }: WorkerService<ExploreService>) => {
      while (next < tries.length) {
        const at = next++;
        found[at] = await ask((service) => service.tryOne(tries[at], effort));
        done++;
        // Redrawn for each of hundreds a second, the page would take the time of a worker.
        if (performance.now() - toldAt < tellingMs && done < tries.length) continue;
        toldAt = performance.now();
        onProgress(done, tries.length);
      }
    };
    await Promise.all(services.map(work));
    return found.filter((one) => one !== null);
  };
  try {
    const searched = (async () => {
      await Promise.all(
        services.map(async ({ ask }) =>
          unwrap(await ask((service) => service.begin(design, data, limits))),
        ),
      );
      return explore(exploration, tryAll, (progress) => {
        last = progress;
        underWay = [];
        onStage(progress);
      });
    })();
    const result = await Promise.race([searched, stopped]);
    if (result) return { ...result, isStopped: false };
    const fitted = underWay.filter((one) => one !== null);
    return {
      networks: bestSoFar([[...last.best, ...fitted]], limits),
      tried: last.tried + fitted.length,
      isStopped: true,
    };
  } finally {
    for (const { end } of services) end();
  }
}

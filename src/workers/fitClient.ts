import * as comlink from 'comlink';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import type { PartLimits } from '@/core/fitting/limits';
import type { Buyable } from '@/core/fitting/stock';
import type { FewerResult } from '@/core/fitting/fewer';
import type { Contradiction, FitState } from '@/core/fitting/fit';
import type { FitFigures } from '@/core/fitting/fitFigures';
import type { FitService } from './fit.worker';
import { unwrap } from './result';
import { startService } from './startService';

/** What a fit or a rounding came to. */
export interface FitOutcome {
  /** Null when nothing better than the design was found. */
  readonly best: FitState | null;
  /** Of the design as it was; null when it was stopped before that was known. */
  readonly before: { readonly merit: number; readonly figures: FitFigures } | null;
  /** Limits that can't all be kept together. */
  readonly contradictions: readonly Contradiction[];
  readonly evaluations: number;
  readonly isStopped: boolean;
}

/** How a fit is to go about it. */
export interface FitWish {
  readonly seed: number;
  readonly startCount: number;
  readonly limits: PartLimits;
  /** Whether ways may be reversed. */
  readonly mayTurn: boolean;
}

interface FitListener {
  readonly onBetter: (state: FitState) => void;
  /** Share of the starts that were followed. */
  readonly onProgress: (share: number) => void;
}

const workerCount = () => Math.max(1, Math.min(4, navigator.hardwareConcurrency - 1));

const start = () =>
  startService<FitService>(
    new Worker(new URL('./fit.worker.ts', import.meta.url), { type: 'module' }),
    'The fit',
  );

/** Ends the workers when it is over or stopped; stopping keeps the best that was told. */
async function runIn<T>(
  count: number,
  signal: AbortSignal,
  work: (service: comlink.Remote<FitService>, index: number) => Promise<T>,
): Promise<T[] | null> {
  const running = Array.from({ length: count }, start);
  const stopped = new Promise<null>((resolve) =>
    signal.addEventListener('abort', () => resolve(null)),
  );
  try {
    const done = Promise.all(
      running.map(({ ask }, index) => ask((service) => work(service, index))),
    );
    return await Promise.race([done, stopped]);
  } finally {
    for (const { end } of running) end();
  }
}

/**
 * Fits the free values of a design, several starts at a time in workers of their own. The same seed
 * and number of starts give the same answer, however many workers share them.
 *
 * @throws ProblemError saying what is missing
 */
export async function runFit(
  design: Design,
  data: MeasurementData,
  { seed, startCount, limits, mayTurn }: FitWish,
  signal: AbortSignal,
  { onBetter, onProgress }: FitListener,
): Promise<FitOutcome> {
  const count = Math.min(startCount, workerCount());
  let best: FitState | null = null;
  let followed = 0;
  const better = (state: FitState) => {
    if (best && state.merit >= best.merit) return;
    best = state;
    onBetter(state);
  };
  const results = await runIn(count, signal, async (service, index) =>
    unwrap(
      await service.fit(
        design,
        data,
        limits,
        seed,
        Array.from({ length: startCount }, (_, number) => number).filter(
          (number) => number % count === index,
        ),
        mayTurn,
        comlink.proxy(better),
        comlink.proxy(() => onProgress(++followed / startCount)),
      ),
    ),
  );
  const ended = results?.reduce((least, one) => (one.merit < least.merit ? one : least));
  return {
    best,
    before: results?.[0].before ?? null,
    contradictions: ended?.contradictions ?? [],
    evaluations: results?.reduce((sum, { evaluations }) => sum + evaluations, 0) ?? 0,
    isStopped: results === null,
  };
}

/**
 * Rounds the free values of a design to what one can buy. @throws ProblemError saying what is
 * missing
 */
export async function runRounding(
  design: Design,
  data: MeasurementData,
  { series, limits }: { readonly series: Buyable; readonly limits: PartLimits },
  signal: AbortSignal,
  onBetter: (state: FitState) => void,
): Promise<FitOutcome> {
  let best: FitState | null = null;
  const better = (state: FitState) => {
    best = state;
    onBetter(state);
  };
  const results = await runIn(1, signal, async (service) =>
    unwrap(await service.round(design, data, series, limits, comlink.proxy(better))),
  );
  return {
    best: results?.[0] ?? best,
    before: results?.[0].before ?? null,
    contradictions: results?.[0].contradictions ?? [],
    evaluations: results?.[0].evaluations ?? 0,
    isStopped: results === null,
  };
}

/**
 * Leaves out the parts that hardly matter.
 *
 * @returns null when it was stopped
 * @throws ProblemError saying what is missing
 */
export async function runOmission(
  design: Design,
  data: MeasurementData,
  { worthDb, limits }: { readonly worthDb: number; readonly limits: PartLimits },
  signal: AbortSignal,
): Promise<FewerResult | null> {
  const results = await runIn(1, signal, async (service) =>
    unwrap(await service.omit(design, data, worthDb, limits)),
  );
  return results?.[0] ?? null;
}

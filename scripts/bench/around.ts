/** npm run bench: both orbits, and layout and network together. */
import { micro, say, timings } from './told';
import { createFitter, fitGridHz } from '@/core/fitting/fit';
import { goalOf, type Goal, type Limit } from '@/core/fitting/goal';
import { createFitInputs } from '@/core/fitting/inputs';
import { createFitModel } from '@/core/fitting/model';
import { variablesOf } from '@/core/fitting/variables';
import { applyChange } from '@/core/editing/applyChange';
import { createAroundViews } from '@/core/around/orbits';
import { createJointScorer } from '@/core/around/jointScore';
import { jointSearch } from '@/core/around/jointSearch';
import { allFree, readDemo } from '../../tests/fixtures';

/** A part nudged: both orbits, all curves and figures; a fit with both orbits against one on axis. */
export function benchAround(): void {
  const { design, data } = readDemo();
  const viewOf = createAroundViews();
  const wish = { stepDeg: 5, withinDb: 1.5 } as const;
  const nudged = (k: number) =>
    applyChange(design, { type: 'setPartValue', id: 'c4', value: 5.6e-6 * (1 + 1e-3 * (k % 7)) });
  let k = 0;
  const { medianMs, p95Ms } = timings(() => void viewOf(nudged(k++), data, wish), 40);
  say(
    'around, a value moved: 142 angles × 240 points, 3 ways (aim 16 ms)',
    `median ${medianMs.toFixed(1)} ms, 95 % within ${p95Ms.toFixed(1)} ms`,
  );
  const free = allFree(design);
  const whole = goalOf(free);
  const isAround = ({ kind }: Limit) => kind === 'window' || kind === 'straight';
  const onAxis = { ...whole, limits: whole.limits.filter((limit) => !isAround(limit)) };
  const perNetwork = (goal: Goal) => {
    const fitter = createFitter(
      createFitModel(free, data, goal, variablesOf(free), createFitInputs(fitGridHz())),
    );
    const { start } = fitter.model;
    return timings(() => fitter.model.evaluate(start, true), 200).medianMs;
  };
  const [axisMs, aroundMs] = [perNetwork(onAxis), perNetwork(whole)];
  say(
    'a network of a fit with window and directivity against axis alone (aim 3)',
    `${(aroundMs / axisMs).toFixed(2)} × (${micro(aroundMs)} against ${micro(axisMs)})`,
  );
}

/** Layout and network of the demo together, on one core. */
export async function benchJointSearch(): Promise<void> {
  const { design, data } = readDemo();
  const wish = {
    panelId: 'front',
    moves: [
      { driverId: 'tweeter', asideMm: 40, upMm: 40, depthMm: 20 },
      { driverId: 'midrange', asideMm: 0, upMm: 40, depthMm: 0 },
    ],
    ...{ narrowestMm: 270, widestMm: 330, largestRadiusMm: 40, seed: 1 },
  };
  const score = createJointScorer(design, data, wish);
  const began = performance.now();
  const found = await jointSearch(
    design,
    wish,
    (tasks) => Promise.resolve(tasks.map(score)),
    () => undefined,
  );
  say(
    'layout and network of the demo in one search, one core (aim 2 min on two)',
    `${((performance.now() - began) / 1000).toFixed(0)} s, ${found?.tried} layouts, axis ±${found?.before.axisDb.toFixed(2)} → ±${found?.best.axisDb.toFixed(2)} dB`,
  );
}

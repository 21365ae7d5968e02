/** npm run bench: what is worked out with every nudge. */
import type { Design } from '@/core/document/schema';
import type { MeasurementData } from '@/core/measurement/samples';
import { micro, say, timings } from './told';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import { judge } from '@/core/promises/judge';
import { promisesOf } from '@/core/promises/promisesOf';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { readDesign } from '@/core/document/readDesign';
import { readDemo, withoutBaffle } from '../../tests/fixtures';

/**
 * One value of the demo moved: what the worker does between a key stroke and new curves with their
 * verdicts, on the axis alone and with all that was measured around it.
 */
export function benchPrediction(): void {
  const { design, data } = readDemo();
  benchNudge('on the axis (aim 400 µs)', withoutBaffle(design), data);
  benchNudge('and all around', design, data);
  const checking = timings(() => readDesign(design, 'desk'), 1000);
  say('checking the document would add', micro(checking.medianMs));
}

function benchNudge(name: string, design: Design, data: MeasurementData): void {
  const predict = createPredictor();
  const values = [3.3e-3, 3.6e-3].map((value) =>
    applyChange(design, { type: 'setPartValue', id: 'l1', value }),
  );
  let turn = 0;
  const next = () => values[turn++ % 2];
  const predicting = timings(() => predict(next(), data), 2000);
  const asking = timings(() => promisesOf(next()), 2000);
  const prediction = predict(design, data);
  const promises = promisesOf(design);
  const judging = timings(() => judge(prediction, promises), 2000);
  const whole = timings(() => {
    const varied = next();
    judgedPromisesOf(varied, predict(varied, data));
  }, 2000);
  say(
    `a value moved, ${prediction.frequencyHz.length} points, ${promises.length} promises, ${name}`,
    `median ${micro(whole.medianMs)}, 95 % within ${micro(whole.p95Ms)}`,
  );
  const shares: readonly [string, number][] = [
    ['prediction', predicting.medianMs],
    ['promises of the brief', asking.medianMs],
    ['verdicts', judging.medianMs],
  ];
  for (const [step, ms] of shares)
    say(`  ${step}`, `${micro(ms)}, ${((100 * ms) / whole.medianMs).toFixed(0)} %`);
}

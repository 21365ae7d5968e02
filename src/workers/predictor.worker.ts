import type { PartId } from '@/core/fields';
import { partValue } from '@/core/document/partKinds';
import * as comlink from 'comlink';
import { meaningOf, type Meaning } from '@/core/brief/consequences';
import { examined, type Examination } from '@/core/insight/examine';
import { createConditioner } from '@/core/prediction/conditioner';
import { networkDeck } from '@/core/insight/networkDeck';
import { partInsight } from '@/core/insight/insight';
import { partsActingAt } from '@/core/insight/influence';
import { sideBySide, type JudgedAlternative } from '@/core/insight/sideBySide';
import { proposeTrap, trapLoads } from '@/core/filters/traps';
import { fitDriver } from '@/core/driver/parameters';
import { depthBetween, depthOffset } from '@/core/measurement/depthOffset';
import { spreadOf } from '@/core/measurement/spread';
import { withDifference, type Difference } from './difference';
import { attempt } from './result';
import { nothingOffAxis } from '@/core/prediction/offAxisLevels';
import { createPredictor } from '@/core/prediction/predict';
import type { Prediction } from '@/core/prediction/prediction';
import { partsOf, type Design } from '@/core/document/schema';
import type { Samples } from '@/core/measurement/samples';
import { applyChange } from '@/core/editing/applyChange';
import { seekLevers, type Levers } from '@/core/promises/levers';
import {
  figuresOfNetwork,
  judgedPromisesOf,
  type JudgedPromise,
} from '@/core/promises/judgedPromises';

const predict = createPredictor();
const data = new Map<string, Samples>();
const warmingRuns = 40;

/** A design's curves and verdicts. */
export interface Outcome {
  readonly prediction: Prediction;
  readonly judged: readonly JudgedPromise[];
}

/** What is worked out when there is time for it. */
export interface Study {
  readonly meaning: Meaning;
  readonly levers: Levers;
  /** Every position of every switch. */
  readonly alternatives: readonly JudgedAlternative[];
}

/** What was predicted last, for judging it after its curves are on their way. */
let last: {
  readonly design: Design;
  readonly bypassedPartId: PartId | null;
  readonly prediction: Prediction;
} | null = null;
/** The design of the last call, from which the next one differs. */
let predicted: Design | null = null;
let isWarm = false;
let studies = 0;
const condition = createConditioner();

const service = {
  load(id: string, samples: Samples): void {
    data.set(id, samples);
  },
  /**
   * Predicts a design. The document comes from this page's own store, which was checked when it was
   * loaded; checking it again would take a third of the time of a prediction.
   *
   * @param difference from the design of the last call: what did not change is recognised, and what
   *   was made of it is kept
   */
  predict(
    difference: Difference,
    bypassedPartId: PartId | null,
  ): { prediction: Prediction; computeMs: number } {
    const start = performance.now();
    const design = withDifference(predicted, difference) as Design;
    predicted = design;
    const prediction = predict(design, data, { bypassedPartId, offAxis: 'known' });
    last = { design, bypassedPartId, prediction };
    if (prediction.sum && !isWarm) warmUp(design);
    return { prediction, computeMs: performance.now() - start };
  },
  /**
   * Verdicts on what was predicted last, and what is off its axis: curves do not wait for these. Asked
   * again, goes on with what is still due.
   */
  judgeLast(): Pick<Outcome, 'judged'> & Pick<Prediction, 'offAxis'> {
    if (!last) return { judged: [], offAxis: nothingOffAxis };
    const { design, bypassedPartId, prediction: before } = last;
    const { due } = before.offAxis;
    const prediction = due ? predict(design, data, { bypassedPartId, offAxis: due }) : before;
    last = { ...last, prediction };
    return { judged: judgedPromisesOf(design, prediction), offAxis: prediction.offAxis };
  },
  predictAndJudge(design: Design): Outcome {
    const prediction = predict(design, data);
    return { prediction, judged: judgedPromisesOf(design, prediction) };
  },
  /** What a design is looked at for: its promises, and the usual figures of a network. */
  figures: (design: Design): readonly JudgedPromise[] =>
    figuresOfNetwork(design, predict(design, data)),
  /** @returns null when another study or {@link stopStudy} came before the end */
  async study(design: Design): Promise<Study | null> {
    const mine = ++studies;
    // What came meanwhile may have made it stale already.
    await nextTask();
    if (mine !== studies) return null;
    const alternatives = sideBySide(design, data, predict);
    const meaning = meaningOf(design, predict(design, data));
    const seeking = seekLevers(design, data, predict);
    for (;;) {
      await nextTask();
      if (mine !== studies) return null;
      const { done, value } = seeking.next();
      if (done) return { meaning, levers: value, alternatives };
    }
  },
  /** The network as a SPICE deck; drivers are fitted for it. */
  deck: (design: Design) => networkDeck(design, data),
  insight: (design: Design, partId: PartId) => partInsight(design, data, partId),
  actingAt: (design: Design, hz: number) => partsActingAt(design, data, hz),
  trapLoads: (design: Design) => trapLoads(design, data),
  proposeTrap: (design: Design, nearHz: number | null) =>
    proposeTrap(design, data, predict, nearHz),
  /**
   * A measurement after its recipe, what looks wrong with it, and how it looks in time. Null
   * without its numbers.
   */
  examine(design: Design, id: string): Examination | null {
    const measurement = design.measurements.find((one) => one.id === id);
    return measurement ? examined(measurement, design, data, condition) : null;
  },
  /**
   * Answer as a result: an impossible fit is a problem to be shown, not a failure of the worker.
   */
  fitDriver: (...args: Parameters<typeof fitDriver>) => attempt(() => fitDriver(...args)),
  depthOffset: (...args: Parameters<typeof depthOffset>) => attempt(() => depthOffset(...args)),
  /** Spread of measurements, responses as their steps leave them. */
  spread: (design: Design, ids: readonly string[]) =>
    attempt(() => {
      const all = design.measurements.filter(({ id }) => ids.includes(id));
      const samples = all.flatMap((one) => {
        const numbers = one.kind === 'response' ? condition(one, data)?.samples : data.get(one.id);
        return numbers ? [numbers] : [];
      });
      return spreadOf(samples, all[0]?.kind ?? 'response');
    }),
  depthBetween: (...args: Parameters<typeof depthBetween>) => depthBetween(...args),
  stopStudy(): void {
    studies++;
  },
};

/**
 * Runs the whole path a few times before the hand first moves, in gaps between messages: code that
 * the browser has not compiled yet takes ten times as long.
 */
function warmUp(design: Design): void {
  isWarm = true;
  const part = partsOf(design).at(0);
  if (!part) return;
  let runs = 0;
  const run = () => {
    const value = partValue(part) * (1 + 1e-3 * (runs % 2));
    const varied = applyChange(design, { type: 'setPartValue', id: part.id, value });
    judgedPromisesOf(varied, predict(varied, data));
    if (++runs < warmingRuns) setTimeout(run, 0);
  };
  setTimeout(run, 0);
}

const nextTask = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

export type PredictorService = typeof service;
comlink.expose(service);

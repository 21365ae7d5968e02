import { messageOf } from '@/core/problem';
import type { MeasurementId, PartId } from '@/core/fields';
import type { Prediction } from '@/core/prediction/prediction';
import type { Examination } from '@/core/insight/examine';
import type { trapLoads, TrapProposal } from '@/core/filters/traps';
import type { PartInsight } from '@/core/insight/insight';
import type { partsActingAt } from '@/core/insight/influence';
import type { Design } from '@/core/document/schema';
import type { fitDriver } from '@/core/driver/parameters';
import type { ParameterFit } from '@/core/driver/thieleSmall';
import type { depthBetween, depthOffset, DepthOffset } from '@/core/measurement/depthOffset';
import type { Spread } from '@/core/measurement/spread';
import type { Samples } from '@/core/measurement/samples';
import type { JudgedPromise } from '@/core/promises/judgedPromises';
import { unwrap } from './result';
import { differenceOf, type Difference } from './difference';
import { newestOnly } from './newestOnly';
import { startService, type WorkerService } from './startService';
import type { Outcome, PredictorService, Study } from './predictor.worker';

export type { Outcome, Study } from './predictor.worker';

interface Request {
  readonly design: Design;
  readonly bypassedPartId: PartId | null;
}

/** What comes of a request first. */
export interface Curves {
  readonly design: Design;
  readonly prediction: Prediction;
  readonly computeMs: number;
}

/** What follows. */
export interface Verdicts {
  readonly design: Design;
  /** What is off the axis of the curves that came before. */
  readonly offAxis: Prediction['offAxis'];
  readonly judged: readonly JudgedPromise[];
}

/** Where answers go: curves at once, verdicts a moment later. */
interface PredictorListener {
  readonly onCurves: (curves: Curves) => void;
  readonly onVerdicts: (verdicts: Verdicts) => void;
  readonly onFailure: (message: string) => void;
}

export interface PredictorClient {
  load(id: string, samples: Samples): void;
  /**
   * Asks for a prediction. While one is being made, only the newest request waits; older ones are
   * dropped.
   */
  request(design: Design, bypassedPartId: PartId | null): void;
  /** Predicts another design beside the one on the desk. */
  predictBeside(design: Design): Promise<Outcome>;
  /** Promises and usual figures of a network, as the strip judges them. */
  figures(design: Design): Promise<readonly JudgedPromise[]>;
  /** The network as a SPICE deck; null while no way can be computed. */
  deck(design: Design): Promise<string | null>;
  /**
   * What the brief means and what acts on broken promises; null when it was stopped by the next
   * request.
   */
  study(design: Design): Promise<Study | null>;
  /** What a part does and what is done to it; null when it takes no part in the prediction. */
  insight(design: Design, partId: PartId): Promise<PartInsight | null>;
  /** What each trap works against at its frequency, ohms, by the ids of their groups. */
  trapLoads(design: Design): Promise<ReturnType<typeof trapLoads>>;
  /** The trap that takes a bump away, near a frequency or the highest. */
  proposeTrap(design: Design, nearHz: number | null): Promise<TrapProposal | null>;
  /** Parts by how much they move the level at a frequency, the strongest first. */
  actingAt(design: Design, hz: number): Promise<ReturnType<typeof partsActingAt>>;
  /** A measurement after its recipe, with its findings and views in time. */
  examine(design: Design, measurementId: MeasurementId): Promise<Examination | null>;
  /** @throws ProblemError */
  fitDriver(...args: Parameters<typeof fitDriver>): Promise<ParameterFit>;
  /** @throws ProblemError */
  depthOffset(...args: Parameters<typeof depthOffset>): Promise<DepthOffset>;
  /** Mean and spread of measurements. @throws ProblemError */
  spread(design: Design, ids: readonly string[]): Promise<Spread>;
  /**
   * Depth by the excess delays of two responses with one time reference, mm; null where there is
   * none.
   */
  depthBetween(...args: Parameters<typeof depthBetween>): Promise<number | null>;
  close(): void;
}

/** Waits before a worker that failed is started again, ms; then always the last. */
const restartMs = [500, 2000, 5000, 15_000];

/** A worker that is started again when it fails, with all numbers that it had. */
interface Lane {
  readonly ask: WorkerService<PredictorService>['ask'];
  readonly tell: WorkerService<PredictorService>['tell'];
  /** What to send of a design to be predicted: what changed since the last that was sent. */
  readonly differenceTo: (design: Design) => Difference;
  close(): void;
}

function startLane(
  numbers: ReadonlyMap<string, Samples>,
  onFailure: (message: string) => void,
  onRestart: () => void,
): Lane {
  let isClosed = false;
  let attempt = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sent: Design | null = null;
  const start = () => {
    // A new worker knows of no design.
    sent = null;
    const begun = startService<PredictorService>(
      new Worker(new URL('./predictor.worker.ts', import.meta.url), { type: 'module' }),
      'The prediction',
    );
    for (const [id, samples] of numbers) begun.tell((service) => service.load(id, samples));
    void begun.failure.then((error) => {
      begun.end();
      if (isClosed) return;
      onFailure(error.message);
      timer = setTimeout(
        () => {
          now = start();
          onRestart();
        },
        restartMs[Math.min(attempt++, restartMs.length - 1)],
      );
    });
    return begun;
  };
  let now = start();
  return {
    ask: (question) =>
      now.ask(question).catch((error: unknown) => {
        // It may not have come as far as the design that it was sent.
        sent = null;
        throw error;
      }),
    tell: (message) => now.tell(message),
    differenceTo(design) {
      const difference = differenceOf(sent, design);
      sent = design;
      return difference;
    },
    close() {
      isClosed = true;
      clearTimeout(timer);
      now.end();
    },
  };
}

/**
 * Two prediction workers: one for what is edited, one for everything that may take longer.
 * One that can't be started is said and tried again. Call in the browser only.
 */
export function createPredictorClient(listener: PredictorListener): PredictorClient {
  const numbers = new Map<string, Samples>();
  let frequencyHz: Float64Array = new Float64Array(0);
  let newest: Request | null = null;
  const ask = newestOnly(async (request: Request) => {
    const { design, bypassedPartId } = request;
    try {
      const { prediction, computeMs } = await quick.ask((service) =>
        service.predict(quick.differenceTo(design), bypassedPartId),
      );
      // The grid hardly ever changes: charts that know it need not work it out again.
      if (!isSameGrid(frequencyHz, prediction.frequencyHz)) frequencyHz = prediction.frequencyHz;
      listener.onCurves({ design, computeMs, prediction: { ...prediction, frequencyHz } });
      for (;;) {
        const { judged, offAxis } = await quick.ask((service) => service.judgeLast());
        listener.onVerdicts({ design, judged, offAxis });
        // What takes long gives way to the next change.
        if (offAxis.due === null || request !== newest) break;
      }
    } catch (error) {
      listener.onFailure(messageOf(error));
    }
  });
  const again = () => {
    if (newest) ask(newest);
  };
  const quick = startLane(numbers, listener.onFailure, again);
  // Begun when it is first needed, so that the first curves have the machine to themselves.
  let patientLane: Lane | null = null;
  const patient = () => (patientLane ??= startLane(numbers, listener.onFailure, again));
  return {
    load(id, samples) {
      numbers.set(id, samples);
      for (const lane of [quick, patientLane]) lane?.tell((service) => service.load(id, samples));
    },
    request(design, bypassedPartId) {
      newest = { design, bypassedPartId };
      ask(newest);
      // An edit came: whatever else runs must not take its time.
      patientLane?.tell((service) => service.stopStudy());
    },
    predictBeside: (design) => patient().ask((service) => service.predictAndJudge(design)),
    figures: (design) => patient().ask((service) => service.figures(design)),
    deck: (design) => patient().ask((service) => service.deck(design)),
    study: (design) => patient().ask((service) => service.study(design)),
    insight: (design, partId) => patient().ask((service) => service.insight(design, partId)),
    trapLoads: (design) => patient().ask((service) => service.trapLoads(design)),
    proposeTrap: (design, nearHz) =>
      patient().ask((service) => service.proposeTrap(design, nearHz)),
    actingAt: (design, hz) => patient().ask((service) => service.actingAt(design, hz)),
    examine: (design, id) => patient().ask((service) => service.examine(design, id)),
    fitDriver: async (...args) =>
      unwrap(await patient().ask((service) => service.fitDriver(...args))),
    depthOffset: async (...args) =>
      unwrap(await patient().ask((service) => service.depthOffset(...args))),
    spread: async (design, ids) =>
      unwrap(await patient().ask((service) => service.spread(design, ids))),
    depthBetween: (...args) => patient().ask((service) => service.depthBetween(...args)),
    close() {
      for (const lane of [quick, patientLane]) lane?.close();
    },
  };
}

const isSameGrid = (a: Float64Array, b: Float64Array) =>
  a.length === b.length && a.every((hz, i) => hz === b[i]);

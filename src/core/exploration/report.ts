import type { PromiseKind } from '@/core/document/briefSchema';
import type { Design } from '@/core/document/schema';
import { crossoverReports } from '@/core/insight/crossoverReports';
import type { MeasurementData } from '@/core/measurement/samples';
import { crossoverLoss, phaseTrackingDeg } from '@/core/prediction/crossoverLoss';
import { muteWays } from '@/core/prediction/inspectSum';
import type { Predictor } from '@/core/prediction/predict';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';

/** What one decides by about a network, judged as everywhere else. */
export interface NetworkReport {
  readonly promises: readonly {
    readonly id: string;
    readonly kind: PromiseKind;
    readonly value: number;
    readonly atLeast: number | null;
    readonly atMost: number | null;
    readonly isKept: boolean | null;
  }[];
  /** Neighbours from the lowest up. */
  readonly crossovers: readonly {
    readonly between: readonly [lower: string, upper: string];
    readonly hz: number;
    /** Acoustic slopes of the lower and the upper, dB per octave; null where the data end before. */
    readonly slopesDb: readonly [lower: number | null, upper: number | null];
  }[];
  /** Ways that are nowhere heard, by name. */
  readonly mute: readonly string[];
  /** Largest loss at the crossovers, dB, and the phase at the worst of them, degrees. */
  readonly lossDb: number | null;
  readonly trackingDeg: number | null;
}

/** Predicts and judges a design. */
export function reportOf(design: Design, data: MeasurementData, predict: Predictor): NetworkReport {
  const prediction = predict(design, data);
  const nameOf = (wayId: string) => design.ways.find(({ id }) => id === wayId)?.name ?? wayId;
  return {
    promises: judgedPromisesOf(design, prediction).flatMap(({ promise, verdict }) =>
      verdict.value === null
        ? []
        : [
            {
              id: promise.id,
              kind: promise.kind,
              value: verdict.value,
              atLeast: promise.atLeast,
              atMost: promise.atMost,
              isKept: verdict.isKept,
            },
          ],
    ),
    crossovers: crossoverReports(prediction).map((one) => ({
      between: [nameOf(one.lowerId), nameOf(one.upperId)],
      hz: one.atHz,
      slopesDb: [one.lowerSlopeDb, one.upperSlopeDb],
    })),
    mute: muteWays(prediction.ways, prediction.frequencyHz).map(({ wayId }) => nameOf(wayId)),
    lossDb: crossoverLoss(prediction)?.value ?? null,
    trackingDeg: phaseTrackingDeg(prediction)?.value ?? null,
  };
}

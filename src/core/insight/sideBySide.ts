import { lowestEquivalentOhms } from '@/core/prediction/figures';
import type { Predictor } from '@/core/prediction/predict';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { alternatives } from '@/core/editing/switches';

/** How the speaker does in one position of one switch. */
export interface JudgedAlternative {
  readonly positionId: string;
  /** "Treble: soft". */
  readonly name: string;
  readonly isChosen: boolean;
  readonly sumDb: Float64Array | null;
  readonly ohms: Float64Array | null;
  /** How far the sum strays from its mean over 200 Hz–15 kHz. */
  readonly deviationDb: number | null;
  readonly lowestOhms: number | null;
  /** Lowest equivalent peak dissipation resistance. */
  readonly equivalentOhms: number | null;
}

/** Predicts every position of every switch, with the other switches as they are chosen. */
export const sideBySide = (
  design: Design,
  data: MeasurementData,
  predict: Predictor,
): JudgedAlternative[] =>
  alternatives(design).map(({ positionId, name, isChosen, design: turned }) => {
    const prediction = predict(turned, data);
    const { sum, impedance, summary } = prediction;
    const { onAxis, lowestImpedance } = summary;
    return {
      ...{ positionId, name, isChosen },
      sumDb: sum?.levelDb ?? null,
      ohms: impedance?.ohms ?? null,
      deviationDb: onAxis && Math.max(onAxis.highestDb, -onAxis.lowestDb),
      lowestOhms: lowestImpedance?.ohms ?? null,
      equivalentOhms: lowestEquivalentOhms(prediction)?.value ?? null,
    };
  });

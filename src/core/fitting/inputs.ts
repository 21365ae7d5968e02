import { createBaffleEffect } from '@/core/prediction/baffleEffect';
import { programmeShares } from '@/core/spectrum/programme';
import { createConditioner, type Conditioner } from '@/core/prediction/conditioner';
import { createStrains, type Strains } from '@/core/prediction/strain';
import { createOffAxis } from '@/core/prediction/offAxisInputs';
import { createSending, type SendingOf } from '@/core/prediction/offAxisLevels';
import { createWayInputs, type WayInputs } from '@/core/prediction/wayInputs';

/**
 * What the drivers bring to a fit, on one grid; made once for all networks that are tried with
 * them.
 */
export interface FitInputs {
  /** Rising, evenly spaced in logarithm. */
  readonly frequencyHz: Float64Array;
  readonly condition: Conditioner;
  readonly ofWays: WayInputs;
  readonly sendingOf: SendingOf;
  readonly motionOf: Strains['motionOf'];
  /** Share of the programme's power at each frequency. */
  readonly shares: Float64Array;
}

export function createFitInputs(frequencyHz: Float64Array): FitInputs {
  const condition = createConditioner();
  const baffleEffectOf = createBaffleEffect(frequencyHz);
  const offAxisOf = createOffAxis(frequencyHz, condition, baffleEffectOf);
  return {
    frequencyHz,
    condition,
    ofWays: createWayInputs(frequencyHz, baffleEffectOf, offAxisOf),
    sendingOf: createSending(offAxisOf, frequencyHz.length),
    motionOf: createStrains(frequencyHz).motionOf,
    shares: programmeShares(frequencyHz),
  };
}

import { conditioned } from '@/core/measurement/condition';
import type { Conditioned } from '@/core/measurement/steps/step';
import { isEven } from '@/core/measurement/evenSpectrum';
import { flightSeconds } from '@/core/measurement/flight';
import { impedanceHealth } from '@/core/measurement/impedanceHealth';
import { pairHealth, responseHealth, type HealthFinding } from '@/core/measurement/health';
import { groupDelay, type GroupDelay } from '@/core/measurement/groupDelay';
import { tailsOf } from '@/core/measurement/recipe';
import { timeViews, type TimeViews } from '@/core/measurement/timeViews';
import type { Conditioner } from '@/core/prediction/conditioner';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design, Measurement } from '@/core/document/schema';

/** What the Bench shows of a measurement. */
export interface Examination {
  readonly conditioned: Conditioned;
  /** Of the curve as its recipe leaves it, and of what it belongs to. */
  readonly findings: readonly HealthFinding[];
  /** Null where the frequencies are not evenly spaced. */
  readonly time: TimeViews | null;
  /** Null without phase. */
  readonly delay: GroupDelay | null;
  /** Bulk delay that the phase holds as measured, s; 0 when it hardly turns. */
  readonly flightSeconds: number;
}

/**
 * Looks at one measurement: applies its recipe, checks what comes out, and turns it into time where
 * that is possible.
 *
 * @returns null while its numbers are not here
 */
export function examined(
  measurement: Measurement,
  design: Design,
  data: MeasurementData,
  condition: Conditioner,
): Examination | null {
  const raw = data.get(measurement.id);
  if (!raw) return null;
  const owner = design.drivers.find(
    ({ responseId, impedanceId }) =>
      responseId === measurement.id || impedanceId === measurement.id,
  );
  const partner = (id: string | null | undefined) => (id ? data.get(id) : undefined);
  if (measurement.kind === 'impedance')
    return {
      conditioned: conditioned(raw, [], {
        commonTiming: false,
        microphoneDistanceMm: 1000,
        find: () => undefined,
      }),
      findings: impedanceHealth(raw, owner?.sheet.reOhm ?? null),
      time: null,
      delay: null,
      flightSeconds: 0,
    };
  const result = condition(measurement, data)!;
  const impedance = partner(owner?.impedanceId);
  const gate = measurement.recipe.filter((step) => step.kind === 'gate').find(({ isOn }) => isOn);
  return {
    conditioned: result,
    findings: [
      ...responseHealth(result.samples).filter(
        ({ remedy }) =>
          !remedy || !measurement.recipe.some((step) => step.isOn && step.kind === remedy.kind),
      ),
      ...(impedance ? pairHealth(result.samples, impedance) : []),
    ],
    delay: groupDelay(result.samples, tailsOf(measurement.recipe)),
    flightSeconds: flightSeconds(raw),
    time: isEven(raw) ? timeViews(raw, gate?.lengthMs ?? null) : null,
  };
}

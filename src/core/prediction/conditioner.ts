import { neededBy } from '@/core/measurement/steps/kinds';
import { conditioned } from '@/core/measurement/condition';
import type { Conditioned } from '@/core/measurement/steps/step';
import type { MeasurementData, Samples } from '@/core/measurement/samples';
import type { Measurement } from '@/core/document/schema';

/** A response after its recipe; null while its numbers are not here. */
export type Conditioner = (measurement: Measurement, data: MeasurementData) => Conditioned | null;

/**
 * Applies recipes, and keeps each result as long as numbers, recipe and microphone are the same.
 */
export function createConditioner(): Conditioner {
  const kept = new Map<
    string,
    { key: string; numbers: readonly (Samples | undefined)[]; result: Conditioned }
  >();
  return ({ id, recipe, microphone }, data) => {
    const raw = data.get(id);
    if (!raw) return null;
    const others = recipe.flatMap(neededBy);
    const numbers = [raw, ...others.map((other) => data.get(other))];
    // A document that crossed to a worker is a new object each time, so its contents are compared.
    const key = JSON.stringify([recipe, microphone]);
    const last = kept.get(id);
    if (last?.key === key && numbers.every((one, i) => one === last.numbers[i])) return last.result;
    const result = conditioned(raw, recipe, {
      commonTiming: microphone.commonTiming,
      microphoneDistanceMm: microphone.distanceMm,
      find: (other) => data.get(other),
    });
    kept.set(id, { key, numbers, result });
    return result;
  };
}

import type { PartId } from '@/core/fields';
import { partValue } from '@/core/document/partKinds';
import { applyChange } from '@/core/editing/applyChange';
import type { Predictor } from '@/core/prediction/predict';
import type { MeasurementData } from '@/core/measurement/samples';
import { partsOf, type Design } from '@/core/document/schema';
import { judge } from './judge';
import { promisesOf } from './promisesOf';

/** A part by which a promise can be moved, and how. */
export interface Lever {
  readonly partId: PartId;
  readonly partName: string;
  /** Direction that helps. */
  readonly direction: 'larger' | 'smaller';
  /** Gain of margin for a step of one tenth, in the promise's unit. */
  readonly gain: number;
}

const step = 1.1;

/** Up to two strongest parts per id of a broken promise, strongest first. */
export type Levers = ReadonlyMap<string, readonly Lever[]>;

/**
 * What acts on promises that are not kept: each part is made a tenth larger and smaller, and the
 * margins are judged anew. Central differences would hide that a worst case may get worse on both
 * sides; each side is taken as it is.
 *
 * Pauses after each prediction, so that who works it out can stop half-way.
 */
export function* seekLevers(
  design: Design,
  data: MeasurementData,
  predict: Predictor,
): Generator<void, Levers> {
  const promises = promisesOf(design);
  const marginsOf = (changed: Design) =>
    new Map(
      judge(predict(changed, data), promises).flatMap(({ promiseId, margin }) =>
        margin === null ? [] : [[promiseId, margin] as const],
      ),
    );
  const before = marginsOf(design);
  const broken = [...before].filter(([, margin]) => margin < 0);
  const found = new Map<string, Lever[]>(broken.map(([id]) => [id, []]));
  if (broken.length === 0) return found;
  for (const part of partsOf(design))
    for (const direction of ['larger', 'smaller'] as const) {
      const value = partValue(part) * (direction === 'larger' ? step : 1 / step);
      const after = marginsOf(applyChange(design, { type: 'setPartValue', id: part.id, value }));
      for (const [id, margin] of broken) {
        const gain = (after.get(id) ?? -Infinity) - margin;
        if (gain > 0)
          found.get(id)!.push({ partId: part.id, partName: part.name, direction, gain });
      }
      yield;
    }
  for (const [id, levers] of found)
    found.set(id, levers.sort((a, b) => b.gain - a.gain).slice(0, 2));
  return found;
}

/** {@link seekLevers} in one go. */
export function leversOf(design: Design, data: MeasurementData, predict: Predictor): Levers {
  const seeking = seekLevers(design, data, predict);
  for (;;) {
    const { done, value } = seeking.next();
    if (done) return value;
  }
}

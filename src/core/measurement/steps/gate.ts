import { z } from 'zod';
import { positive } from '@/core/fields';
import { logGrid } from '@/core/grid/logGrid';
import { impulseOfSpectrum } from '../evenSpectrum';
import { arrivalSeconds, gateAfter, leadBeforeArrival, responseOf } from '../impulse';
import { perOctave, stepBase, stepKind } from './step';

/** Keeps the sound up to a time after the arrival; needs even frequencies. */
export const gate = stepKind({
  schema: z.strictObject({ ...stepBase, kind: z.literal('gate'), lengthMs: positive.max(1000) }),
  name: 'Gate',
  first: () => ({ lengthMs: 5 }),
  apply({ lengthMs }, { samples }) {
    const impulse = impulseOfSpectrum(samples);
    const arrival = arrivalSeconds(impulse);
    const { frequencyHz } = samples;
    const top = Math.min(frequencyHz[frequencyHz.length - 1], 0.49 * impulse.sampleRateHz);
    const validFromHz = 1000 / lengthMs;
    const grid = logGrid(Math.max(10, frequencyHz[0]), top, perOctave);
    return {
      samples: responseOf(
        impulse,
        gateAfter(arrival, lengthMs / 1000, leadBeforeArrival(impulse)),
        grid,
      ),
      validFromHz,
      note: `Arrival at ${(arrival * 1000).toFixed(2)} ms; valid from about ${validFromHz.toFixed(0)} Hz, and no finer than ${validFromHz.toFixed(0)} Hz anywhere.`,
    };
  },
});

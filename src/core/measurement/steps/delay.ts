import { z } from 'zod';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { problem } from '@/core/problem';
import { stepBase, stepKind } from './step';

/** Moves the response later, or earlier when negative. */
export const delay = stepKind({
  schema: z.strictObject({
    ...stepBase,
    kind: z.literal('delay'),
    addedMs: z.number().min(-100).max(100),
  }),
  name: 'Delay',
  first: () => ({ addedMs: 0 }),
  apply({ addedMs }, { samples }) {
    if (!samples.phaseDeg)
      throw problem(
        'delay_needs_phase',
        'delay',
        'This response has no phase.',
        'A delay is seen in the phase only.',
        'Add a minimum phase before it.',
      );
    return {
      samples: {
        ...samples,
        phaseDeg: samples.phaseDeg.map(
          (angle, i) => angle - (360 * samples.frequencyHz[i] * addedMs) / 1000,
        ),
      },
      note: `${addedMs > 0 ? 'Later' : 'Earlier'} by ${Math.abs(addedMs).toFixed(3)} ms, ${Math.abs(addedMs * speedOfSoundMps(20)).toFixed(0)} mm.`,
    };
  },
});

import { z } from 'zod';
import { stepBase, stepKind } from './step';

/**
 * Adds decibels: the sensitivity of microphone and amplifier, or the drive that a recording had.
 */
export const level = stepKind({
  schema: z.strictObject({
    ...stepBase,
    kind: z.literal('level'),
    addedDb: z.number().min(-300).max(300),
  }),
  name: 'Level',
  first: () => ({ addedDb: 0 }),
  apply: ({ addedDb }, { samples }) => ({
    samples: { ...samples, magnitude: samples.magnitude.map((db) => db + addedDb) },
    note: `Louder by ${addedDb.toFixed(2)} dB.`,
  }),
});

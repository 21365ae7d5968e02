import { z } from 'zod';
import { positive } from '@/core/fields';

/** A hard surface near the speaker, whose reflection is that of a mirror image. */
const boundarySchema = z.strictObject({
  kind: z.enum(['floor', 'desk', 'front-wall', 'left-wall', 'right-wall']),
  /** From the origin of the design's axes, mm. */
  distanceMm: positive.max(20_000),
  /** Share of the energy that it absorbs. */
  absorption: z.number().min(0).max(1),
});

/** The surroundings of the speaker at listening. */
export const surroundingsSchema = z.strictObject({
  boundaries: z.array(boundarySchema).max(5),
  /** The other speaker of a pair; null for one alone. */
  pair: z
    .strictObject({
      /** From the one to the other, mm. */
      apartMm: positive.max(20_000),
      /** How far both are turned inward. */
      toeInDeg: z.number().min(-90).max(90),
    })
    .nullable(),
});

export type Surroundings = z.infer<typeof surroundingsSchema>;
export type Boundary = z.infer<typeof boundarySchema>;

/** Nothing near: a free field, and one speaker. */
export const freeField: Surroundings = { boundaries: [], pair: null };

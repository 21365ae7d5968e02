import { z } from 'zod';
import type { Step } from '@/core/measurement/recipe';
import { fingerprint, hertz, positive } from './fields';

const slope = z.number().min(-120).max(120);
const base = { isOn: z.boolean() };

/** One step of what is done to a response; see `core/measurement/recipe.ts`. */
export const stepSchema = z.discriminatedUnion('kind', [
  z.strictObject({ ...base, kind: z.literal('level'), addedDb: z.number().min(-300).max(300) }),
  z.strictObject({ ...base, kind: z.literal('gate'), lengthMs: positive.max(1000) }),
  z.strictObject({
    ...base,
    kind: z.literal('splice'),
    nearId: fingerprint,
    radiusMm: positive.max(1000),
    portId: fingerprint.nullable(),
    portRadiusMm: positive.max(1000).nullable(),
    atHz: hertz,
    stepWidthMm: positive.max(5000).nullable(),
  }),
  z.strictObject({
    ...base,
    kind: z.literal('bridge'),
    fromHz: hertz,
    toHz: hertz,
    reason: z.string().trim().min(1).max(120),
  }),
  z.strictObject({
    ...base,
    kind: z.literal('tails'),
    belowHz: hertz,
    belowDbPerOctave: slope,
    aboveHz: hertz,
    aboveDbPerOctave: slope,
  }),
  z.strictObject({ ...base, kind: z.literal('phase'), keepsDelay: z.boolean() }),
  z.strictObject({ ...base, kind: z.literal('delay'), addedMs: z.number().min(-100).max(100) }),
]) satisfies z.ZodType<Step>;

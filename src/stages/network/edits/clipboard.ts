import { z } from 'zod';
import type { RailContents } from '@/core/editing/arrange';
import { groupSchema, groupTrouble, partSchema } from '@/core/document/networkSchema';

/** Kept for the tab, so that it can be put down on another variant or in another project. */
const key = 'fair-voicing copied parts';

const contentsSchema = z
  .strictObject({ parts: z.array(partSchema).min(1).max(60), groups: z.array(groupSchema).max(40) })
  .refine((contents) => groupTrouble(contents) === null);

/** Keeps parts for putting down elsewhere. */
export function keepCopy(contents: RailContents): void {
  sessionStorage.setItem(key, JSON.stringify(contents));
}

/**
 * What was copied last; null for nothing, or for something that this version does not understand.
 */
export function keptCopy(): RailContents | null {
  const text = sessionStorage.getItem(key);
  if (text === null) return null;
  try {
    return contentsSchema.parse(JSON.parse(text));
  } catch {
    return null;
  }
}

import { z } from 'zod';
import type { Figures } from './log';
import type { Design } from '@/core/document/schema';

/** A design as the server holds it. */
export interface StoredProject {
  readonly id: string;
  /** Rises by one with each save; a save names the one that it was made from. */
  readonly revision: number;
  readonly document: Design;
  /** State that the others are compared with, if one was pinned. */
  readonly pinnedRevision: number | null;
  /** The save that the newest state came from; null when it came from none. */
  readonly lastSave: SaveTicket | null;
}

/**
 * Names a save. All that a client sends before it has an answer is one chain; within it the numbers
 * rise. So a server that has stored a save whose answer was lost takes the next one of the same
 * chain for what it is, and a save that arrives twice is stored once.
 */
export const ticketSchema = z.strictObject({
  chain: z.uuid(),
  // Stored in 32 bits.
  number: z.int().positive().max(1e9),
});

export type SaveTicket = Readonly<z.infer<typeof ticketSchema>>;

/**
 * Numbers that a visit leaves to the one before it, which may still be sending while it is left: no
 * two documents ever carry the same ticket.
 */
const numbersOfAVisit = 1000;

/** Where a visit goes on that takes up what an earlier one may have sent. */
export const nextVisit = ({ chain, number }: SaveTicket): SaveTicket => ({
  chain,
  number: number + numbersOfAVisit,
});

/** A line in the list of projects. */
export interface ProjectSummary {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  /** ISO 8601. */
  readonly updatedAt: string;
  /** Names of its drivers. */
  readonly drivers: readonly string[];
  readonly wayCount: number;
  readonly partCount: number;
  /** Response and promises as they were last seen; null while nothing was computed. */
  readonly figures: Figures | null;
  /** Begun as the demo. */
  readonly isDemo: boolean;
}

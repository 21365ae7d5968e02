import type { Design } from './schema';

/** A design as the server holds it. */
export interface StoredProject {
  readonly id: string;
  /** Rises by one with each save; a save names the one that it was made from. */
  readonly revision: number;
  readonly document: Design;
  /** State that the others are compared with, if one was pinned. */
  readonly pinnedRevision: number | null;
}

/** A line in the list of projects. */
export interface ProjectSummary {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  /** ISO 8601. */
  readonly updatedAt: string;
  readonly driverCount: number;
  readonly wayCount: number;
  readonly partCount: number;
}

import { z } from 'zod';
import { promiseKinds } from '@/core/document/briefSchema';
import type { Design } from '@/core/document/schema';

/** Levels at which one listens, dB SPL. */
export const listeningLevelsDb = { min: 20, max: 130 } as const;

/** Something heard, written down so that it can be compared later. */
export const impressionSchema = z.strictObject({
  /** What was heard. */
  heard: z.string().trim().min(1).max(500),
  /** Seat or place. */
  where: z.string().trim().max(80),
  programme: z.string().trim().max(120),
  levelDb: z.number().min(listeningLevelsDb.min).max(listeningLevelsDb.max).nullable(),
  company: z.string().trim().max(120),
});

export type Impression = z.infer<typeof impressionSchema>;

/** The verdicts on the promises at a state, and the shape of its response, as the designer saw them. */
export const figuresSchema = z.strictObject({
  promises: z
    .array(
      z.strictObject({
        id: z.string().max(40),
        kind: z.enum(promiseKinds),
        value: z.number().nullable(),
        isKept: z.boolean().nullable(),
      }),
    )
    .max(80),
  /**
   * Levels of the sum in dB, evenly spaced over log frequency from 20 Hz to 20 kHz; null where
   * there is none.
   */
  thumbnail: z.array(z.number().nullable()).max(96),
});

export type Figures = z.infer<typeof figuresSchema>;

/** Why a version began. */
export const versionReasons = [
  'begin',
  'pause',
  'named',
  'import',
  'fit',
  'variant',
  'go-back',
] as const;
export type VersionReason = (typeof versionReasons)[number];

/** What the browser tells about a save. */
export const saveNoteSchema = z.strictObject({
  /** The last change, as the undo button names it. */
  label: z.string().max(120),
  figures: figuresSchema.nullable(),
  /** Set when this save shall begin a version, whatever the clock says. */
  begins: z.enum(['import', 'fit', 'go-back']).nullable(),
});

export type SaveNote = z.infer<typeof saveNoteSchema>;

/** What of it is known before the curves are: a save that has to wait keeps it. */
export type WorkDone = Pick<SaveNote, 'label' | 'begins'>;

export const longestNote = 20_000;

/** What is written about a version, as far as it is changed. */
export const annotationSchema = z.strictObject({
  name: z.string().trim().min(1).max(80).nullable().optional(),
  /** Markdown. */
  note: z.string().max(longestNote).optional(),
  impressions: z.array(impressionSchema).max(60).optional(),
});

export type Annotation = z.infer<typeof annotationSchema>;

/** Saved states that belong together, as the log lists them. */
export interface VersionSummary {
  readonly number: number;
  readonly variant: string;
  readonly reason: VersionReason;
  readonly name: string | null;
  readonly firstRevision: number;
  readonly lastRevision: number;
  /** ISO 8601. */
  readonly startedAt: string;
  readonly endedAt: string;
  /** What was done, each once. */
  readonly labels: readonly string[];
  readonly note: string;
  readonly impressions: readonly Impression[];
  readonly figures: Figures | null;
  /**
   * Rises with each change of name, note or impressions; a change names the one that it was made
   * from.
   */
  readonly annotationRevision: number;
}

/** One saved state of a version. */
export interface SavedStep {
  readonly revision: number;
  readonly savedAt: string;
  readonly label: string;
}

export interface SavedState {
  readonly revision: number;
  readonly document: Design;
}

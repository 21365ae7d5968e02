import jsonPatch, { type Operation } from 'fast-json-patch';
import { z } from 'zod';
import { problem } from '@/core/problem';
import { figuresSchema, impressionSchema, longestNote, versionReasons } from './log';
import { readDesign } from '@/core/document/readDesign';
import type { Design } from '@/core/document/schema';

/**
 * A log as it travels: in a project file, and between browser and server. Each version has the
 * document that it ended with, whole or as a patch (RFC 6902) to that of the version before, so
 * that a long life takes little room.
 */

/** Versions in a project file. */
export const longestExportedLog = 20_000;

/** What a comparison of two documents writes. Copying and moving could make much of little. */
const operationSchema = z.discriminatedUnion('op', [
  z.strictObject({ op: z.literal('add'), path: z.string().max(400), value: z.unknown() }),
  z.strictObject({ op: z.literal('replace'), path: z.string().max(400), value: z.unknown() }),
  z.strictObject({ op: z.literal('remove'), path: z.string().max(400) }),
]);

// Years before 1 and after 9999 are no times of ours, and not every database has them.
const time = z.iso
  .datetime()
  .refine((text) => text > '1970' && text < '2200', 'No version was saved at this time.');

/** What is told of a version, apart from its document. */
export const versionHeadSchema = z.strictObject({
  number: z.int().positive().max(1e9),
  variant: z.string().min(1).max(40),
  reason: z.enum(versionReasons),
  name: z.string().min(1).max(80).nullable(),
  startedAt: time,
  endedAt: time,
  labels: z.array(z.string().max(120)).max(60),
  note: z.string().max(longestNote),
  impressions: z.array(impressionSchema).max(60),
  figures: figuresSchema.nullable(),
});

export type VersionHead = z.infer<typeof versionHeadSchema>;

export const exportedVersionSchema = z
  .strictObject({
    ...versionHeadSchema.shape,
    document: z.unknown().optional(),
    patch: z.array(operationSchema).max(200_000).optional(),
  })
  .refine(
    ({ document, patch }) => (document === undefined) !== (patch === undefined),
    'A version has either its document or what changed.',
  );

export type ExportedVersion = z.infer<typeof exportedVersionSchema>;

export interface ExpandedVersion {
  readonly head: VersionHead;
  readonly document: Design;
}

/**
 * The versions with their documents, one after the other, each brought up to date and checked.
 *
 * @param log begins with a whole document
 * @param where for messages
 * @throws ProblemError `log_damaged`, and those of {@link readDesign}
 */
export function* expandedLog(
  log: readonly ExportedVersion[],
  where: string,
): Generator<ExpandedVersion> {
  let raw: unknown;
  for (const { document, patch, ...head } of log) {
    const place = `${where}, version ${head.number}`;
    raw = patch === undefined ? document : patched(raw, patch as Operation[], place);
    yield { head, document: readDesign(raw, place) };
  }
}

function patched(before: unknown, patch: Operation[], where: string): unknown {
  try {
    if (before === undefined) throw new Error('no document before it');
    return jsonPatch.applyPatch(before, patch, true, false).newDocument;
  } catch {
    throw problem(
      'log_damaged',
      where,
      'This version can’t be put together.',
      'What changed does not fit the version before it.',
      'Export the project again.',
    );
  }
}

/** The other way: the first document whole, and what changed in the others. */
export function compactLog(versions: Iterable<ExpandedVersion>): ExportedVersion[] {
  const log: ExportedVersion[] = [];
  let before: Design | null = null;
  for (const { head, document } of versions) {
    log.push(
      before
        ? { ...head, patch: jsonPatch.compare(before, document) as ExportedVersion['patch'] }
        : { ...head, document },
    );
    before = document;
  }
  return log;
}

/** A log in pieces that can be put together one by one: each begins with a whole document. */
export function piecesOf(log: readonly ExportedVersion[], mostBytes: number): ExportedVersion[][] {
  const pieces: ExportedVersion[][] = [];
  let bytes = Infinity;
  for (const version of log) {
    const size = JSON.stringify(version).length;
    if (version.patch === undefined && (pieces.length === 0 || bytes + size > mostBytes)) {
      pieces.push([]);
      bytes = 0;
    }
    // A log that begins with a patch is damaged; whoever expands it says so.
    if (pieces.length === 0) pieces.push([]);
    pieces[pieces.length - 1].push(version);
    bytes += size;
  }
  return pieces;
}

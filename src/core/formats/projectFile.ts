import { z } from 'zod';
import { strFromU8, strToU8, zipSync } from 'fflate';
import { problem } from '@/core/problem';
import { cleaned } from '@/core/text';
import { type MeasurementData, type Samples, samplesId } from '@/core/measurement/samples';
import {
  expandedLog,
  exportedVersionSchema,
  longestExportedLog,
  piecesOf,
  type ExportedVersion,
} from '@/core/log/exportedLog';
import { readDesign } from '@/core/document/readDesign';
import { numberIds, type Design, type Measurement } from '@/core/document/schema';
import { readTable } from './readTable';
import { openArchive } from './unpack';
import { writeTable } from './writeTable';

/**
 * Limits against archives made to exhaust memory; five hundred recordings with their harmonics stay
 * below.
 */
const limits = {
  fileBytes: 64 * 2 ** 20,
  entryCount: 5000,
  entryBytes: 64 * 2 ** 20,
  totalBytes: 256 * 2 ** 20,
};

/** A log is written in pieces, so that none is too large to be read or sent. */
const pieceBytes = 4 * 2 ** 20;

const logEntry = /^log(?:\.json|\/\d{4}\.json)$/;
const entryName =
  /^(?:manifest\.json|design\.json|log(?:\.json|\/\d{4}\.json)|measurements\/[0-9a-f]{32}\.txt|log\/|measurements\/)$/;

/** What a project file holds. */
export interface ProjectFile {
  readonly design: Design;
  readonly data: MeasurementData;
  /** Versions, the oldest first; empty when the file has no log. */
  readonly log: readonly ExportedVersion[];
}

/** Every measurement that the design or one of its versions names, each once. */
export function namedMeasurements({ design, log }: Omit<ProjectFile, 'data'>): Measurement[] {
  const byId = new Map<string, Measurement>();
  const take = ({ measurements }: Design) => {
    for (const measurement of measurements)
      if (!byId.has(measurement.id)) byId.set(measurement.id, measurement);
  };
  take(design);
  for (const { document } of expandedLog(log, 'log')) take(document);
  return [...byId.values()];
}

/** Every table that belongs to those measurements: their own and their harmonics'. */
const tablesOf = (project: Omit<ProjectFile, 'data'>) =>
  namedMeasurements(project).flatMap((measurement) =>
    numberIds(measurement).map((id) => ({ ...measurement, id })),
  );

/**
 * A project as one ZIP file: `design.json`, its versions under `log/`, each measurement as a text
 * table in full precision under `measurements/`, and `manifest.json`.
 *
 * @throws ProblemError `measurement_missing` when a document names one that is not in `data`
 */
export function writeProjectFile(project: ProjectFile): Uint8Array {
  const { design, data, log } = project;
  const tables = tablesOf(project).map(({ id, kind, name, origin }) => {
    const samples = data.get(id);
    if (!samples)
      throw problem(
        'measurement_missing',
        name,
        `The numbers of ${name} are not loaded.`,
        '',
        'Reload the page and export again.',
      );
    return [
      `measurements/${id}.txt`,
      strToU8(writeTable(samples, kind, `${name}, from ${origin.fileName}`)),
    ] as const;
  });
  const json = (value: unknown) => strToU8(JSON.stringify(value, null, 2) + '\n');
  const pieces = piecesOf(log, pieceBytes).map(
    (piece, i) => [`log/${String(i + 1).padStart(4, '0')}.json`, json(piece)] as const,
  );
  const manifest = {
    format: 'fair-voicing project',
    version: 3,
    design: 'design.json',
    log: pieces.map(([path]) => path),
    measurements: tables.map(([path]) => path),
  };
  return zipSync(
    {
      'manifest.json': json(manifest),
      'design.json': json(design),
      ...Object.fromEntries(pieces),
      ...Object.fromEntries(tables),
    },
    { level: 6 },
  );
}

/**
 * Reads a project file of unknown origin: nothing but the known kinds of entries is accepted, only
 * what the documents name is unpacked, and each table must have the fingerprint by which a document
 * names it.
 *
 * @throws ProblemError saying what is wrong with the archive, the document or a table
 */
export function readProjectFile(bytes: Uint8Array, fileName: string): ProjectFile {
  const archive = openArchive(bytes, fileName, (name) => entryName.test(name), limits);
  const documents = archive.read((name) => name === 'design.json' || logEntry.test(name));
  const designBytes = documents.get('design.json');
  if (!designBytes)
    throw problem(
      'not_a_project',
      fileName,
      'There is no design.json in this archive.',
      '',
      'Give a project file exported by Fair Voicing.',
    );
  const json = (path: string, content: Uint8Array): unknown => {
    try {
      return JSON.parse(strFromU8(content));
    } catch {
      const where = `${fileName}: ${path}`;
      throw damaged(where, 'The document can’t be parsed.', 'It is not valid JSON.');
    }
  };
  const design = readDesign(json('design.json', designBytes), fileName);
  const log = [...documents.keys()]
    .filter((name) => logEntry.test(name))
    .sort()
    .flatMap((name) => readLog(json(name, documents.get(name)!), `${fileName}: ${name}`));
  const named = tablesOf({ design, log }).map(
    ({ id, name }) => [`measurements/${id}.txt`, { id, name }] as const,
  );
  const wanted = new Set<string>(named.map(([path]) => path));
  const tables = archive.read((path) => wanted.has(path));
  const data = new Map<string, Samples>();
  for (const [path, { id, name }] of named) {
    const table = tables.get(path);
    const where = `${fileName}: ${path}`;
    if (!table) throw damaged(where, `The table of ${name} is missing.`, 'A document names it.');
    data.set(id, readNamedTable(table, where, id, name));
  }
  return { design, data, log };
}

const damaged = (where: string, what: string, why: string) =>
  problem('project_damaged', where, what, why, 'Export the project again.');

function readLog(value: unknown, where: string): ExportedVersion[] {
  const result = z.array(exportedVersionSchema).max(longestExportedLog).safeParse(cleaned(value));
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw damaged(where, `The log can’t be read: ${issue.path.join('.')}.`, issue.message);
}

/**
 * Reads a table that must have a given fingerprint.
 *
 * @throws ProblemError `fingerprint_differs` when its numbers are not the ones that were measured
 */
export function readNamedTable(
  bytes: Uint8Array,
  where: string,
  id: string,
  name: string,
): Samples {
  const { samples } = readTable(bytes, where);
  if (samplesId(samples) !== id)
    throw problem(
      'fingerprint_differs',
      where,
      `These are not the numbers of ${name}.`,
      `Its id ${id} is no fingerprint of this table: the numbers were changed since the project was exported, or the id was written by hand.`,
      'Import the table on the Bench as a measurement of its own, or make the project with “fair new”.',
    );
  return samples;
}

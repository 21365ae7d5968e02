import { z } from 'zod';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { problem, ProblemError } from '@/core/problem';
import type { MeasurementData } from '@/core/design/predict';
import { exportedVersionSchema, longestExportedLog, type ExportedVersion } from '@/core/design/log';
import { readDesign } from '@/core/design/readDesign';
import { numberIds, type Design, type Measurement } from '@/core/design/schema';
import { samplesId, type Samples } from '@/core/measurement/samples';
import { readTable } from './readTable';
import { writeTable } from './writeTable';

/** Limits against archives made to exhaust memory; five hundred recordings with their harmonics stay below. */
const limits = {
  fileBytes: 64 * 2 ** 20,
  entryCount: 5000,
  entryBytes: 64 * 2 ** 20,
  totalBytes: 256 * 2 ** 20,
};

const entryName = /^(?:manifest\.json|design\.json|log\.json|measurements\/[0-9a-f]{32}\.txt)$/;

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
  for (const { measurements } of [design, ...log.map(({ document }) => document)])
    for (const measurement of measurements)
      if (!byId.has(measurement.id)) byId.set(measurement.id, measurement);
  return [...byId.values()];
}

/** Every table that belongs to those measurements: their own and their harmonics'. */
const tablesOf = (project: Omit<ProjectFile, 'data'>) =>
  namedMeasurements(project).flatMap((measurement) =>
    numberIds(measurement).map((id) => ({ ...measurement, id })),
  );

/**
 * A project as one ZIP file: `design.json`, `log.json` with its versions, each measurement as a text table in full
 * precision under `measurements/`, and `manifest.json`.
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
  const manifest = {
    format: 'fair-voicing project',
    version: 2,
    design: 'design.json',
    log: 'log.json',
    measurements: tables.map(([path]) => path),
  };
  const json = (value: unknown) => strToU8(JSON.stringify(value, null, 2) + '\n');
  return zipSync(
    {
      'manifest.json': json(manifest),
      'design.json': json(design),
      'log.json': json(log),
      ...Object.fromEntries(tables),
    },
    { level: 6 },
  );
}

/**
 * Reads a project file of unknown origin: nothing but the three kinds of entries is accepted, sizes are checked
 * before anything is unpacked, and each table must have the fingerprint by which the design names it.
 *
 * @throws ProblemError saying what is wrong with the archive, the document or a table
 */
export function readProjectFile(bytes: Uint8Array, fileName: string): ProjectFile {
  const entries = unpack(bytes, fileName);
  if (!('design.json' in entries))
    throw problem(
      'not_a_project',
      fileName,
      'There is no design.json in this archive.',
      '',
      'Give a project file exported by Fair Voicing.',
    );
  const design = readDesign(readJson(entries, 'design.json', fileName), fileName);
  const log = 'log.json' in entries ? readLog(entries, fileName) : [];
  const data = new Map<string, Samples>();
  for (const { id, name } of tablesOf({ design, log })) {
    const path = `measurements/${id}.txt`;
    const table = entries[path] as Uint8Array | undefined;
    if (!table)
      throw damaged(
        `${fileName}: ${path}`,
        `The table of ${name} is missing.`,
        'A document names it.',
      );
    data.set(id, readNamedTable(table, `${fileName}: ${path}`, id, name));
  }
  return { design, data, log };
}

const damaged = (where: string, what: string, why: string) =>
  problem('project_damaged', where, what, why, 'Export the project again.');

function readJson(entries: Record<string, Uint8Array>, path: string, fileName: string): unknown {
  try {
    return JSON.parse(strFromU8(entries[path]));
  } catch {
    throw damaged(`${fileName}: ${path}`, 'The document can’t be parsed.', 'It is not valid JSON.');
  }
}

function readLog(entries: Record<string, Uint8Array>, fileName: string): ExportedVersion[] {
  const where = `${fileName}: log.json`;
  const result = z
    .array(exportedVersionSchema)
    .max(longestExportedLog)
    .safeParse(readJson(entries, 'log.json', fileName));
  if (!result.success) {
    const [issue] = result.error.issues;
    throw damaged(where, `The log can’t be read: ${issue.path.join('.')}.`, issue.message);
  }
  return result.data.map((version) => ({
    ...version,
    document: readDesign(version.document, `${where}, version ${version.number}`),
  }));
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
      'They were changed since the project was exported.',
      'Import the changed table on the Bench as a measurement of its own.',
    );
  return samples;
}

function unpack(bytes: Uint8Array, fileName: string): Record<string, Uint8Array> {
  if (bytes.length > limits.fileBytes)
    throw problem(
      'project_too_large',
      fileName,
      `The file has ${Math.round(bytes.length / 2 ** 20)} MiB.`,
      'Project files up to 64 MiB are read.',
      'Remove measurements that are not used, and export again.',
    );
  let count = 0;
  let total = 0;
  try {
    return unzipSync(bytes, {
      filter({ name, originalSize }) {
        count++;
        total += originalSize;
        if (!entryName.test(name))
          throw problem(
            'project_foreign_entry',
            fileName,
            `The archive holds “${name.slice(0, 80)}”.`,
            'A project file has no such entry.',
            'Give a project file exported by Fair Voicing.',
          );
        if (
          count > limits.entryCount ||
          originalSize > limits.entryBytes ||
          total > limits.totalBytes
        )
          throw problem(
            'project_too_large',
            fileName,
            'The archive unpacks to more than a project may hold.',
            'Up to 5000 entries and 256 MiB are read.',
            'Remove measurements that are not used, and export again.',
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw problem(
      'project_damaged',
      fileName,
      'The archive can’t be unpacked.',
      'It is damaged or not a ZIP archive.',
      'Export the project again.',
    );
  }
}

import { existsSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, sep } from 'node:path';
import type { MeasurementData } from '@/core/measurement/samples';
import { readDesign } from '@/core/document/readDesign';
import type { Design } from '@/core/document/schema';
import { readNamedTable, readProjectFile } from '@/core/formats/projectFile';
import { problem } from '@/core/problem';
import { readInput } from './files';

/**
 * A design with its numbers: a project file, or a design.json with its measurements beside it, as
 * `measurements/<id>.txt` or under the file names that they were imported from.
 *
 * @throws ProblemError
 */
export function readDesignFile(file: string): { design: Design; data: MeasurementData } {
  const bytes = readInput(file);
  if (!file.toLowerCase().endsWith('.json')) return readProjectFile(bytes, file);
  let parsed: unknown;
  try {
    parsed = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    throw problem(
      'not_json',
      file,
      'The design can’t be parsed.',
      (error as Error).message,
      'Give a design.json or a project file.',
    );
  }
  const design = readDesign(parsed, file);
  const folder = dirname(file);
  const data = new Map(
    design.measurements.map(({ id, name, origin }) => {
      const path = [join(folder, 'measurements', `${id}.txt`), join(folder, origin.fileName)].find(
        (candidate) => isWithin(folder, candidate) && existsSync(candidate),
      );
      if (path === undefined)
        throw problem(
          'measurement_missing',
          file,
          `The table of ${name} is not beside the design.`,
          `Neither measurements/${id}.txt nor ${origin.fileName} is there.`,
          'Put it there, or give the project file.',
        );
      return [id, readNamedTable(readInput(path), path, id, name)];
    }),
  );
  return { design, data };
}

/**
 * Whether a path lies in a folder or below it: a design's file names may not lead out of where it
 * is.
 */
export function isWithin(folder: string, path: string): boolean {
  const way = relative(folder, path);
  return way !== '' && !way.split(sep).includes('..') && !isAbsolute(way);
}

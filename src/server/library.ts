import {
  libraryDocument,
  samplesOf,
  type LibraryEntry,
  type StoredLibraryDriver,
} from '@/core/editing/library';
import { readDesign } from '@/core/document/readDesign';
import { numberIds, type Design } from '@/core/document/schema';
import { problem, ProblemError } from '@/core/problem';
import { restoreRow } from './restoreRow';
import { requireMeasurements } from './measurements';
import { models, type LibraryRow } from './models';

const absent = () =>
  problem(
    'library_driver_not_found',
    '',
    'There is no such driver in the library.',
    'It was deleted meanwhile.',
    'Open the library again.',
    'missing',
  );

const stored = ({ id, revision, document }: LibraryRow): StoredLibraryDriver => ({
  id,
  revision,
  document: readDesign(document, `library driver ${id}`),
});

/** A document as the library keeps it, whatever else was sent with it. */
const kept = (document: Design) => libraryDocument(document.name, document, document.drivers);

const fieldsOf = (document: Design) => ({
  name: document.name,
  document,
  measurementIds: document.measurements.flatMap(numberIds),
});

/** Its samples; one driver that can't be read does not hide the others. */
function toldSamples(row: LibraryRow): Pick<LibraryEntry, 'samples' | 'trouble'> {
  try {
    return { samples: samplesOf(stored(row).document), trouble: null };
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return { samples: [], trouble: error.message };
  }
}

/** All drivers of the library, by name. */
export async function listLibrary(): Promise<LibraryEntry[]> {
  const rows = await models().libraryDrivers.findAll({
    order: [
      ['name', 'ASC'],
      ['createdAt', 'ASC'],
    ],
  });
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    revision: row.revision,
    updatedAt: row.updatedAt.toISOString(),
    ...toldSamples(row),
  }));
}

/** @throws ProblemError `library_driver_not_found` */
export async function findLibraryDriver(id: string): Promise<StoredLibraryDriver> {
  const row = await models().libraryDrivers.findOne({ where: { id } });
  if (!row) throw absent();
  return stored(row);
}

/** @throws ProblemError `library_empty`, `library_full`, `measurement_missing` */
export async function addLibraryDriver(document: Design): Promise<StoredLibraryDriver> {
  const clean = kept(document);
  await requireMeasurements([clean]);
  return stored(await models().libraryDrivers.create(fieldsOf(clean)));
}

/**
 * Puts a new state in the place of the one it was made from.
 *
 * @throws ProblemError `library_driver_changed` when another window was faster, and those of adding
 */
export async function saveLibraryDriver(
  id: string,
  baseRevision: number,
  document: Design,
): Promise<StoredLibraryDriver> {
  const clean = kept(document);
  await requireMeasurements([clean]);
  const [count] = await models().libraryDrivers.update(
    { ...fieldsOf(clean), revision: baseRevision + 1 },
    { where: { id, revision: baseRevision } },
  );
  const now = await findLibraryDriver(id);
  if (count === 0)
    throw problem(
      'library_driver_changed',
      now.document.name,
      'This driver was changed meanwhile.',
      'Another window was faster.',
      'Look at it again, then repeat the step.',
    );
  return now;
}

/** @throws ProblemError `library_driver_not_found` */
export async function deleteLibraryDriver(id: string): Promise<void> {
  const count = await models().libraryDrivers.destroy({ where: { id } });
  if (count === 0) throw absent();
}

/** Takes a deletion back. */
export async function restoreLibraryDriver(id: string): Promise<void> {
  await restoreRow(models().libraryDrivers, id, absent);
}

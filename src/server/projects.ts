import { Op, QueryTypes } from 'sequelize';
import type { ProjectSummary, StoredProject } from '@/core/design/project';
import { readDesign } from '@/core/design/readDesign';
import type { Design } from '@/core/design/schema';
import { problem } from '@/core/problem';
import { database } from './database';
import { models, type ProjectRow } from './models';

/** A save was based on a revision that is no longer the newest. */
export interface SaveConflict {
  readonly conflict: StoredProject;
}

/** A row as the program uses it: documents of older schema versions are brought up to date. */
const stored = ({ id, revision, document }: ProjectRow): StoredProject => ({
  id,
  revision,
  document: readDesign(document, `project ${id}`),
});

const missing = (id: string) =>
  problem(
    'project_missing',
    id,
    'There is no such project.',
    'It was deleted, or its address is wrong.',
    'Go back to the list of projects.',
  );

/** All projects that are not deleted, the last changed first. Only figures of the documents are read. */
export async function listProjects(): Promise<ProjectSummary[]> {
  const rows = await database().query<Omit<ProjectSummary, 'updatedAt'> & { updatedAt: Date }>(
    `SELECT id, name, revision, updated_at AS "updatedAt",
            jsonb_array_length(document->'drivers') AS "driverCount",
            jsonb_array_length(document->'ways') AS "wayCount",
            jsonb_array_length(jsonb_path_query_array(document, '$.ways[*].parts[*]')) AS "partCount"
       FROM projects WHERE deleted_at IS NULL ORDER BY updated_at DESC`,
    { type: QueryTypes.SELECT },
  );
  return rows.map((row) => ({ ...row, updatedAt: row.updatedAt.toISOString() }));
}

/** @throws ProblemError `project_missing` */
export async function findProject(id: string): Promise<StoredProject> {
  const row = await models().projects.findOne({ where: { id, deletedAt: null } });
  if (!row) throw missing(id);
  return stored(row);
}

export async function createProject(document: Design): Promise<StoredProject> {
  await requireMeasurements(document);
  return stored(await models().projects.create({ name: document.name, document }));
}

/** A copy beside the original, under a name that says so. Measurements are shared. */
export async function duplicateProject(id: string): Promise<StoredProject> {
  const { document } = await findProject(id);
  return createProject({ ...document, name: `${document.name.slice(0, 70)} (copy)` });
}

/**
 * Saves a document if it was made from the newest revision.
 *
 * @returns the new state, or the state that is in the way
 * @throws ProblemError `project_missing`, `measurement_missing`
 */
export async function saveProject(
  id: string,
  baseRevision: number,
  document: Design,
): Promise<StoredProject | SaveConflict> {
  await requireMeasurements(document);
  // One statement, so that of two saves at the same moment exactly one finds its revision.
  const [count, rows] = await models().projects.update(
    { name: document.name, document, revision: baseRevision + 1 },
    { where: { id, revision: baseRevision, deletedAt: null }, returning: true },
  );
  return count === 1 ? stored(rows[0]) : { conflict: await findProject(id) };
}

/** @throws ProblemError `project_missing` */
export async function deleteProject(id: string): Promise<void> {
  const [count] = await models().projects.update(
    { deletedAt: new Date() },
    { where: { id, deletedAt: null }, silent: true },
  );
  if (count === 0) throw missing(id);
}

/** Takes a deletion back. */
export async function restoreProject(id: string): Promise<void> {
  const [count] = await models().projects.update(
    { deletedAt: null },
    { where: { id, deletedAt: { [Op.not]: null } }, silent: true },
  );
  if (count === 0) throw missing(id);
}

/** Removes what was deleted more than thirty days ago, and measurements that no project names any more. */
export async function purgeDeleted(now: Date): Promise<void> {
  const month = 30 * 24 * 3600 * 1000;
  await models().projects.destroy({
    where: { deletedAt: { [Op.lt]: new Date(now.getTime() - month) } },
  });
  await database().query(
    `DELETE FROM measurements m WHERE created_at < :before AND NOT EXISTS (
       SELECT 1 FROM projects p WHERE p.document->'measurements' @> jsonb_build_array(jsonb_build_object('id', m.id)))`,
    { replacements: { before: new Date(now.getTime() - month) } },
  );
}

/** The numbers go first, the document that names them second: it never points at nothing. */
async function requireMeasurements(document: Design): Promise<void> {
  const wanted = [...new Set(document.measurements.map((m) => m.id))];
  const found = await models().measurements.findAll({ where: { id: wanted }, attributes: ['id'] });
  const known = new Set(found.map((row) => row.id));
  const absent = document.measurements.find((m) => !known.has(m.id));
  if (absent)
    throw problem(
      'measurement_missing',
      absent.name,
      'The numbers of this measurement were not stored yet.',
      'A design is stored only after its measurements.',
      'Send the measurement first.',
    );
}

import { Op, QueryTypes } from 'sequelize';
import type { ExportedVersion, SaveNote } from '@/core/design/log';
import type { ProjectSummary, StoredProject } from '@/core/design/project';
import { readDesign } from '@/core/design/readDesign';
import { numberIds, type Design } from '@/core/design/schema';
import { database } from './database';
import { requireMeasurements } from './measurements';
import { missing } from './missing';
import { findState, importVersions, isSameState, recordState } from './log';
import { models, type ProjectRow } from './models';

/** A save was based on a revision that is no longer the newest. */
export interface SaveConflict {
  readonly conflict: StoredProject;
}

/** A row as the program uses it: documents of older schema versions are brought up to date. */
const stored = ({ id, revision, document, pinnedRevision }: ProjectRow): StoredProject => ({
  id,
  revision,
  document: readDesign(document, `project ${id}`),
  pinnedRevision: pinnedRevision ?? null,
});

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

/** A new project; with the versions that a project file brought along, if any. */
export async function createProject(
  document: Design,
  log: readonly ExportedVersion[] = [],
): Promise<StoredProject> {
  const named = [document, ...log.map((version) => version.document)];
  await requireMeasurements(named);
  const last = log.at(-1)?.document ?? null;
  // The log usually ends with the very state that comes with it.
  const isInLog = last !== null && isSameState(last, document);
  const revision = isInLog ? log.length : log.length + 1;
  return database().transaction(async (transaction) => {
    const row = await models().projects.create(
      {
        name: document.name,
        document,
        revision,
        measurementIds: [...new Set(named.flatMap(idsOf))],
      },
      { transaction },
    );
    await importVersions(transaction, row.id, log);
    if (!isInLog)
      await recordState(transaction, {
        projectId: row.id,
        revision,
        before: last,
        after: document,
        note: { label: 'begun', figures: null, begins: last && 'import' },
      });
    return stored(row);
  });
}

const idsOf = (document: Design) => document.measurements.flatMap(numberIds);

/** A copy beside the original, under a name that says so. Measurements are shared. */
export async function duplicateProject(id: string): Promise<StoredProject> {
  const { document } = await findProject(id);
  return createProject({ ...document, name: `${document.name.slice(0, 70)} (copy)` });
}

/**
 * Saves a document if it was made from the newest revision, and keeps the state in the log.
 *
 * @returns the new state, or the state that is in the way
 * @throws ProblemError `project_missing`, `measurement_missing`
 */
export async function saveProject(
  id: string,
  baseRevision: number,
  document: Design,
  note: SaveNote = { label: '', figures: null, begins: null },
): Promise<StoredProject | SaveConflict> {
  await requireMeasurements([document]);
  // All or nothing, and one save at a time for each project: of two at the same moment exactly one finds its revision.
  return database().transaction(async (transaction) => {
    const row = await models().projects.findOne({
      where: { id, deletedAt: null },
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    if (!row) throw missing(id);
    if (row.revision !== baseRevision) return { conflict: stored(row) };
    const before = row.document;
    const revision = baseRevision + 1;
    const measurementIds = [...new Set([...row.measurementIds, ...idsOf(document)])];
    await row.update({ name: document.name, document, revision, measurementIds }, { transaction });
    await recordState(transaction, { projectId: id, revision, before, after: document, note });
    return stored(row);
  });
}

/** Pins a state as the one that others are compared with, or takes the pin away. */
export async function pinState(id: string, revision: number | null): Promise<void> {
  if (revision !== null) await findState(id, revision);
  const [count] = await models().projects.update(
    { pinnedRevision: revision },
    { where: { id, deletedAt: null }, silent: true },
  );
  if (count === 0) throw missing(id);
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

/** Removes what was deleted more than thirty days ago, and measurements that nothing names any more. */
export async function purgeDeleted(now: Date): Promise<void> {
  const month = 30 * 24 * 3600 * 1000;
  const longAgo = { where: { deletedAt: { [Op.lt]: new Date(now.getTime() - month) } } };
  await models().projects.destroy(longAgo);
  await models().libraryDrivers.destroy(longAgo);
  await database().query(
    `DELETE FROM measurements m WHERE created_at < :before AND NOT EXISTS (
       SELECT 1 FROM projects p WHERE m.id = ANY(p.measurement_ids)) AND NOT EXISTS (
       SELECT 1 FROM library_drivers l WHERE m.id = ANY(l.measurement_ids))`,
    { replacements: { before: new Date(now.getTime() - month) } },
  );
}

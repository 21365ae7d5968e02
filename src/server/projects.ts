import { Op, QueryTypes } from 'sequelize';
import { expandedLog, type ExportedVersion, type VersionHead } from '@/core/log/exportedLog';
import type { Figures, SaveNote } from '@/core/log/log';
import { predict } from '@/core/prediction/predict';
import { figuresOf } from '@/core/promises/figuresOf';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import type { ProjectSummary, SaveTicket, StoredProject } from '@/core/log/project';
import { upToDate } from '@/core/document/readDesign';
import { isSameDesign } from '@/core/document/sameDesign';
import { numberIds, type Design } from '@/core/document/schema';
import { problem } from '@/core/problem';
import { cutText } from '@/core/text';
import { database } from './database';
import { measurementsOf, requireMeasurements } from './measurements';
import { missing } from './missing';
import { restoreRow } from './restoreRow';
import { findState, importVersions, recordState } from './log';
import { models, type ProjectRow } from './models';
import { endSearches } from './searches';

/** A save was based on a revision that is no longer the newest. */
interface SaveConflict {
  readonly conflict: StoredProject;
}

/** A row as the program uses it: documents of older schema versions are brought up to date. */
const stored = (
  row: Pick<
    ProjectRow,
    'id' | 'name' | 'revision' | 'document' | 'pinnedRevision' | 'saveChain' | 'saveNumber'
  >,
): StoredProject => ({
  id: row.id,
  revision: row.revision,
  document: upToDate(row.document, `project “${row.name}”`),
  pinnedRevision: row.pinnedRevision ?? null,
  lastSave:
    row.saveChain === null || row.saveNumber === null || row.saveChain === undefined
      ? null
      : { chain: row.saveChain, number: row.saveNumber },
});

/**
 * Projects that are not deleted, the last changed first. Only figures of the documents are read.
 *
 * @param most number of them; null for all
 */
export async function listProjects(most: number | null = null): Promise<ProjectSummary[]> {
  const rows = await database().query<Omit<ProjectSummary, 'updatedAt'> & { updatedAt: Date }>(
    `SELECT id, name, revision, updated_at AS "updatedAt", is_demo AS "isDemo",
            jsonb_path_query_array(document, '$.drivers[*].name') AS "drivers",
            jsonb_array_length(document->'ways') AS "wayCount",
            jsonb_array_length(jsonb_path_query_array(document, '$.ways[*].parts[*]')) AS "partCount",
            (SELECT figures FROM versions v WHERE v.project_id = p.id AND figures IS NOT NULL
              ORDER BY number DESC LIMIT 1) AS "figures"
       FROM (SELECT * FROM projects WHERE deleted_at IS NULL
              ORDER BY updated_at DESC LIMIT :most) p
      ORDER BY updated_at DESC`,
    { type: QueryTypes.SELECT, replacements: { most } },
  );
  return rows.map((row) => ({ ...row, updatedAt: row.updatedAt.toISOString() }));
}

/** Names of the projects that are not deleted. */
export async function projectNames(): Promise<ReadonlySet<string>> {
  const rows = await models().projects.findAll({ attributes: ['name'], raw: true });
  return new Set(rows.map(({ name }) => name));
}

/** @throws ProblemError `project_missing` */
export async function findProject(id: string): Promise<StoredProject> {
  const row = await models().projects.findOne({ where: { id } });
  if (!row) throw missing();
  return stored(row);
}

/**
 * A new project.
 *
 * @param earlier number of versions that a project file brought along and that `addVersions` will
 *   put before it
 * @param head what the project file tells of the version that the document belongs to, if it does
 */
export async function createProject(
  document: Design,
  earlier = 0,
  head: VersionHead | null = null,
  isDemo = false,
): Promise<StoredProject> {
  await requireMeasurements([document]);
  const figures = head ? null : await figuresAtFirst(document);
  const revision = earlier + 1;
  return database().transaction(async (transaction) => {
    const measurementIds = [...new Set(idsOf(document))];
    const row = await models().projects.create(
      { name: document.name, document, revision, measurementIds, isDemo },
      { transaction },
    );
    if (head) await importVersions(transaction, row.id, revision, [{ head, document }], null);
    else
      await recordState(transaction, {
        projectId: row.id,
        revision,
        before: null,
        after: document,
        note: { label: 'begun', figures, begins: null },
        first: { number: revision, reason: earlier > 0 ? 'import' : 'begin' },
      });
    return stored(row);
  });
}

/** What the list of projects shows of one that no browser has seen yet. */
async function figuresAtFirst(document: Design): Promise<Figures | null> {
  if (document.ways.length === 0) return null;
  const prediction = predict(document, await measurementsOf(document));
  return prediction.sum && figuresOf(prediction, judgedPromisesOf(document, prediction));
}

/** The demo that was changed last; null when there is none. */
export async function findDemo(): Promise<StoredProject | null> {
  const row = await models().projects.findOne({
    where: { isDemo: true },
    order: [['updatedAt', 'DESC']],
  });
  return row && stored(row);
}

/**
 * Puts versions that a project file brought along before the state that a project began with, in
 * pieces, from the first on.
 *
 * @param from number of the first of them, from 1
 * @throws ProblemError `project_missing`, `log_full` when there is no room for them, and those of
 *   reading a log
 */
export async function addVersions(
  id: string,
  from: number,
  log: readonly ExportedVersion[],
): Promise<void> {
  const versions = [...expandedLog(log, 'log')];
  const documents = versions.map(({ document }) => document);
  await requireMeasurements(documents);
  await database().transaction(async (transaction) => {
    const row = await models().projects.findOne({
      where: { id },
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    if (!row) throw missing();
    const taken = await models().states.count({
      where: { projectId: id, revision: { [Op.between]: [from, from + log.length - 1] } },
      transaction,
    });
    if (taken > 0 || from + log.length > row.revision)
      throw problem(
        'log_full',
        row.name,
        'There is no room for these versions in the log.',
        'They are there already, or the project was not begun for them.',
        'Import the project file again.',
      );
    const before = from === 1 ? null : (await findState(id, from - 1)).document;
    await importVersions(transaction, id, from, versions, before);
    const measurementIds = [...new Set([...row.measurementIds, ...documents.flatMap(idsOf)])];
    await row.update({ measurementIds }, { transaction, silent: true });
  });
}

const idsOf = (document: Design) => document.measurements.flatMap(numberIds);

/** A copy beside the original, under a name that says so. Measurements are shared. */
export async function duplicateProject(id: string): Promise<StoredProject> {
  const { document } = await findProject(id);
  return createProject({ ...document, name: `${cutText(document.name, 70)} (copy)` });
}

/**
 * Saves a document if it was made from the newest revision, or from a save of the same chain whose
 * answer was lost, and keeps the state in the log. A save that is here already changes nothing, nor
 * does the same document from a later visit, which would be in the way of what that visit saves
 * next; one that a later one of its chain overtook is not wanted any more, and if anybody still
 * waits for its answer, it is told what is in its way.
 *
 * @returns the newest state, or the state that is in the way
 * @throws ProblemError `project_missing`, `measurement_missing`
 */
export async function saveProject(
  id: string,
  baseRevision: number,
  document: Design,
  note: SaveNote = { label: '', figures: null, begins: null },
  ticket: SaveTicket | null = null,
): Promise<StoredProject | SaveConflict> {
  await requireMeasurements([document]);
  // All or nothing, and one save at a time for each project: of two at the same moment exactly one
  // finds its revision.
  return database().transaction(async (transaction) => {
    const row = await models().projects.findOne({
      where: { id },
      transaction,
      lock: transaction.LOCK.UPDATE,
      // A plain object: comparing the document field by field would cost more than the rest of a
      // save.
      raw: true,
    });
    if (!row) throw missing();
    const isOwn = ticket !== null && row.saveChain === ticket.chain;
    if (isOwn && ticket.number === row.saveNumber) return stored(row);
    const isOvertaken = isOwn && ticket.number < row.saveNumber!;
    if (isOvertaken || (row.revision !== baseRevision && !isOwn)) return { conflict: stored(row) };
    const before = row.document;
    const source = { saveChain: ticket?.chain ?? null, saveNumber: ticket?.number ?? null };
    if (isOwn && note.begins === null && isSameDesign(before, document)) {
      await models().projects.update(source, { where: { id }, transaction, silent: true });
      return stored({ ...row, ...source });
    }
    const revision = row.revision + 1;
    const measurementIds = [...new Set([...row.measurementIds, ...idsOf(document)])];
    await models().projects.update(
      { name: document.name, document, revision, measurementIds, ...source },
      { where: { id }, transaction },
    );
    await recordState(transaction, { projectId: id, revision, before, after: document, note });
    return stored({ ...row, document, revision, ...source });
  });
}

/** Pins a state as the one that others are compared with, or takes the pin away. */
export async function pinState(id: string, revision: number | null): Promise<void> {
  if (revision !== null) await findState(id, revision);
  const [count] = await models().projects.update(
    { pinnedRevision: revision },
    { where: { id }, silent: true },
  );
  if (count === 0) throw missing();
}

/** @throws ProblemError `project_missing` */
export async function deleteProject(id: string): Promise<void> {
  await database().transaction(async (transaction) => {
    const count = await models().projects.destroy({ where: { id }, transaction });
    if (count === 0) throw missing();
    await endSearches(id, transaction);
  });
}

/** Takes a deletion back. */
export async function restoreProject(id: string): Promise<void> {
  await restoreRow(models().projects, id, missing);
}

/**
 * Removes what was deleted more than thirty days ago, and measurements that nothing names any more.
 */
export async function purgeDeleted(now: Date): Promise<void> {
  const month = 30 * 24 * 3600 * 1000;
  const before = new Date(now.getTime() - month);
  const longAgo = { where: { deletedAt: { [Op.lt]: before } }, force: true };
  await models().projects.destroy(longAgo);
  await models().libraryDrivers.destroy(longAgo);
  await database().query(
    `DELETE FROM measurements m WHERE created_at < :before AND NOT EXISTS (
       SELECT 1 FROM projects p WHERE p.measurement_ids @> ARRAY[m.id]) AND NOT EXISTS (
       SELECT 1 FROM library_drivers l WHERE l.measurement_ids @> ARRAY[m.id])`,
    { replacements: { before } },
  );
}

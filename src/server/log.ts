import jsonPatch from 'fast-json-patch';
import { Op, type Transaction } from 'sequelize';
import type {
  Annotation,
  Figures,
  SavedState,
  SavedStep,
  SaveNote,
  VersionReason,
  VersionSummary,
} from '@/core/log/log';
import type { ExpandedVersion, ExportedVersion } from '@/core/log/exportedLog';
import type { SaveTicket } from '@/core/log/project';
import { upToDate } from '@/core/document/readDesign';
import type { Design } from '@/core/document/schema';
import { problem } from '@/core/problem';
import { database } from './database';
import { models, type StateRow, type VersionRow } from './models';

/**
 * Every saved state of every project. A state is kept as a patch (RFC 6902) to the one before;
 * every so often it is kept whole, so that any state is found by applying a bounded number of
 * patches.
 */

/** At most this many patches are applied to find a state. */
const patchesBetweenWholes = 64;
/** A version ends when nothing was saved for so long. */
const pauseMs = 10 * 60_000;
/** Labels kept for each version. */
const mostLabels = 40;

interface Recorded {
  readonly projectId: string;
  readonly revision: number;
  /** The state of the revision before; null for the first. */
  readonly before: Design | null;
  readonly after: Design;
  readonly note: SaveNote;
  /**
   * The version that the first state begins, when it is not the first: those of a project file go
   * before it.
   */
  readonly first?: { readonly number: number; readonly reason: VersionReason };
}

/** Adds a state to the log, and to the version that it belongs to. */
export async function recordState(
  transaction: Transaction,
  { projectId, revision, before, after, note, first = { number: 1, reason: 'begin' } }: Recorded,
  now = new Date(),
): Promise<void> {
  const current = await models().versions.findOne({
    where: { projectId },
    order: [['number', 'DESC']],
    transaction,
  });
  const reason = current ? reasonToBegin(current, after, note, now) : first.reason;
  const number = reason === null ? current!.number : current ? current.number + 1 : first.number;
  const isWhole = before === null || revision % patchesBetweenWholes === 0;
  await models().states.create(
    {
      projectId,
      revision,
      version: number,
      savedAt: now,
      label: note.label,
      patch: isWhole ? null : jsonPatch.compare(before, after),
      document: isWhole ? after : null,
    },
    { transaction },
  );
  const figures = note.figures ?? null;
  if (reason === null) {
    const labels = withLabel(current!.labels, note.label);
    await current!.update(
      { lastRevision: revision, endedAt: now, labels, figures },
      { transaction },
    );
    return;
  }
  await models().versions.create(
    {
      projectId,
      number,
      variant: after.variant,
      reason,
      firstRevision: revision,
      lastRevision: revision,
      startedAt: now,
      endedAt: now,
      labels: withLabel([], note.label),
      figures,
    },
    { transaction },
  );
}

/** Why a state begins a version of its own; null when it goes on with the current one. */
function reasonToBegin(
  current: VersionRow,
  after: Design,
  note: SaveNote,
  now: Date,
): VersionReason | null {
  if (current.variant !== after.variant) return 'variant';
  if (note.begins) return note.begins;
  // A version that was given a name is finished.
  if (current.name !== null) return 'named';
  return now.getTime() - current.endedAt.getTime() > pauseMs ? 'pause' : null;
}

const withLabel = (labels: readonly string[], label: string): string[] =>
  label === '' || labels.includes(label) || labels.length >= mostLabels
    ? [...labels]
    : [...labels, label];

const noState = (revision: number) =>
  problem(
    'state_not_found',
    `revision ${revision}`,
    'The log has no such state.',
    '',
    'Choose one from the log.',
    'missing',
  );

/** Applies a state to the one before it. */
function next(before: Design | null, { document, patch, revision }: StateRow): Design {
  if (document) return document;
  if (!before || !patch) throw noState(revision);
  return jsonPatch.applyPatch(before, patch, false, false).newDocument;
}

/** A project's document as it was saved at a revision. @throws ProblemError `state_not_found` */
export async function findState(projectId: string, revision: number): Promise<SavedState> {
  const whole = await models().states.findOne({
    where: { projectId, revision: { [Op.lte]: revision }, document: { [Op.not]: null } },
    order: [['revision', 'DESC']],
  });
  if (!whole) throw noState(revision);
  const states = await models().states.findAll({
    where: { projectId, revision: { [Op.gt]: whole.revision, [Op.lte]: revision } },
    order: [['revision', 'ASC']],
  });
  if ((states.at(-1) ?? whole).revision !== revision) throw noState(revision);
  const document = states.reduce<Design>(next, next(null, whole));
  return { revision, document: upToDate(document, `revision ${revision}`) };
}

/** What a version tells, in the log and in a project file. */
const told = (row: VersionRow) => ({
  number: row.number,
  variant: row.variant,
  reason: row.reason,
  name: row.name,
  startedAt: row.startedAt.toISOString(),
  endedAt: row.endedAt.toISOString(),
  labels: [...row.labels],
  note: row.note,
  impressions: row.impressions,
  figures: row.figures,
});

const summary = (row: VersionRow): VersionSummary => ({
  ...told(row),
  annotationRevision: row.annotationRevision,
  firstRevision: row.firstRevision,
  lastRevision: row.lastRevision,
});

/** All versions of a project, the newest first. */
export async function listVersions(projectId: string): Promise<VersionSummary[]> {
  const rows = await models().versions.findAll({
    where: { projectId },
    order: [['number', 'DESC']],
    // Plain objects: a log is read after every save, and needs nothing else of them.
    raw: true,
  });
  return rows.map(summary);
}

/** The saved states of one version, the newest first. */
export async function listSteps(projectId: string, version: number): Promise<SavedStep[]> {
  const rows = await models().states.findAll({
    where: { projectId, version },
    attributes: ['revision', 'savedAt', 'label'],
    order: [['revision', 'DESC']],
    limit: 500,
  });
  return rows.map(({ revision, savedAt, label }) => ({
    revision,
    savedAt: savedAt.toISOString(),
    label,
  }));
}

const noVersion = (number: number) =>
  problem(
    'version_not_found',
    `version ${number}`,
    'The log has no such version.',
    '',
    'Choose one from the log.',
    'missing',
  );

/** What was written was made from an annotation that is no longer the newest. */
interface AnnotationConflict {
  readonly conflict: VersionSummary;
}

/**
 * Names a version, or writes its note and impressions, if that was made from the newest state of
 * these or from a change of the same chain. A change that is here already, or that a later one of
 * its chain overtook, changes nothing.
 *
 * @param baseRevision `annotationRevision` that the change was made from
 * @returns the newest state, or the state that is in the way
 * @throws ProblemError `version_not_found`
 */
export async function annotateVersion(
  projectId: string,
  number: number,
  annotation: Annotation,
  baseRevision: number,
  ticket: SaveTicket | null = null,
): Promise<VersionSummary | AnnotationConflict> {
  const { name, note, impressions } = annotation;
  const set = {
    ...(name === undefined ? {} : { name }),
    ...(note === undefined ? {} : { note }),
    ...(impressions === undefined ? {} : { impressions }),
  };
  return database().transaction(async (transaction) => {
    const row = await models().versions.findOne({
      where: { projectId, number },
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    if (!row) throw noVersion(number);
    const isOwn = ticket !== null && row.annotationChain === ticket.chain;
    if (isOwn && ticket.number === row.annotationNumber) return summary(row);
    const isOvertaken = isOwn && ticket.number < row.annotationNumber!;
    if (isOvertaken || (row.annotationRevision !== baseRevision && !isOwn))
      return { conflict: summary(row) };
    await row.update(
      {
        ...set,
        annotationRevision: row.annotationRevision + 1,
        annotationChain: ticket?.chain ?? null,
        annotationNumber: ticket?.number ?? null,
      },
      { transaction },
    );
    return summary(row);
  });
}

/**
 * Gives a version that was saved without them its figures; those that it has stay.
 *
 * @param which the version, or the state that it ends with: one that goes on has other figures by then
 */
export async function setFigures(
  projectId: string,
  which: { readonly number: number } | { readonly lastRevision: number },
  figures: Figures,
): Promise<void> {
  await models().versions.update({ figures }, { where: { projectId, ...which, figures: null } });
}

/** A page of an exported log holds about so much, and not more versions. */
const pageBytes = 4 * 2 ** 20;
const pageVersions = 500;

/** A page of a log on its way out. */
interface ExportedPage {
  readonly versions: readonly ExportedVersion[];
  /** Number after which the next page begins; null at the end. */
  readonly after: number | null;
}

/**
 * The log for a project file, in pages that begin with a whole document: each version with what
 * changed in the document that it ended with, the oldest first.
 *
 * @param after number of the version that the last page ended with; 0 for the first page
 */
export async function exportVersions(projectId: string, after = 0): Promise<ExportedPage> {
  const versions = await models().versions.findAll({
    where: { projectId, number: { [Op.gt]: after } },
    order: [['number', 'ASC']],
    limit: pageVersions,
  });
  if (versions.length === 0) return { versions: [], after: null };
  const ends = new Map(versions.map((version) => [version.lastRevision, version]));
  const exported: ExportedVersion[] = [];
  let bytes = 0;
  let before: Design | null = null;
  for await (const { revision, document } of statesBetween(
    projectId,
    versions[0].lastRevision,
    versions[versions.length - 1].lastRevision,
  )) {
    const version = ends.get(revision);
    if (!version) continue;
    const [next]: ExportedVersion[] = before
      ? [
          {
            ...told(version),
            patch: jsonPatch.compare(before, document) as ExportedVersion['patch'],
          },
        ]
      : [{ ...told(version), document }];
    exported.push(next);
    before = document;
    bytes += JSON.stringify(next).length;
    if (bytes > pageBytes) break;
  }
  const last = exported.at(-1)?.number ?? null;
  const isEnd =
    last === null ||
    (await models().versions.count({ where: { projectId, number: { [Op.gt]: last } } })) === 0;
  return { versions: exported, after: isEnd ? null : last };
}

/**
 * The saved states from one revision to another, in pieces from the database: a long log is never
 * in memory at once.
 */
async function* statesBetween(
  projectId: string,
  first: number,
  last: number,
): AsyncGenerator<SavedState> {
  const whole = await models().states.findOne({
    where: { projectId, revision: { [Op.lte]: first }, document: { [Op.not]: null } },
    order: [['revision', 'DESC']],
    attributes: ['revision'],
  });
  if (!whole) throw noState(first);
  let document: Design | null = null;
  for (let from = whole.revision; from <= last; from += patchesBetweenWholes) {
    const states = await models().states.findAll({
      where: {
        projectId,
        revision: { [Op.gte]: from, [Op.lt]: Math.min(last + 1, from + patchesBetweenWholes) },
      },
      order: [['revision', 'ASC']],
    });
    for (const state of states) {
      document = next(document, state);
      if (state.revision >= first)
        yield {
          revision: state.revision,
          document: upToDate(document, `revision ${state.revision}`),
        };
    }
  }
}

/**
 * Puts versions of a project file into a new project: one state each, revision and number from
 * `from` on.
 *
 * @param before the document of the revision before `from`; null for the first
 */
export async function importVersions(
  transaction: Transaction,
  projectId: string,
  from: number,
  versions: readonly ExpandedVersion[],
  before: Design | null,
): Promise<void> {
  const documents = [before, ...versions.map(({ document }) => document)];
  await models().states.bulkCreate(
    versions.map(({ head, document }, index) => {
      const revision = from + index;
      const isWhole = documents[index] === null || revision % patchesBetweenWholes === 0;
      return {
        projectId,
        revision,
        version: revision,
        savedAt: new Date(head.endedAt),
        label: head.labels.at(-1) ?? '',
        patch: isWhole ? null : jsonPatch.compare(documents[index]!, document),
        document: isWhole ? document : null,
      };
    }),
    { transaction },
  );
  await models().versions.bulkCreate(
    versions.map(({ head }, index) => ({
      ...head,
      projectId,
      number: from + index,
      firstRevision: from + index,
      lastRevision: from + index,
      startedAt: new Date(head.startedAt),
      endedAt: new Date(head.endedAt),
    })),
    { transaction },
  );
}

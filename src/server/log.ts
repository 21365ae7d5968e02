import jsonPatch from 'fast-json-patch';
import { Op, type Transaction } from 'sequelize';
import type {
  Annotation,
  ExportedVersion,
  SavedState,
  SavedStep,
  SaveNote,
  VersionReason,
  VersionSummary,
} from '@/core/design/log';
import { readDesign } from '@/core/design/readDesign';
import type { Design } from '@/core/design/schema';
import { problem } from '@/core/problem';
import { models, type StateRow, type VersionRow } from './models';

/**
 * Every saved state of every project. A state is kept as a patch (RFC 6902) to the one before; every so often it is
 * kept whole, so that any state is found by applying a bounded number of patches.
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
}

/** Adds a state to the log, and to the version that it belongs to. */
export async function recordState(
  transaction: Transaction,
  { projectId, revision, before, after, note }: Recorded,
  now = new Date(),
): Promise<void> {
  const current = await models().versions.findOne({
    where: { projectId },
    order: [['number', 'DESC']],
    transaction,
  });
  const reason = reasonToBegin(current, after, note, now);
  const number = reason === null ? current!.number : (current?.number ?? 0) + 1;
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

export const isSameState = (a: Design, b: Design): boolean => jsonPatch.compare(a, b).length === 0;

/** Why a state begins a version of its own; null when it goes on with the current one. */
function reasonToBegin(
  current: VersionRow | null,
  after: Design,
  note: SaveNote,
  now: Date,
): VersionReason | null {
  if (!current) return 'begin';
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
  return { revision, document: readDesign(document, `revision ${revision}`) };
}

/** What a version tells, in the log and in a project file. */
const told = (row: VersionRow) => ({
  number: row.number,
  variant: row.variant,
  reason: row.reason,
  name: row.name,
  startedAt: row.startedAt.toISOString(),
  endedAt: row.endedAt.toISOString(),
  labels: row.labels,
  note: row.note,
  impressions: row.impressions,
  figures: row.figures,
});

const summary = (row: VersionRow): VersionSummary => ({
  ...told(row),
  firstRevision: row.firstRevision,
  lastRevision: row.lastRevision,
});

/** All versions of a project, the newest first. */
export async function listVersions(projectId: string): Promise<VersionSummary[]> {
  const rows = await models().versions.findAll({
    where: { projectId },
    order: [['number', 'DESC']],
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

/** Names a version, or writes its note and impressions. @throws ProblemError `version_not_found` */
export async function annotateVersion(
  projectId: string,
  number: number,
  annotation: Annotation,
): Promise<VersionSummary> {
  const { name, note, impressions, figures } = annotation;
  const set = {
    ...(name === undefined ? {} : { name }),
    ...(note === undefined ? {} : { note }),
    ...(impressions === undefined ? {} : { impressions }),
    ...(figures === undefined ? {} : { figures }),
  };
  const [count, rows] = await models().versions.update(set, {
    where: { projectId, number },
    returning: true,
  });
  if (count === 0)
    throw problem(
      'version_not_found',
      `version ${number}`,
      'The log has no such version.',
      '',
      'Choose one from the log.',
    );
  return summary(rows[0]);
}

/** The whole log for a project file: each version with the document that it ended with, the oldest first. */
export async function exportVersions(projectId: string): Promise<ExportedVersion[]> {
  const versions = await models().versions.findAll({
    where: { projectId },
    order: [['number', 'ASC']],
  });
  const ends = new Map(versions.map((version) => [version.lastRevision, version]));
  const states = await models().states.findAll({
    where: { projectId },
    order: [['revision', 'ASC']],
  });
  const exported: ExportedVersion[] = [];
  let document: Design | null = null;
  for (const state of states) {
    document = next(document, state);
    const version = ends.get(state.revision);
    if (!version) continue;
    exported.push({
      ...told(version),
      document: readDesign(document, `revision ${state.revision}`),
    });
  }
  return exported;
}

/** Puts the versions of a project file into a new project: one state each, revisions from 1. */
export async function importVersions(
  transaction: Transaction,
  projectId: string,
  log: readonly ExportedVersion[],
): Promise<void> {
  for (const [index, { document, ...version }] of log.entries()) {
    const revision = index + 1;
    const isWhole = index === 0 || revision % patchesBetweenWholes === 0;
    const endedAt = new Date(version.endedAt);
    await models().states.create(
      {
        projectId,
        revision,
        version: revision,
        savedAt: endedAt,
        label: version.labels.at(-1) ?? '',
        patch: isWhole ? null : jsonPatch.compare(log[index - 1].document, document),
        document: isWhole ? document : null,
      },
      { transaction },
    );
    await models().versions.create(
      {
        ...version,
        projectId,
        number: revision,
        firstRevision: revision,
        lastRevision: revision,
        startedAt: new Date(version.startedAt),
        endedAt,
      },
      { transaction },
    );
  }
}

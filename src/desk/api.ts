import { expandedLog, piecesOf, type ExportedVersion } from '@/core/log/exportedLog';
import type {
  Annotation,
  Figures,
  SavedState,
  SavedStep,
  SaveNote,
  VersionSummary,
} from '@/core/log/log';
import type { LibraryEntry, StoredLibraryDriver } from '@/core/editing/library';
import type { ProjectSummary, SaveTicket, StoredProject } from '@/core/log/project';
import { isSameDesign } from '@/core/document/sameDesign';
import type { Design } from '@/core/document/schema';
import type { ServerSearch } from '@/core/exploration/serverSearch';
import type { SearchLimits } from '@/core/fitting/limits';
import { mostAtOnce, type Samples } from '@/core/measurement/samples';
import { ProblemError, type Problem } from '@/core/problem';

/** The server can't be reached, or is in trouble that may pass. */
export class ServerAway extends Error {}

async function call(path: string, method: string, body?: unknown): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, {
      method,
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
  } catch {
    throw new ServerAway('The server does not answer.');
  }
  if (response.status >= 500) {
    const told = (await response.json().catch(() => null)) as { problem?: Problem } | null;
    throw new ServerAway(
      [told?.problem?.what, told?.problem?.why].filter(Boolean).join(' ') ||
        `The server is in trouble (${response.status}).`,
    );
  }
  if (response.ok || response.status === 409) return response;
  const { problem } = (await response.json()) as { problem?: Problem };
  if (problem) throw new ProblemError(problem);
  throw new ServerAway(`The server gave an answer that can’t be used (${response.status}).`);
}

const json = async <T>(response: Promise<Response>): Promise<T> =>
  (await (await response).json()) as T;

/** @param most number of them; null for all */
export const listProjects = (most: number | null) =>
  json<ProjectSummary[]>(call(`projects${most === null ? '' : `?most=${most}`}`, 'GET'));
export const fetchProject = (id: string) => json<StoredProject>(call(`projects/${id}`, 'GET'));
export const createProject = (document: Design) =>
  json<StoredProject>(call('projects', 'POST', { document }));
/** The demo that is there, or a fresh one beside it. */
export const demo = (which: 'open' | 'fresh') =>
  json<StoredProject>(call('projects', 'POST', { demo: which }));
export const duplicateProject = (id: string) =>
  json<StoredProject>(call('projects', 'POST', { duplicateOf: id }));
export const deleteProject = (id: string) => call(`projects/${id}`, 'DELETE');
export const restoreProject = (id: string) => call(`projects/${id}/restore`, 'POST');

export type SaveResult = { readonly revision: number } | { readonly conflict: StoredProject };

export const saveProject = (
  id: string,
  baseRevision: number,
  ticket: SaveTicket,
  document: Design,
  note: SaveNote,
) => json<SaveResult>(call(`projects/${id}`, 'PUT', { baseRevision, ticket, document, note }));

export const listVersions = (id: string) =>
  json<VersionSummary[]>(call(`projects/${id}/log`, 'GET'));

/** The whole log with its documents, page by page. */
export async function exportVersions(id: string): Promise<ExportedVersion[]> {
  const versions: ExportedVersion[] = [];
  for (let after: number | null = 0; after !== null;) {
    const page: { versions: ExportedVersion[]; after: number | null } = await json(
      call(`projects/${id}/log?documents&after=${after}`, 'GET'),
    );
    versions.push(...page.versions);
    after = page.after;
  }
  return versions;
}

/** A piece of a log on its way to the server; well below the limit of a request. */
const pieceBytes = 4 * 2 ** 20;

/**
 * A new project from a file, with its log. When the log can't be stored the project is taken away
 * again: half a log is worse than a message.
 */
export async function createProjectWithLog(
  document: Design,
  log: readonly ExportedVersion[],
): Promise<StoredProject> {
  if (log.length === 0) return createProject(document);
  const last = [...expandedLog(log, 'log')].pop()!;
  // The log usually ends with the very state that comes with it.
  const isInLog = isSameDesign(last.document, document);
  const before = isInLog ? log.slice(0, -1) : log;
  const project = await json<StoredProject>(
    call('projects', 'POST', {
      document,
      earlier: before.length,
      head: isInLog ? last.head : null,
    }),
  );
  try {
    let from = 1;
    for (const versions of piecesOf(before, pieceBytes)) {
      await call(`projects/${project.id}/log`, 'POST', { from, versions });
      from += versions.length;
    }
  } catch (error) {
    await deleteProject(project.id).catch(() => undefined);
    throw error;
  }
  return project;
}
export const listSteps = (id: string, version: number) =>
  json<SavedStep[]>(call(`projects/${id}/log/${version}`, 'GET'));
export const annotateVersion = (
  id: string,
  version: number,
  baseRevision: number,
  ticket: SaveTicket,
  annotation: Annotation,
) =>
  json<VersionSummary | { readonly conflict: VersionSummary }>(
    call(`projects/${id}/log/${version}`, 'PATCH', { baseRevision, ticket, annotation }),
  );
/** Figures of a state that was saved without them. */
export async function setLateFigures(
  id: string,
  revision: number,
  figures: Figures,
): Promise<void> {
  await call(`projects/${id}/log`, 'PATCH', { revision, figures });
}

export async function setFigures(id: string, version: number, figures: Figures): Promise<void> {
  await call(`projects/${id}/log/${version}`, 'PATCH', { figures });
}
export const fetchState = (id: string, revision: number) =>
  json<SavedState>(call(`projects/${id}/states/${revision}`, 'GET'));
export async function pinState(id: string, revision: number | null): Promise<void> {
  await call(`projects/${id}/pin`, 'PUT', { revision });
}

/** @param known searches that are here: their networks come again only when they have changed */
export async function listSearches(
  id: string,
  known: readonly ServerSearch[] = [],
): Promise<ServerSearch[]> {
  const versions = known.map((one) => `${one.id}:${one.networksVersion}`).join(',');
  const found = await json<ServerSearch[]>(
    call(`projects/${id}/searches?known=${versions}`, 'GET'),
  );
  return found.map((one) => ({
    ...one,
    networks: one.networks ?? known.find((other) => other.id === one.id)?.networks ?? null,
  }));
}
export const beginSearch = (id: string, document: Design, limits: SearchLimits) =>
  json<ServerSearch>(call(`projects/${id}/searches`, 'POST', { document, limits }));
export const continueSearch = (id: string, search: string) =>
  json<ServerSearch>(call(`projects/${id}/searches/${search}/continue`, 'POST'));
export const stopSearch = (id: string, search: string) =>
  json<ServerSearch>(call(`projects/${id}/searches/${search}/stop`, 'POST'));

export const listLibrary = () => json<LibraryEntry[]>(call('library', 'GET'));
export const fetchLibraryDriver = (id: string) =>
  json<StoredLibraryDriver>(call(`library/${id}`, 'GET'));
export const addLibraryDriver = (document: Design) =>
  json<StoredLibraryDriver>(call('library', 'POST', { document }));
export const saveLibraryDriver = (id: string, baseRevision: number, document: Design) =>
  json<StoredLibraryDriver>(call(`library/${id}`, 'PUT', { baseRevision, document }));
export const deleteLibraryDriver = (id: string) => call(`library/${id}`, 'DELETE');
export const restoreLibraryDriver = (id: string) => call(`library/${id}/restore`, 'POST');

interface SamplesJson {
  readonly frequencyHz: number[];
  readonly magnitude: number[];
  readonly phaseDeg: number[] | null;
}

const samplesFrom = ({ frequencyHz, magnitude, phaseDeg }: SamplesJson): Samples => ({
  frequencyHz: Float64Array.from(frequencyHz),
  magnitude: Float64Array.from(magnitude),
  phaseDeg: phaseDeg && Float64Array.from(phaseDeg),
});

/** What was asked for in the same moment is fetched together: orbits are many measurements. */
let gathered: Map<string, PromiseWithResolvers> | null = null;

interface PromiseWithResolvers {
  readonly promise: Promise<Samples>;
  readonly resolve: (samples: Samples) => void;
  readonly reject: (error: unknown) => void;
}

function withResolvers(): PromiseWithResolvers {
  let resolve: (samples: Samples) => void = () => undefined;
  let reject: (error: unknown) => void = () => undefined;
  const promise = new Promise<Samples>((yes, no) => {
    [resolve, reject] = [yes, no];
  });
  return { promise, resolve, reject };
}

export function fetchMeasurement(id: string): Promise<Samples> {
  if (!gathered) {
    const asked = (gathered = new Map<string, PromiseWithResolvers>());
    setTimeout(() => {
      gathered = null;
      const ids = [...asked.keys()];
      for (let first = 0; first < ids.length; first += mostAtOnce)
        void fetchTogether(ids.slice(first, first + mostAtOnce), asked);
    }, 0);
  }
  const waiting = gathered.get(id) ?? withResolvers();
  gathered.set(id, waiting);
  return waiting.promise;
}

async function fetchTogether(
  ids: readonly string[],
  asked: ReadonlyMap<string, PromiseWithResolvers>,
): Promise<void> {
  try {
    const found = await json<Readonly<Record<string, SamplesJson>>>(
      call(`measurements/many?ids=${ids.join(',')}`, 'GET'),
    );
    await Promise.all(
      ids.map(async (id) => {
        const waiting = asked.get(id)!;
        if (Object.hasOwn(found, id)) return waiting.resolve(samplesFrom(found[id]));
        // By itself it tells why it is missing.
        await json<SamplesJson>(call(`measurements/${id}`, 'GET')).then(
          (samples) => waiting.resolve(samplesFrom(samples)),
          waiting.reject,
        );
      }),
    );
  } catch (error) {
    for (const id of ids) asked.get(id)!.reject(error);
  }
}

export async function storeMeasurement(
  id: string,
  { frequencyHz, magnitude, phaseDeg }: Samples,
): Promise<void> {
  const body: SamplesJson = {
    frequencyHz: Array.from(frequencyHz),
    magnitude: Array.from(magnitude),
    phaseDeg: phaseDeg && Array.from(phaseDeg),
  };
  await call(`measurements/${id}`, 'PUT', body);
}

import type {
  Annotation,
  ExportedVersion,
  SavedState,
  SavedStep,
  SaveNote,
  VersionSummary,
} from '@/core/design/log';
import type { LibraryEntry, StoredLibraryDriver } from '@/core/design/library';
import type { ProjectSummary, StoredProject } from '@/core/design/project';
import type { Design } from '@/core/design/schema';
import type { ServerSearch } from '@/core/fitting/serverSearch';
import type { SearchLimits } from '@/core/fitting/limits';
import type { Samples } from '@/core/measurement/samples';
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
  if (response.status >= 500)
    throw new ServerAway(`The server is in trouble (${response.status}).`);
  if (response.ok || response.status === 409) return response;
  const { problem } = (await response.json()) as { problem?: Problem };
  if (problem) throw new ProblemError(problem);
  throw new ServerAway(`The server gave an answer that can’t be used (${response.status}).`);
}

const json = async <T>(response: Promise<Response>): Promise<T> =>
  (await (await response).json()) as T;

export const listProjects = () => json<ProjectSummary[]>(call('projects', 'GET'));
export const fetchProject = (id: string) => json<StoredProject>(call(`projects/${id}`, 'GET'));
export const createProject = (document: Design, log?: readonly ExportedVersion[]) =>
  json<StoredProject>(call('projects', 'POST', { document, log }));
export const createDemo = () => json<StoredProject>(call('projects', 'POST', { demo: true }));
export const duplicateProject = (id: string) =>
  json<StoredProject>(call('projects', 'POST', { duplicateOf: id }));
export const deleteProject = (id: string) => call(`projects/${id}`, 'DELETE');
export const restoreProject = (id: string) => call(`projects/${id}/restore`, 'POST');

export type SaveResult = { readonly revision: number } | { readonly conflict: StoredProject };

export const saveProject = (id: string, baseRevision: number, document: Design, note: SaveNote) =>
  json<SaveResult>(call(`projects/${id}`, 'PUT', { baseRevision, document, note }));

export const listVersions = (id: string) =>
  json<VersionSummary[]>(call(`projects/${id}/log`, 'GET'));
export const exportVersions = (id: string) =>
  json<ExportedVersion[]>(call(`projects/${id}/log?documents`, 'GET'));
export const listSteps = (id: string, version: number) =>
  json<SavedStep[]>(call(`projects/${id}/log/${version}`, 'GET'));
export const annotateVersion = (id: string, version: number, annotation: Annotation) =>
  json<VersionSummary>(call(`projects/${id}/log/${version}`, 'PATCH', annotation));
export const fetchState = (id: string, revision: number) =>
  json<SavedState>(call(`projects/${id}/states/${revision}`, 'GET'));
export async function pinState(id: string, revision: number | null): Promise<void> {
  await call(`projects/${id}/pin`, 'PUT', { revision });
}

export const listSearches = (id: string) =>
  json<ServerSearch[]>(call(`projects/${id}/searches`, 'GET'));
export const beginSearch = (id: string, document: Design, limits: SearchLimits) =>
  json<ServerSearch>(call(`projects/${id}/searches`, 'POST', { document, limits }));
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

export async function fetchMeasurement(id: string): Promise<Samples> {
  const { frequencyHz, magnitude, phaseDeg } = await json<SamplesJson>(
    call(`measurements/${id}`, 'GET'),
  );
  return {
    frequencyHz: Float64Array.from(frequencyHz),
    magnitude: Float64Array.from(magnitude),
    phaseDeg: phaseDeg && Float64Array.from(phaseDeg),
  };
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

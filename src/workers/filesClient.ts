import type * as comlink from 'comlink';
import type { Measurement } from '@/core/document/schema';
import type { Capture } from '@/core/formats/captureFiles';
import type { Imported } from '@/core/formats/importMeasurement';
import type { ProjectFile } from '@/core/formats/projectFile';
import { problem } from '@/core/problem';
import type { FilesService } from './files.worker';
import { unwrap } from './result';
import { startService, type WorkerService } from './startService';

/** Nothing larger is even read from the disk. */
const largestFileBytes = 64 * 2 ** 20;

let started: WorkerService<FilesService> | null = null;

function start(): WorkerService<FilesService> {
  const begun = startService<FilesService>(
    new Worker(new URL('./files.worker.ts', import.meta.url), { type: 'module' }),
    'The file reader',
  );
  // A new one at the next question.
  void begun.failure.then(() => {
    if (started === begun) started = null;
  });
  return begun;
}

/** Starts the worker before it is needed: later the server that holds its program may be away. */
export function warmFileReader(): void {
  started ??= start();
}

/** Asks the worker, starting it if need be. */
function ask<T>(question: (service: comlink.Remote<FilesService>) => Promise<T>): Promise<T> {
  started ??= start();
  return started.ask(question);
}

async function bytesOf(file: File): Promise<Uint8Array> {
  if (file.size > largestFileBytes)
    throw problem(
      'file_too_large',
      file.name,
      `The file has ${Math.round(file.size / 2 ** 20)} MiB.`,
      'Files up to 64 MiB are read.',
      'Export fewer points.',
    );
  return new Uint8Array(await file.arrayBuffer());
}

/**
 * Reads one measurement file; with a sweep, a WAV file is taken for a recording of it. Stopped in
 * the middle of a file, the worker is ended, and a new one is started when it is needed.
 *
 * @throws ProblemError naming file and line; DOMException `AbortError`
 */
export async function importFile(
  file: File,
  sweep: File | null,
  signal: AbortSignal,
): Promise<Imported> {
  const bytes = await bytesOf(file);
  const played = sweep && { name: sweep.name, bytes: await bytesOf(sweep) };
  signal.throwIfAborted();
  const read = ask(async (service) =>
    unwrap(await service.importFile({ name: file.name, bytes }, new Date().toISOString(), played)),
  );
  const reader = started!;
  const stopped = new Promise<never>((_, reject) => {
    signal.addEventListener('abort', () => {
      reader.end();
      if (started === reader) started = null;
      reject(signal.reason as Error);
    });
  });
  return Promise.race([read, stopped]);
}

/** The files of a capture, and the level that its response is relative to. @throws ProblemError */
export async function writeCapture(
  capture: Capture,
): Promise<{ readonly files: File[]; readonly referenceDb: number }> {
  const { files, referenceDb } = await ask(async (service) =>
    unwrap(await service.captureFiles(capture)),
  );
  return {
    files: files.map(({ name, bytes }) => new File([bytes as Uint8Array<ArrayBuffer>], name)),
    referenceDb,
  };
}

/** Points of a target curve. @throws ProblemError */
export async function readTarget(file: File): Promise<{ hz: number; db: number }[]> {
  const bytes = await bytesOf(file);
  return ask(async (service) => unwrap(await service.readTarget(bytes, file.name)));
}

/** @throws ProblemError */
export async function readProject(file: File): Promise<ProjectFile> {
  const bytes = await bytesOf(file);
  return ask(async (service) => unwrap(await service.readProject(bytes, file.name)));
}

/** Every measurement that a design or its log names. @throws ProblemError */
export async function namedMeasurements(
  project: Omit<ProjectFile, 'data'>,
): Promise<Measurement[]> {
  return ask(async (service) => unwrap(await service.namedMeasurements(project)));
}

/** @throws ProblemError */
export async function writeProject(project: ProjectFile): Promise<Blob> {
  const bytes = await ask(async (service) => unwrap(await service.writeProject(project)));
  return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/zip' });
}

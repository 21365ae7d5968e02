import * as comlink from 'comlink';
import type { MeasurementData } from '@/core/design/predict';
import type { Design, Measurement } from '@/core/design/schema';
import type { Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import type { FilesService } from './files.worker';
import { unwrap } from './result';

/** Nothing larger is even read from the disk. */
const largestFileBytes = 64 * 2 ** 20;

let started: comlink.Remote<FilesService> | null = null;

/** The worker that reads and writes files, started at first use. */
function service(): comlink.Remote<FilesService> {
  started ??= comlink.wrap<FilesService>(
    new Worker(new URL('./files.worker.ts', import.meta.url), { type: 'module' }),
  );
  return started;
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

/** @throws ProblemError naming file and line */
export async function importTable(
  file: File,
): Promise<{ measurement: Measurement; samples: Samples }> {
  const bytes = await bytesOf(file);
  return unwrap(await service().importTable(bytes, file.name, new Date().toISOString()));
}

/** @throws ProblemError */
export async function readProject(
  file: File,
): Promise<{ design: Design; data: Map<string, Samples> }> {
  return unwrap(await service().readProject(await bytesOf(file), file.name));
}

/** @throws ProblemError */
export async function writeProject(design: Design, data: MeasurementData): Promise<Blob> {
  const bytes = unwrap(await service().writeProject(design, data));
  return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/zip' });
}

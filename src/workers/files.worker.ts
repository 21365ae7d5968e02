import * as comlink from 'comlink';
import { importedMeasurement, type FileBytes } from '@/core/formats/importMeasurement';
import { readProjectFile, writeProjectFile, type ProjectFile } from '@/core/formats/projectFile';
import { readTarget } from '@/core/formats/readTarget';
import { attempt } from './result';

const service = {
  importFile: (file: FileBytes, importedAt: string, sweep: FileBytes | null) =>
    attempt(() => importedMeasurement(file, importedAt, sweep)),
  readTarget: (bytes: Uint8Array, fileName: string) => attempt(() => readTarget(bytes, fileName)),
  readProject: (bytes: Uint8Array, fileName: string) =>
    attempt(() => readProjectFile(bytes, fileName)),
  writeProject: (project: ProjectFile) => attempt(() => writeProjectFile(project)),
};

export type FilesService = typeof service;
comlink.expose(service);

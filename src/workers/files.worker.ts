import * as comlink from 'comlink';
import { importedMeasurement, type FileBytes } from '@/core/formats/importMeasurement';
import { captureFiles, type Capture } from '@/core/formats/captureFiles';
import {
  namedMeasurements,
  readProjectFile,
  writeProjectFile,
  type ProjectFile,
} from '@/core/formats/projectFile';
import { readTarget } from '@/core/formats/readTarget';
import { attempt } from './result';

const service = {
  importFile: (file: FileBytes, importedAt: string, sweep: FileBytes | null) =>
    attempt(() => importedMeasurement(file, importedAt, sweep)),
  captureFiles: (capture: Capture) => attempt(() => captureFiles(capture)),
  readTarget: (bytes: Uint8Array, fileName: string) => attempt(() => readTarget(bytes, fileName)),
  readProject: (bytes: Uint8Array, fileName: string) =>
    attempt(() => readProjectFile(bytes, fileName)),
  namedMeasurements: (project: Omit<ProjectFile, 'data'>) =>
    attempt(() => namedMeasurements(project)),
  writeProject: (project: ProjectFile) => attempt(() => writeProjectFile(project)),
};

export type FilesService = typeof service;
comlink.expose(service);

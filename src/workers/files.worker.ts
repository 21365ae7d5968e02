import * as comlink from 'comlink';
import { importedMeasurement } from '@/core/formats/importMeasurement';
import { readProjectFile, writeProjectFile } from '@/core/formats/projectFile';
import type { MeasurementData } from '@/core/design/predict';
import type { Design } from '@/core/design/schema';
import { attempt } from './result';

const service = {
  importTable: (bytes: Uint8Array, fileName: string, importedAt: string) =>
    attempt(() => importedMeasurement(bytes, fileName, importedAt)),
  readProject: (bytes: Uint8Array, fileName: string) =>
    attempt(() => readProjectFile(bytes, fileName)),
  writeProject: (design: Design, data: MeasurementData) =>
    attempt(() => writeProjectFile(design, data)),
};

export type FilesService = typeof service;
comlink.expose(service);

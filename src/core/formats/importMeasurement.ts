import type { Measurement } from '@/core/design/schema';
import { fileFingerprint, samplesId, type Samples } from '@/core/measurement/samples';
import { readMeasurement } from './readMeasurement';
import { shorten } from './tableLines';

/**
 * Reads a file into a measurement for the design document and its numbers.
 * The microphone is taken to stand on the design axis at 1 m with common timing until the user says otherwise.
 *
 * @param bytes the file
 * @param fileName its name, for the origin and for messages
 * @param importedAt ISO 8601 time
 * @throws ProblemError naming file and line
 */
export function importedMeasurement(
  bytes: Uint8Array,
  fileName: string,
  importedAt: string,
): { measurement: Measurement; samples: Samples } {
  const reading = readMeasurement(bytes, fileName);
  const measurement: Measurement = {
    id: samplesId(reading.samples),
    name:
      fileName
        .replace(/^.*[\\/]/, '')
        .replace(/\.[^.]{1,5}$/, '')
        .trim()
        .slice(0, 80) || 'measurement',
    kind: reading.kind,
    origin: {
      fileName: fileName.replace(/^.*[\\/]/, '').slice(0, 255),
      fileSha256: fileFingerprint(bytes),
      importedAt,
      rowCount: reading.samples.frequencyHz.length,
      readAs: reading.readAs,
      kindReason: reading.kindReason,
      header: reading.header.slice(0, 8).map(shorten),
      warnings: reading.warnings.slice(0, 20).map((warning) => warning.slice(0, 400)),
    },
    microphone: { placement: 'design-axis', distanceMm: 1000, commonTiming: true },
    driveVolts: 2.83,
  };
  return { measurement, samples: reading.samples };
}

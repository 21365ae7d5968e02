import { strToU8 } from 'fflate';
import type { Measurement } from '@/core/document/schema';
import { fileFingerprint, type MeasurementData } from '@/core/measurement/samples';
import { firstStep } from '@/core/measurement/steps/kinds';
import { cutText } from '@/core/text';
import { importedMeasurement, type FileBytes } from './importMeasurement';

const nothing = { others: [], sdCm2: null, widthMm: null };

/**
 * A table that was made rather than measured, as a measurement that says so. A response counts as one
 * in a wall, one metre away, as data sheets have it, and gets its minimum phase where it
 * has none.
 *
 * @param table text as `tracedTable` and `sheetCurves` write it
 * @param source picture that it was traced from; null for one that was computed
 * @param readAs how it came about, one sentence
 */
export function madeMeasurement(
  table: string,
  name: string,
  source: FileBytes | null,
  readAs: string,
  madeAt: string,
): { readonly measurement: Measurement; readonly numbers: MeasurementData } {
  const bytes = strToU8(table);
  const { measurement, numbers } = importedMeasurement({ name: `${name}.txt`, bytes }, madeAt);
  const { origin, kind, id } = measurement;
  const samples = numbers.get(id)!;
  const isResponse = kind === 'response';
  return {
    numbers,
    measurement: {
      ...measurement,
      name: cutText(name, 80),
      angle: null,
      origin: {
        ...origin,
        ...(source && {
          fileName: cutText(source.name, 255),
          fileSha256: fileFingerprint(source.bytes),
        }),
        readAs: cutText(readAs, 200),
        warnings: [],
      },
      inBox: { kind: 'free' },
      ...(isResponse && {
        microphone: { placement: 'own-axis', distanceMm: 1000, commonTiming: false },
        measuredOn: { kind: 'wall' },
        recipe: samples.phaseDeg
          ? []
          : [
              firstStep('tails', samples, nothing),
              { kind: 'phase', isOn: true, keepsDelay: false },
            ],
      }),
    },
  };
}

import { readMeasurement } from '@/core/formats/readMeasurement';
import type { MeasurementKind, Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { readInput } from './files';

const wanted = {
  response: 'Give a response table: frequency, dB, degrees.',
  impedance: 'Give an impedance table: frequency, ohm, degrees.',
} as const;

/**
 * A file that must hold a given kind of measurement; one whose header says that it is the other
 * kind is refused.
 */
function readKind(file: string, wantedKind: MeasurementKind): Samples {
  const { samples, kind, kindReason } = readMeasurement(readInput(file), file);
  if (kind !== wantedKind && kindReason.startsWith('the header'))
    throw problem(
      `not_a_${wantedKind}`,
      file,
      `This is ${kind === 'response' ? 'a response' : 'an impedance'} table.`,
      `${kindReason[0].toUpperCase()}${kindReason.slice(1)}.`,
      wanted[wantedKind],
    );
  return samples;
}

export const readResponse = (file: string): Samples => readKind(file, 'response');
export const readImpedance = (file: string): Samples => readKind(file, 'impedance');

import { readTable } from '@/core/formats/readTable';
import type { Samples } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { readInput } from './files';

/** A response table; one whose header says that it is an impedance is refused. */
export function readResponse(file: string): Samples {
  const { samples, kind, kindReason } = readTable(readInput(file), file);
  if (kind === 'impedance' && kindReason.startsWith('the header'))
    throw problem(
      'not_a_response',
      file,
      'This is an impedance table.',
      `${kindReason[0].toUpperCase()}${kindReason.slice(1)}.`,
      'Give a response table: frequency, dB, degrees.',
    );
  return samples;
}

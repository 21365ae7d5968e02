import { logGrid } from '@/core/grid/logGrid';
import { problem } from '@/core/problem';
import { numberOption } from '../command';
import { readInput } from './files';

export const frequencyOptions = {
  freqs: { type: 'string' },
  from: { type: 'string', default: '10' },
  to: { type: 'string', default: '40000' },
  'per-octave': { type: 'string', default: '24' },
} as const;

export const frequencyHelp = `  --freqs FILE        frequencies from the first column of a CSV or text file
  --from HZ --to HZ --per-octave N
                      logarithmic frequencies (10, 40000, 24)`;

interface FrequencyValues {
  readonly freqs?: string | undefined;
  readonly from: string;
  readonly to: string;
  readonly 'per-octave': string;
}

/** The frequencies asked for, in Hz and in the order given. */
export function readFrequencies(command: string, values: FrequencyValues): Float64Array {
  if (values.freqs !== undefined) return firstColumn(values.freqs);
  const option = (name: 'from' | 'to' | 'per-octave') => numberOption(command, name, values[name]);
  return logGrid(option('from'), option('to'), option('per-octave'));
}

/** Numbers at the start of each line; lines before the first that begin with none are a header. */
function firstColumn(path: string): Float64Array {
  const frequencies: number[] = [];
  const lines = new TextDecoder().decode(readInput(path)).split(/\r\n|\n|\r/);
  lines.forEach((line, index) => {
    const field = line
      .trim()
      .split(/[\s,;]+/)[0]
      .replace(/^"|"$/g, '');
    if (field === '' || /^[*#;"/]/.test(field)) return;
    const value = Number(field);
    if (Number.isNaN(value)) {
      if (frequencies.length === 0) return;
      throw problem(
        'not_a_number',
        `${path}:${index + 1}`,
        `“${field}” is not a frequency.`,
        'The first column should hold one in each line.',
        'Correct the line or remove it.',
      );
    }
    if (!(value > 0))
      throw problem(
        'frequency_not_positive',
        `${path}:${index + 1}`,
        `${field} Hz can’t be used.`,
        'Frequencies are above 0.',
        'Remove the line.',
      );
    frequencies.push(value);
  });
  if (frequencies.length === 0)
    throw problem(
      'no_table',
      path,
      'There are no frequencies in this file.',
      '',
      'Give a file whose first column holds frequencies in Hz.',
    );
  return Float64Array.from(frequencies);
}

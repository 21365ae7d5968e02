import { readTable } from '@/core/formats/readTable';
import { writeCsv, writeTable } from '@/core/formats/writeTable';
import { basename } from 'node:path';
import { readArguments, type Command } from './command';
import { readInput, writeOutput } from './files';

export const convert: Command = {
  help: `fair convert IN OUT

Reads a response or impedance table in any of the spellings that measuring programs
use, and writes it as a clean table: comma-separated if OUT ends in .csv, else
tab-separated text. What was done to the rows is told on standard error.

Example:
  fair convert "demo/reading-room/woofer response.txt" /tmp/woofer.csv`,
  run(args) {
    const { positionals } = readArguments('convert', args, {}, 2);
    const [input, output] = positionals;
    const { samples, kind, kindReason, warnings } = readTable(readInput(input), input);
    const { frequencyHz, magnitude, phaseDeg } = samples;
    const content = output.toLowerCase().endsWith('.csv')
      ? writeCsv([
          ['freq_hz', frequencyHz],
          [kind === 'response' ? 'mag_db' : 'impedance_ohm', magnitude],
          ...(phaseDeg ? [['phase_deg', phaseDeg] as const] : []),
        ])
      : writeTable(samples, kind, `converted from ${basename(input)}`);
    writeOutput(output, content);
    process.stderr.write(
      [
        `${input}: taken for ${kind === 'response' ? 'a response' : 'an impedance'}: ${kindReason}.`,
        ...warnings.map((warning) => `${input}: ${warning}`),
      ].join('\n') + '\n',
    );
  },
};

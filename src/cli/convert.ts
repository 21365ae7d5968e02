import { basename } from 'node:path';
import { readMeasurement } from '@/core/formats/readMeasurement';
import { writeMeasurement, type MeasurementForm } from '@/core/formats/writeMeasurement';
import { readArguments, type Command } from './command';
import { readInput, writeOutput } from './input/files';

export const convert: Command = {
  help: `fair convert IN OUT

Reads a response or impedance and writes it in another form. Read: text tables in any of
the spellings that measuring programs use, impulse responses as WAV (first channel),
Touchstone one-ports (.s1p). Written, by the ending of OUT:
  .csv    comma-separated, full precision
  .wav    impulse response at 48 kHz, 32-bit floating point; responses with phase only
  .s1p    Touchstone one-port re 50 ohms; impedances only
  others  tab-separated text, full precision
What was done to the rows is told on standard error.

Example:
  fair convert "demo/reading-room/woofer response.txt" /tmp/woofer.csv`,
  run(args) {
    const { positionals } = readArguments('convert', args, {}, 2);
    const [input, output] = positionals;
    const { samples, kind, kindReason, warnings } = readMeasurement(readInput(input), input);
    const comment = `converted from ${basename(input)}`;
    writeOutput(output, writeMeasurement(samples, kind, formOf(output), comment, input));
    process.stderr.write(
      [
        `${input}: taken for ${kind === 'response' ? 'a response' : 'an impedance'}: ${kindReason}.`,
        ...warnings.map((warning) => `${input}: ${warning}`),
      ].join('\n') + '\n',
    );
  },
};

/** Endings that ask for a form of their own; all others are text. */
const formOf = (output: string): MeasurementForm => {
  const ending = /\.(csv|wav|s1p)$/i.exec(output)?.[1].toLowerCase();
  return (ending as MeasurementForm | undefined) ?? 'txt';
};

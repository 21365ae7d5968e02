import { basename } from 'node:path';
import { readMeasurement, type MeasurementReading } from '@/core/formats/readMeasurement';
import { writeTouchstone } from '@/core/formats/touchstone';
import { writeWav } from '@/core/formats/wav';
import { writeCsv, writeTable } from '@/core/formats/writeTable';
import { impulseOfSpectrum, isEven } from '@/core/measurement/evenSpectrum';
import { evenFromLog } from '@/core/measurement/resample';
import { problem } from '@/core/problem';
import { readArguments, type Command } from './command';
import { readInput, writeOutput } from './files';

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
    const reading = readMeasurement(readInput(input), input);
    writeOutput(output, written(reading, input, output));
    const { kind, kindReason, warnings } = reading;
    process.stderr.write(
      [
        `${input}: taken for ${kind === 'response' ? 'a response' : 'an impedance'}: ${kindReason}.`,
        ...warnings.map((warning) => `${input}: ${warning}`),
      ].join('\n') + '\n',
    );
  },
};

function written(
  { samples, kind }: MeasurementReading,
  input: string,
  output: string,
): string | Uint8Array {
  const comment = `converted from ${basename(input)}`;
  const refused = (what: string, why: string) =>
    problem('not_convertible', input, what, why, 'Choose another form, e.g. .txt.');
  const ending = /\.(\w+)$/.exec(output.toLowerCase())?.[1];
  switch (ending) {
    case 's1p':
      if (kind !== 'impedance')
        throw refused('A response can’t be written as Touchstone.', 'A one-port is an impedance.');
      return writeTouchstone(samples, comment);
    case 'wav': {
      if (kind !== 'response' || !samples.phaseDeg)
        throw refused('This can’t be written as an impulse.', 'It takes a response with phase.');
      const { samples: values, sampleRateHz } = impulseOfSpectrum(
        isEven(samples) ? samples : evenFromLog(samples),
      );
      return writeWav({ sampleRateHz: Math.round(sampleRateHz), channels: [values] });
    }
    case 'csv': {
      const { frequencyHz, magnitude, phaseDeg } = samples;
      return writeCsv([
        ['freq_hz', frequencyHz],
        [kind === 'response' ? 'mag_db' : 'impedance_ohm', magnitude],
        ...(phaseDeg ? [['phase_deg', phaseDeg] as const] : []),
      ]);
    }
    default:
      return writeTable(samples, kind, comment);
  }
}

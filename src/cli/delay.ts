import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { excessDelay } from '@/core/measurement/excessDelay';
import { problem } from '@/core/problem';
import { numberOption, readArguments, type Command } from './command';
import { emit } from './input/files';
import { readResponse } from './input/tables';
import { readTails, tailHelp, tailOptions } from './input/tails';

const temperatureC = 20;

export const delay: Command = {
  help: `fair delay IN.txt --slope-below S --slope-above S [--from HZ --to HZ] [--out FILE]

Excess delay of a response with phase: the pure delay left when its minimum phase is
taken away. Writes JSON {delay_ms, path_mm, rms_deg, from_hz, to_hz}; the path is that
of sound in air of ${temperatureC} °C.

${tailHelp}
  --from HZ --to HZ   band of the fit (default: where the level is within 10 dB of its
                      highest, an octave from the ends of the data)
  --out FILE          write to FILE instead of standard output

Example:
  fair delay "demo/reading-room/tweeter response.txt" --slope-below 12 --slope-above -12`,
  run(args) {
    const { values, positionals } = readArguments(
      'delay',
      args,
      {
        ...tailOptions,
        from: { type: 'string' },
        to: { type: 'string' },
        out: { type: 'string' },
      },
      1,
    );
    const [file] = positionals;
    const tails = readTails('delay', values);
    const samples = readResponse(file);
    const found = excessDelay(samples, tails, bandOf(values, samples.frequencyHz));
    const report = {
      delay_ms: found.seconds * 1000,
      path_mm: found.seconds * 1000 * speedOfSoundMps(temperatureC),
      rms_deg: found.rmsDeg,
      from_hz: found.fromHz,
      to_hz: found.toHz,
    };
    if (found.isReversed)
      process.stderr.write(`${file}: The polarity is reversed against the minimum phase.\n`);
    emit(`${JSON.stringify(report, null, 2)}\n`, values.out);
  },
};

/** A band of which one end was given reaches to the other end of the data. */
function bandOf(
  { from, to }: { readonly from?: string; readonly to?: string },
  frequencyHz: Float64Array,
) {
  if (from === undefined && to === undefined) return undefined;
  const fromHz = from === undefined ? frequencyHz[0] : numberOption('delay', 'from', from);
  const toHz =
    to === undefined ? frequencyHz[frequencyHz.length - 1] : numberOption('delay', 'to', to);
  if (fromHz < toHz) return { fromHz, toHz };
  throw problem(
    'usage',
    'fair delay',
    `No band from ${fromHz} Hz to ${toHz} Hz.`,
    'It ends before it begins.',
    'Give --from below --to.',
  );
}

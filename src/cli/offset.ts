import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { depthOffset, type DriverAlone } from '@/core/measurement/depthOffset';
import { endSlope } from '@/core/measurement/interpolate';
import { problem } from '@/core/problem';
import { numberOption, readArguments, type Command } from './command';
import { emit } from './input/files';
import { readResponse } from './input/tables';

const temperatureC = 20;
/** How far a slope read from the outer octave may be off, dB per octave. */
const guessedSlopeDoubt = 6;

export const offset: Command = {
  help: `fair offset A.txt B.txt SUM.txt [--a-slopes L,H] [--b-slopes L,H] [--from HZ --to HZ]

How much farther from the microphone driver B is than driver A, from three measurements
with nothing moved: A alone, B alone, both in parallel. Levels of all three are used; the
phases of A and B are their minimum phases. Writes JSON {offset_mm, std_error_mm, rms_db,
ambiguous, alternatives:[{offset_mm, rms_db}]}; positive: B is farther. In air of ${temperatureC} °C.
The error holds the scatter of the sum and, where slopes are guessed, ±${guessedSlopeDoubt} dB per octave.

  --a-slopes L,H      slopes of A below and above its data, dB per octave with rising
  --b-slopes L,H      frequency, e.g. 12,-24; default: those of the outer octaves
  --from HZ --to HZ   limits of the fit; within them, where both are within 20 dB
  --out FILE          write to FILE instead of standard output

Example:
  fair offset A.txt B.txt both.txt --a-slopes 12,-24 --b-slopes 12,-12`,
  run(args) {
    const { values, positionals } = readArguments(
      'offset',
      args,
      {
        'a-slopes': { type: 'string' },
        'b-slopes': { type: 'string' },
        from: { type: 'string' },
        to: { type: 'string' },
        out: { type: 'string' },
      },
      3,
    );
    const [fileA, fileB, fileSum] = positionals;
    const band = (name: 'from' | 'to') =>
      values[name] === undefined ? undefined : numberOption('offset', name, values[name]);
    const found = depthOffset(
      driverAlone(fileA, 'a-slopes', values['a-slopes']),
      driverAlone(fileB, 'b-slopes', values['b-slopes']),
      readResponse(fileSum),
      speedOfSoundMps(temperatureC),
      { fromHz: band('from'), toHz: band('to') },
    );
    if (found.isReversed)
      process.stderr.write(
        `${fileSum}: The sum fits only with one driver reversed; the offset is stated for that.\n`,
      );
    emit(
      `${JSON.stringify(
        {
          offset_mm: found.offsetMm,
          std_error_mm: found.standardErrorMm,
          rms_db: found.rmsDb,
          ambiguous: found.isAmbiguous,
          alternatives: found.alternatives.map(({ offsetMm, rmsDb }) => ({
            offset_mm: offsetMm,
            rms_db: rmsDb,
          })),
        },
        null,
        2,
      )}\n`,
      values.out,
    );
  },
};

function driverAlone(file: string, option: string, slopes: string | undefined): DriverAlone {
  const samples = readResponse(file);
  const { frequencyHz, magnitude } = samples;
  if (slopes === undefined) {
    const guess = {
      belowDbPerOctave: endSlope(frequencyHz, magnitude, 'below'),
      aboveDbPerOctave: endSlope(frequencyHz, magnitude, 'above'),
    };
    process.stderr.write(
      `${file}: slopes outside the data guessed from its outer octaves: ${guess.belowDbPerOctave.toFixed(1)} and ${guess.aboveDbPerOctave.toFixed(1)} dB per octave.\n`,
    );
    return { samples, tails: guess, slopeDoubt: guessedSlopeDoubt };
  }
  const parts = slopes.split(',');
  if (parts.length !== 2)
    throw problem(
      'usage',
      'fair offset',
      `--${option} ${slopes} is not a pair of slopes.`,
      'One is wanted below the data and one above.',
      `Give e.g. --${option} 12,-24.`,
    );
  const [belowDbPerOctave, aboveDbPerOctave] = parts.map((part) =>
    numberOption('offset', option, part),
  );
  return { samples, tails: { belowDbPerOctave, aboveDbPerOctave } };
}

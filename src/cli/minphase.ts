import { writeCsv } from '@/core/formats/writeTable';
import { minimumPhase } from '@/core/measurement/minimumPhase';
import { readArguments, type Command } from './command';
import { emit } from './input/files';
import { readResponse } from './input/tables';
import { readTails, tailHelp, tailOptions } from './input/tails';

export const minphase: Command = {
  help: `fair minphase IN.txt --slope-below S --slope-above S [--out FILE]

Minimum phase of a response table's level (Bode 1945), unwrapped, as CSV
freq_hz,mag_db,phase_deg. Within an octave of the ends it rests on the slopes.

${tailHelp}
  --out FILE          write to FILE instead of standard output

Example:
  fair minphase "demo/reading-room/tweeter response.txt" --slope-below 12 --slope-above -12`,
  run(args) {
    const { values, positionals } = readArguments(
      'minphase',
      args,
      { ...tailOptions, out: { type: 'string' } },
      1,
    );
    const [file] = positionals;
    const tails = readTails('minphase', values);
    const { frequencyHz, magnitude } = readResponse(file);
    const phaseDeg = minimumPhase(frequencyHz, magnitude, tails).map(
      (radians) => (radians * 180) / Math.PI,
    );
    emit(
      writeCsv([
        ['freq_hz', frequencyHz],
        ['mag_db', magnitude],
        ['phase_deg', phaseDeg],
      ]),
      values.out,
    );
  },
};

import { writeCsv } from '@/core/formats/writeTable';
import { splice as spliced } from '@/core/measurement/splice';
import { positiveOption, readArguments, type Command } from './command';
import { emit } from './input/files';
import { readResponse } from './input/tables';

export const splice: Command = {
  help: `fair splice NEAR.txt FAR.txt --radius-mm A --at HZ [--step-width-mm W] [--distance-m R]

One response from a near field below and a gated far field above (Keele 1974, Struck and
Temme 1994): the near field is scaled by a/(2r), given the step of a baffle W wide when
that is stated, matched to the far field over a join of two thirds of an octave, and faded
into it. Writes CSV freq_hz,mag_db[,phase_deg]; the phase only when both have one.
The match and what it leaves are told on standard error.

  --radius-mm A       radius of the cone
  --at HZ             middle of the join
  --step-width-mm W   width of the baffle (default: no step, half space)
  --distance-m R      distance of the far-field microphone (1)
  --out FILE          write to FILE instead of standard output

Example:
  fair splice "demo/reading-room/woofer near field.txt" "demo/reading-room/woofer response.txt" --radius-mm 103 --at 250 --step-width-mm 300`,
  run(args) {
    const { values, positionals } = readArguments(
      'splice',
      args,
      {
        'radius-mm': { type: 'string' },
        at: { type: 'string' },
        'step-width-mm': { type: 'string' },
        'distance-m': { type: 'string', default: '1' },
        out: { type: 'string' },
      },
      2,
    );
    const [nearFile, farFile] = positionals;
    const option = (name: 'radius-mm' | 'at' | 'distance-m') =>
      positiveOption('splice', name, values[name]);
    const stepWidth = values['step-width-mm'];
    const { samples, matchDb, residualDb, ka } = spliced(
      [{ samples: readResponse(nearFile), radiusMm: option('radius-mm') }],
      readResponse(farFile),
      {
        atHz: option('at'),
        farDistanceMm: option('distance-m') * 1000,
        stepWidthMm:
          stepWidth === undefined ? null : positiveOption('splice', 'step-width-mm', stepWidth),
      },
    );
    process.stderr.write(
      `${nearFile}: moved by ${matchDb.toFixed(2)} dB beyond the piston’s scale; ${residualDb.toFixed(2)} dB rms are left over the join.\n`,
    );
    if (ka > 1)
      process.stderr.write(
        `${nearFile}: ka is ${ka.toFixed(2)} at the join; above 1 near field and far field differ.\n`,
      );
    emit(
      writeCsv([
        ['freq_hz', samples.frequencyHz],
        ['mag_db', samples.magnitude],
        ...(samples.phaseDeg ? [['phase_deg', samples.phaseDeg] as const] : []),
      ]),
      values.out,
    );
  },
};

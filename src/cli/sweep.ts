import { readWav } from '@/core/formats/wav';
import { writeCsv } from '@/core/formats/writeTable';
import { isWithin, readSweep, sweepShape } from '@/core/measurement/sweep';
import { problem } from '@/core/problem';
import { numberOption, positiveOption, readArguments, type Command } from './command';
import { emit, readInput } from './input/files';
import { frequencyHelp, frequencyOptions, readFrequencies } from './input/frequencies';

export const sweep: Command = {
  help: `fair sweep RECORDING.wav --reference SWEEP.wav [--gate-ms T] [--harmonics 2,3,4]

Response and harmonics from a recording of an exponential sweep (Farina 2000), first
channels. Writes CSV freq_hz,mag_db,phase_deg[,h2_db,h3_db,…]: levels in dB re the
recording's full scale over the sweep's; phase from the beginning of the sweep's file, so
that the flight time is in it; harmonics against the frequency that was played, on the
same scale (subtract mag_db for dB re the fundamental), mean power of a sixth of an octave.
Cells outside the band of the sweep are empty.

  --reference FILE    the sweep that was played
  --gate-ms T         half window after the arrival, for response and harmonics;
                      below about 1/T nothing is valid (default: half a second)
  --harmonics LIST    orders, 2 to 9
${frequencyHelp}
                      (without any of these: the band of the sweep)
  --out FILE          write to FILE instead of standard output

Example:
  fair sweep tests/references/sweep/recording.wav --reference tests/references/sweep/sweep_clean.wav --gate-ms 5 --harmonics 2,3`,
  run(args) {
    const { values, positionals } = readArguments(
      'sweep',
      args,
      {
        ...frequencyOptions,
        reference: { type: 'string' },
        'gate-ms': { type: 'string' },
        harmonics: { type: 'string' },
        out: { type: 'string' },
      },
      1,
    );
    const [file] = positionals;
    if (values.reference === undefined)
      throw problem(
        'usage',
        'fair sweep',
        '--reference is missing.',
        '',
        'Give the sweep that was played.',
      );
    const recording = readWav(readInput(file), file);
    const reference = readWav(readInput(values.reference), values.reference);
    const { sampleRateHz } = recording;
    if (reference.sampleRateHz !== sampleRateHz)
      throw problem(
        'rates_differ',
        file,
        `The recording has ${sampleRateHz} Hz, the sweep ${reference.sampleRateHz} Hz.`,
        'They can be compared sample by sample only.',
        'Convert one of them.',
      );
    const isBandGiven = args.some((arg) => /^--(?:freqs|from|to)\b/.test(arg));
    const shape = sweepShape(reference.channels[0], sampleRateHz);
    const asked = readFrequencies('sweep', values);
    const frequencyHz = isBandGiven ? asked : asked.filter((hz) => isWithin(shape, hz));
    const { response, harmonics } = readSweep(
      recording.channels[0],
      reference.channels[0],
      sampleRateHz,
      frequencyHz,
      {
        gateSeconds:
          values['gate-ms'] === undefined
            ? null
            : positiveOption('sweep', 'gate-ms', values['gate-ms']) / 1000,
        orders: ordersOf(values.harmonics),
      },
    );
    emit(
      writeCsv([
        ['freq_hz', frequencyHz],
        ['mag_db', response.magnitude],
        ['phase_deg', response.phaseDeg!],
        ...harmonics.map(({ order, levelDb }) => [`h${order}_db`, levelDb] as const),
      ]),
      values.out,
    );
  },
};

function ordersOf(list: string | undefined): number[] {
  if (list === undefined) return [];
  const orders = list.split(',').map((text) => numberOption('sweep', 'harmonics', text));
  const wrong = orders.find((order) => !Number.isInteger(order) || order < 2 || order > 9);
  if (wrong !== undefined)
    throw problem(
      'usage',
      'fair sweep',
      `There is no harmonic ${wrong}.`,
      'Orders are 2 to 9.',
      'Give e.g. --harmonics 2,3.',
    );
  return orders;
}

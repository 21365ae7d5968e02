import { writeCsv } from '@/core/formats/writeTable';
import { decodeText } from '@/core/formats/decodeText';
import { planNetwork } from '@/core/network/plan';
import { createSolver } from '@/core/network/solver';
import { parseProbe, readSpice } from '@/core/network/spice';
import { problem } from '@/core/problem';
import { readArguments, type Command } from './command';
import { emit, readInput } from './input/files';
import { frequencyHelp, frequencyOptions, readFrequencies } from './input/frequencies';

export const ac: Command = {
  help: `fair ac CIRCUIT.cir --probe 'v(a)' [--probe 'v(a,b)'] [--probe 'i(v1)'] [options]

Solves a SPICE netlist of R, L, C, K and V (AC mag [phase]) and writes
freq_hz,<probe>_re,<probe>_im,… as CSV. i(v1) is the current into the + terminal.

  --probe PROBE       what to report; may be repeated
${frequencyHelp}
  --out FILE          write to FILE instead of standard output

Example:
  fair ac tests/references/net/n03_series_crossover.cir --probe 'v(mid)' --probe 'i(v1)' --from 20 --to 20000`,
  run(args) {
    const { values, positionals } = readArguments(
      'ac',
      args,
      { ...frequencyOptions, probe: { type: 'string', multiple: true }, out: { type: 'string' } },
      1,
    );
    const [file] = positionals;
    const texts = values.probe ?? [];
    if (texts.length === 0)
      throw problem(
        'usage',
        'fair ac',
        'No --probe was given.',
        '',
        "Give one or more, e.g. --probe 'v(out)'.",
      );
    const probes = texts.map(parseProbe);
    const frequencyHz = readFrequencies('ac', values);
    const { netlist, warnings } = readSpice(decodeText(readInput(file), file).text, file);
    const solver = createSolver(planNetwork(netlist), netlist, new Map(), probes, frequencyHz);
    solver.solve(netlist);
    const columns = texts.flatMap((text, p) => {
      const name = text.replace(/\s+/g, '');
      return [
        [`${name}_re`, solver.re[p]],
        [`${name}_im`, solver.im[p]],
      ] as const;
    });
    // Only now, so that a failure has its own message alone.
    for (const warning of warnings) process.stderr.write(`${warning}\n`);
    emit(writeCsv([['freq_hz', frequencyHz], ...columns]), values.out);
  },
};

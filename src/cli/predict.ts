import { join } from 'node:path';
import { curveTables } from '@/core/formats/curveTables';
import { predict as predictDesign } from '@/core/design/predict';
import { standingsOf } from '@/core/promises/standing';
import { sentence } from '@/core/problem';
import { readArguments, type Command } from './command';
import { readDesignFile } from './designFile';
import { writeOutput } from './files';

export const predict: Command = {
  help: `fair predict DESIGN.json|PROJECT.zip [--out DIR]

Predicts the response on the design axis and the impedance of a design and writes a
JSON summary. A DESIGN.json has its measurements beside it, as measurements/<id>.txt or
under the file names that they were imported from.

  --out DIR           also write every curve as a text table into DIR

Example:
  fair predict demo/reading-room/design.json --out /tmp/reading-room`,
  run(args) {
    const { values, positionals } = readArguments('predict', args, { out: { type: 'string' } }, 1);
    const [file] = positionals;
    const { design, data } = readDesignFile(file);
    const prediction = predictDesign(design, data);
    if (values.out !== undefined)
      for (const [name, text] of curveTables(design, prediction))
        writeOutput(join(values.out, name), text);
    const { frequencyHz, ways, summary, findings } = prediction;
    const report = {
      name: design.name,
      points: frequencyHz.length,
      from_hz: frequencyHz[0],
      to_hz: frequencyHz[frequencyHz.length - 1],
      ways: ways.map(({ wayId }) => design.ways.find((way) => way.id === wayId)!.name),
      lowest_impedance: summary.lowestImpedance && {
        ohms: summary.lowestImpedance.ohms,
        at_hz: summary.lowestImpedance.atHz,
      },
      on_axis: summary.onAxis && {
        from_hz: summary.onAxis.fromHz,
        to_hz: summary.onAxis.toHz,
        mean_db: summary.onAxis.meanDb,
        highest_db: summary.onAxis.highestDb,
        highest_at_hz: summary.onAxis.highestAtHz,
        lowest_db: summary.onAxis.lowestDb,
        lowest_at_hz: summary.onAxis.lowestAtHz,
      },
      promises: standingsOf(design, prediction).map(({ promise, verdict }) => ({
        id: promise.id,
        kind: promise.kind,
        at_least: promise.atLeast,
        at_most: promise.atMost,
        value: verdict.value,
        margin: verdict.margin,
        kept: verdict.isKept,
        at_hz: verdict.atHz,
        needs: verdict.needs,
      })),
      verdicts: findings.map((finding) => ({
        code: finding.code,
        severity: finding.severity,
        text: sentence(finding),
      })),
    };
    process.stdout.write(`${JSON.stringify(report, null, 2)}\n`);
  },
};

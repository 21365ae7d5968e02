import { join } from 'node:path';
import { curveTables } from '@/core/formats/curveTables';
import { predict as predictDesign } from '@/core/prediction/predict';
import { loadsAtDrive } from '@/core/brief/asked';
import type { Prediction } from '@/core/prediction/prediction';
import { driveVoltsOf } from '@/core/document/programme';
import type { Design } from '@/core/document/schema';
import { excessOf } from '@/core/prediction/strain';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { sentence } from '@/core/problem';
import { readArguments, type Command } from './command';
import { readDesignFile } from './input/designFile';
import { writeOutput } from './input/files';

export const predict: Command = {
  help: `fair predict DESIGN.json|PROJECT.zip [--out DIR]

Predicts the response on the design axis and the impedance of a design and writes a
JSON summary: promises with their verdicts, and what each driver has to bear with the
amplifier driven as the brief says. A DESIGN.json has its measurements beside it, as
measurements/<id>.txt or under the file names that they were imported from.

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
      promises: judgedPromisesOf(design, prediction).map(({ promise, verdict }) => ({
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
      drivers: driversOf(design, prediction),
      verdicts: findings.map((finding) => ({
        code: finding.code,
        severity: finding.severity,
        text: sentence(finding),
      })),
    };
    process.stdout.write(`${JSON.stringify(report, null, 2)}\n`);
  },
};

/**
 * What each driver has to bear with the amplifier driven as the brief says; null while it does not
 * say its power.
 */
function driversOf(design: Design, prediction: Prediction) {
  const loads = loadsAtDrive(design, prediction);
  return loads?.map((load) => {
    const { power, excursion, mechanical } = excessOf(load);
    return {
      name: load.driverName,
      way: design.ways.find(({ id }) => id === load.wayId)?.name ?? null,
      source_volts: driveVoltsOf(design),
      volts: load.volts,
      watts: load.watts,
      rated_watts: load.rating?.watts ?? null,
      rated_ohms: load.rating?.ohms ?? null,
      power_over_rating: power,
      peak_excursion_mm: load.excursionMm,
      excursion_known_from_hz: load.excursionFromHz,
      excursion_needs: load.needs,
      xmax_mm: load.xmaxMm,
      excursion_over_xmax: excursion,
      excursion_over_mechanical_limit: mechanical,
    };
  });
}

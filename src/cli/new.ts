import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { z } from 'zod';
import { briefSchema, emptyBrief, emptySheet } from '@/core/document/briefSchema';
import {
  emptyDesign,
  emptyDriver,
  endAt,
  plainWay,
  type Design,
  type Driver,
  type Measurement,
} from '@/core/document/schema';
import { readDesign } from '@/core/document/readDesign';
import { railsFromNetlist } from '@/core/circuit/railsFromNetlist';
import { importedMeasurement } from '@/core/formats/importMeasurement';
import { writeProjectFile } from '@/core/formats/projectFile';
import type { Samples } from '@/core/measurement/samples';
import { readSpice } from '@/core/network/spice';
import { withDriversAsResistors } from '@/core/network/writeSpice';
import { problem } from '@/core/problem';
import { readArguments, type Command } from './command';
import { isWithin } from './input/designFile';
import { readInput, writeOutput } from './input/files';
import { readSpec, unreadableSpec } from './input/spec';

const fileName = z.string().min(1).max(255);
const positive = z.number().positive();

const driverSpec = z.strictObject({
  name: z.string().trim().min(1).max(80),
  kind: z.enum(['woofer', 'midrange', 'tweeter', 'full-range']),
  response: fileName,
  impedance: fileName,
  /** Acoustic centre from the design axis at the front of the baffle: right, up, forward. */
  at_mm: z.tuple([z.number(), z.number(), z.number()]),
  orbit: z
    .array(
      z.strictObject({
        file: fileName,
        plane: z.enum(['H', 'V']),
        angle_deg: z.number().min(-180).max(180),
      }),
    )
    .max(200)
    .default([]),
  fs_hz: positive.optional(),
  sd_cm2: positive.optional(),
  xmax_mm: positive.optional(),
  power_w: positive.optional(),
});

const spec = z.strictObject({
  name: z.string().trim().min(1).max(80),
  timing: z.enum(['common', 'none']),
  microphone_mm: positive.max(20_000).default(1000),
  drivers: z.array(driverSpec).min(1).max(40),
  brief: z.record(z.string(), z.unknown()).default({}),
  network: z
    .strictObject({
      netlist: fileName,
      drivers: z.record(z.string(), z.string()),
    })
    .optional(),
});

type Spec = z.infer<typeof spec>;

export const newProject: Command = {
  help: `fair new SPEC.json [--out PROJECT.zip]

Makes a project file from tables, without the browser. SPEC.json:
  {"name": …, "timing": "common" or "none", "microphone_mm": 1000,
   "drivers": [{"name": …, "kind": "woofer", "midrange", "tweeter" or "full-range",
     "response": "file", "impedance": "file", "at_mm": [right, up, forward],
     "orbit": [{"file": …, "plane": "H" or "V", "angle_deg": …}],
     "fs_hz": …, "sd_cm2": …, "xmax_mm": …, "power_w": …}],
   "brief": {answers as in a design},
   "network": {"netlist": "deck.cir", "drivers": {"RW": "Woofer"}}}
Files are beside SPEC.json or below it. In the deck each driver is the resistor that
"drivers" names, its first node the plus terminal; without a network each driver is straight
at the terminals. Common timing: flight times are in the data.

  --out FILE     write to FILE instead of SPEC.fair.zip beside the spec

Example:
  fair new demo/reading-room/spec.json --out /tmp/reading-room.fair.zip`,
  run(args) {
    const { values, positionals } = readArguments('new', args, { out: { type: 'string' } }, 1);
    const [path] = positionals;
    const { design, data } = designFromSpec(path);
    const out = values.out ?? path.replace(/(\.json)?$/i, '.fair.zip');
    writeOutput(out, writeProjectFile({ design, data, log: [] }));
    process.stdout.write(
      `${JSON.stringify({ project: out, name: design.name, drivers: design.drivers.length, measurements: design.measurements.length, parts: design.ways.flatMap(({ parts }) => parts).length }, null, 2)}\n`,
    );
  },
};

/**
 * A design from what a spec says and the tables beside it.
 *
 * @throws ProblemError naming the place in the spec, or the file
 */
export function designFromSpec(path: string): {
  design: Design;
  data: ReadonlyMap<string, Samples>;
} {
  const told = readSpec('new', path, spec);
  const folder = dirname(path);
  const data = new Map<string, Samples>();
  const measurements: Measurement[] = [];
  const inFolder = (name: string) => {
    const file = join(folder, name);
    if (!isWithin(folder, file) || !existsSync(file))
      throw problem(
        'spec_file_missing',
        path,
        `${name} is not beside the spec.`,
        'Files are looked for in its folder and below.',
        'Put it there, or correct the name.',
      );
    return file;
  };
  /** Takes a table in; the same numbers twice are one measurement. */
  const take = (name: string, kind: Measurement['kind'], angle: Measurement['angle'] = null) => {
    const file = inFolder(name);
    const { measurement, numbers } = importedMeasurement(
      { name, bytes: readInput(file) },
      new Date().toISOString(),
    );
    if (!measurements.some(({ id }) => id === measurement.id))
      measurements.push({
        ...measurement,
        ...{ kind, angle },
        microphone: {
          placement: 'design-axis',
          distanceMm: told.microphone_mm,
          commonTiming: told.timing === 'common',
        },
      });
    for (const [id, samples] of numbers) data.set(id, samples);
    return measurement.id;
  };
  /** Measurements off a driver's axis, each once: numbers that come again are no second angle. */
  const orbitOf = ({ name, orbit }: Spec['drivers'][number]) => {
    const first = new Map<string, string>();
    return orbit.flatMap(({ file, plane, angle_deg: degrees }) => {
      const angle = { plane: plane === 'H' ? 'horizontal' : 'vertical', degrees } as const;
      const id = take(file, 'response', angle);
      const before = first.get(id);
      if (before !== undefined) {
        process.stderr.write(
          `${path}: ${name}: ${file} at ${degrees}° ${plane} holds the numbers of ${before} and is left out; a side or plane that was not measured counts as the other one.\n`,
        );
        return [];
      }
      first.set(id, `${file} at ${degrees}° ${plane}`);
      return [id];
    });
  };
  const drivers = told.drivers.map((one, d): Driver => {
    const [xMm, yMm, zMm] = one.at_mm;
    return {
      ...emptyDriver(`driver-${d + 1}`, one.name),
      responseId: take(one.response, 'response'),
      impedanceId: take(one.impedance, 'impedance'),
      position: { xMm, yMm, zMm },
      offAxisIds: orbitOf(one),
      sheet: {
        ...emptySheet,
        fsHz: one.fs_hz ?? null,
        sdCm2: one.sd_cm2 ?? null,
        xmaxMm: one.xmax_mm ?? null,
        ratedWatts: one.power_w ?? null,
      },
    };
  });
  const brief = briefSchema.safeParse({ ...emptyBrief, ...told.brief });
  if (!brief.success)
    throw unreadableSpec(
      'new',
      path,
      ['brief', ...brief.error.issues[0].path],
      brief.error.issues[0].message,
    );
  const bare: Design = {
    ...emptyDesign(told.name),
    ...{ brief: brief.data, measurements, drivers },
    listeningDistanceMm: told.microphone_mm,
    ways: drivers.map(({ id, name }) => ({
      ...plainWay,
      ...{ id: `way-${id}`, name, parts: [], groups: [], ends: [endAt(id)] },
    })),
  };
  return { design: readDesign(withNetwork(bare, told, path, inFolder), path), data };
}

/** The design with the network of the spec's netlist, if it has one. */
function withNetwork(
  design: Design,
  { network }: Spec,
  path: string,
  inFolder: (name: string) => string,
): Design {
  if (!network) return design;
  const file = inFolder(network.netlist);
  const text = new TextDecoder().decode(readInput(file));
  const { netlist } = readSpice(withDriversAsResistors(text), file);
  const names = new Map(
    Object.entries(network.drivers).map(([element, name]) => {
      const driver = design.drivers.find((one) => one.name === name);
      if (!driver)
        throw problem(
          'spec_driver_unknown',
          path,
          `${element} is to be ${name}, but there is no such driver.`,
          `The drivers are ${design.drivers.map((one) => one.name).join(', ')}.`,
          'Correct the name.',
        );
      // Decks are read without regard to case.
      return [element.toLowerCase(), driver.id] as const;
    }),
  );
  let count = 0;
  return railsFromNetlist(netlist, names, design, () => `part-${++count}`).design;
}

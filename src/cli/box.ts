import { z } from 'zod';
import { usualAir, type BoxSystem, type Enclosure } from '@/core/box/enclosure';
import { boxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import { writeCsv } from '@/core/formats/writeTable';
import { readArguments, type Command } from './command';
import { emit } from './input/files';
import { frequencyHelp, frequencyOptions, readFrequencies } from './input/frequencies';
import { readSpec, unreadableSpec } from './input/spec';

const positive = z.number().positive();
const quality = positive.max(1e6);
const litres = positive.max(1e6);
const losses = { ql: quality.nullable().default(null), qa: quality.nullable().default(null) };
const end = z.enum(['flanged', 'free']);

const driverSchema = z.strictObject({
  fs_hz: positive.max(100_000),
  qms: quality,
  qes: quality,
  vas_l: litres,
  sd_cm2: positive.max(100_000),
  re_ohm: positive.max(10_000),
  le_mh: z.number().min(0).max(1000).default(0),
  le2_mh: positive.max(1000).optional(),
  re2_ohm: positive.max(10_000).optional(),
  xmax_mm: positive.max(1000).optional(),
});

const enclosureSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('sealed'), volume_l: litres, ...losses }),
  z.strictObject({
    type: z.literal('vented'),
    volume_l: litres,
    ...losses,
    port: z.strictObject({
      count: z.int().min(1).max(16).default(1),
      diameter_mm: positive.max(2000),
      length_mm: z.number().min(0).max(20_000),
      qp: quality.nullable().default(null),
      ends: z.tuple([end, end]).default(['flanged', 'free']),
    }),
  }),
  z.strictObject({
    type: z.literal('passive-radiator'),
    volume_l: litres,
    ...losses,
    passive: z.strictObject({
      count: z.int().min(1).max(4).default(1),
      fs_hz: positive.max(100_000),
      qms: quality,
      vas_l: litres,
      sd_cm2: positive.max(100_000),
      added_mass_g: z.number().min(0).max(100_000).default(0),
    }),
  }),
  z.strictObject({ type: z.literal('open-baffle'), path_mm: positive.max(20_000) }),
  z.strictObject({
    type: z.literal('line'),
    segments: z
      .array(
        z.strictObject({
          length_mm: positive.max(50_000),
          area_cm2: positive.max(1e6),
          flow_resistivity: z.number().min(0).max(1e6).default(0),
        }),
      )
      .min(1)
      .max(200),
    driver_at_mm: z.number().min(0).default(0),
    end: z.enum(['open', 'closed']).default('open'),
  }),
]);

export const boxSpecSchema = z.strictObject({
  driver: driverSchema,
  enclosure: enclosureSchema,
  source: z
    .strictObject({
      volts: positive.max(1000).default(2.83),
      series_ohm: z.number().min(0).max(1000).default(0),
    })
    .default({ volts: 2.83, series_ohm: 0 }),
  air: z
    .strictObject({ c: z.number().min(100).max(1000), rho: z.number().min(0.1).max(10) })
    .default({ c: usualAir.speedOfSound, rho: usualAir.density }),
});

type Spec = z.infer<typeof boxSpecSchema>;

export const box: Command = {
  help: `fair box SPEC.json [--freqs FILE] [--out FILE]

A driver in a box by its whole equivalent circuit. SPEC.json:
  {"driver": {"fs_hz": …, "qms": …, "qes": …, "vas_l": …, "sd_cm2": …, "re_ohm": …, "le_mh": …,
              "le2_mh": …, "re2_ohm": … for a semi-inductance},
   "enclosure": {"type": "sealed", "volume_l": …, "ql": …, "qa": …}
     or {"type": "vented", …, "port": {"count": 1, "diameter_mm": …, "length_mm": …, "qp": …,
         "ends": ["flanged", "free"]}}
     or {"type": "passive-radiator", …, "passive": {"fs_hz": …, "qms": …, "vas_l": …, "sd_cm2": …,
         "added_mass_g": 0, "count": 1}}
     or {"type": "open-baffle", "path_mm": …}
     or {"type": "line", "segments": [{"length_mm": …, "area_cm2": …, "flow_resistivity": 0}],
         "driver_at_mm": 0, "end": "open" or "closed"},
   "source": {"volts": 2.83, "series_ohm": 0}, "air": {"c": ${usualAir.speedOfSound}, "rho": ${usualAir.density}}}
ql, qa and qp are stated at the tuning (sealed: at fc). Writes CSV
freq_hz,spl_db,phase_deg,excursion_mm,vent_velocity_ms,z_ohm,z_deg: level at 1 m in half space with the
leak's flow in it, peaks of a sine of the given rms volts, impedance without the series resistance.

${frequencyHelp}
  --out FILE          write to FILE instead of standard output

Example:
  fair box docs/examples/box.json --from 20 --to 200 --per-octave 12`,
  run(args) {
    const { values, positionals } = readArguments(
      'box',
      args,
      { ...frequencyOptions, out: { type: 'string' } },
      1,
    );
    const [path] = positionals;
    const spec = readSpec('box', path, boxSpecSchema);
    const frequencyHz = readFrequencies('box', values);
    const { volts, series_ohm } = spec.source;
    const source = behindResistance(volts, series_ohm, frequencyHz.length);
    const curves = boxCurves(systemOf('box', path, spec), source, frequencyHz);
    emit(
      writeCsv([
        ['freq_hz', frequencyHz],
        ['spl_db', curves.levelDb],
        ['phase_deg', curves.phaseDeg],
        ['excursion_mm', curves.excursionMm],
        ['vent_velocity_ms', curves.openingSpeed],
        ['z_ohm', curves.ohms],
        ['z_deg', curves.zDeg],
      ]),
      values.out,
    );
  },
};

/** @throws ProblemError naming what does not go together */
export function systemOf(
  command: string,
  path: string,
  { driver: d, enclosure, air }: Spec,
): BoxSystem {
  if ((d.le2_mh === undefined) !== (d.re2_ohm === undefined))
    throw unreadableSpec(
      command,
      path,
      ['driver', d.le2_mh === undefined ? 'le2_mh' : 're2_ohm'],
      'A semi-inductance takes both le2_mh and re2_ohm; give the other too.',
    );
  return {
    driver: {
      ...{ fsHz: d.fs_hz, qms: d.qms, qes: d.qes, vasM3: d.vas_l / 1000, sdM2: d.sd_cm2 / 1e4 },
      ...{ reOhm: d.re_ohm, leHenry: d.le_mh / 1000 },
      second:
        d.le2_mh === undefined || d.re2_ohm === undefined
          ? null
          : { henry: d.le2_mh / 1000, ohm: d.re2_ohm },
    },
    enclosure: enclosureOf(command, path, enclosure),
    air: { density: air.rho, speedOfSound: air.c },
  };
}

function enclosureOf(command: string, path: string, spec: Spec['enclosure']): Enclosure {
  if (spec.type === 'open-baffle') return { kind: 'open-baffle', pathM: spec.path_mm / 1000 };
  if (spec.type === 'line') {
    const length = spec.segments.reduce((sum, { length_mm }) => sum + length_mm, 0);
    if (spec.driver_at_mm > length)
      throw unreadableSpec(
        command,
        path,
        ['enclosure', 'driver_at_mm'],
        `The driver is beyond the end of the pipe, which is ${length} mm long.`,
      );
    return {
      ...{ kind: 'line', end: spec.end, driverAtM: spec.driver_at_mm / 1000 },
      segments: spec.segments.map(({ length_mm, area_cm2, flow_resistivity }) => ({
        ...{ lengthM: length_mm / 1000, areaM2: area_cm2 / 1e4 },
        flowResistivity: flow_resistivity,
      })),
    };
  }
  const box = { volumeM3: spec.volume_l / 1000, ql: spec.ql, qa: spec.qa };
  if (spec.type === 'sealed') return { kind: 'sealed', ...box };
  if (spec.type === 'vented') {
    const { count, diameter_mm, length_mm, qp, ends } = spec.port;
    const port = { count, qp, ends, diameterM: diameter_mm / 1000, lengthM: length_mm / 1000 };
    return { kind: 'vented', ...box, port };
  }
  const { count, fs_hz, qms, vas_l, sd_cm2, added_mass_g } = spec.passive;
  return {
    ...{ kind: 'passive-radiator', ...box },
    passive: {
      ...{ count, qms, fsHz: fs_hz, vasM3: vas_l / 1000, sdM2: sd_cm2 / 1e4 },
      addedMassKg: added_mass_g / 1000,
    },
  };
}

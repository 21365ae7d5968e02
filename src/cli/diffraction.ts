import { z } from 'zod';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { createBaffleDiffraction } from '@/core/baffle/diffraction/baffleDiffraction';
import { createOpenBaffle } from '@/core/baffle/diffraction/openBaffle';
import { observerAt, type Plane } from '@/core/baffle/diffraction/observer';
import { rectangle, sharpEdge, type EdgeTreatment } from '@/core/baffle/shape';
import { writeRows } from '@/core/formats/writeTable';
import { levelsDb, phasesDeg } from '@/core/spectrum/level';
import { readArguments, type Command } from './command';
import { emit } from './input/files';
import { frequencyHelp, frequencyOptions, readFrequencies } from './input/frequencies';
import { readSpec, unreadableSpec } from './input/spec';

const length = z.number().positive().max(20_000);
const sides = ['bottom', 'right', 'top', 'left'] as const;
const angles = z.array(z.number().min(-180).max(180)).max(721);
const temperatureC = 20;

const specSchema = z.strictObject({
  baffle: z.strictObject({
    width_mm: length,
    height_mm: length,
    depth_mm: length,
    edge: z
      .strictObject({
        kind: z.enum(['sharp', 'round', 'chamfer']),
        size_mm: z.number().min(0).max(2000).default(0),
        which: z
          .array(z.enum(sides))
          .min(1)
          .default([...sides]),
      })
      .default({ kind: 'sharp', size_mm: 0, which: [...sides] }),
    open: z.boolean().default(false),
  }),
  source: z.strictObject({
    x_mm: z.number(),
    y_mm: z.number(),
    radius_mm: z.number().min(0).max(1000),
  }),
  observer: z.union([
    z.literal('far'),
    z.strictObject({ distance_m: z.union([z.literal('far'), z.number().positive().max(1000)]) }),
  ]),
  horizontal_deg: angles.default([]),
  vertical_deg: angles.default([]),
  air: z.strictObject({ c: z.number().min(100).max(1000) }).optional(),
});

type Spec = z.infer<typeof specSchema>;

export const diffraction: Command = {
  help: `fair diffraction SPEC.json [--freqs FILE] [--out FILE]

What a box or an open baffle makes of a piston in its front. SPEC.json:
  {"baffle": {"width_mm": …, "height_mm": …, "depth_mm": …,
     "edge": {"kind": "sharp", "round" or "chamfer", "size_mm": …,
              "which": ["left", "right", "top", "bottom"]},
     "open": true for an open baffle, "depth_mm" then the thickness of its panel},
   "source": {"x_mm": …, "y_mm": …, "radius_mm": …},
   "observer": {"distance_m": 2} or {"distance_m": "far"},
   "horizontal_deg": [0, 30], "vertical_deg": [-15, 15], "air": {"c": 343}}
x from the left edge, y from the bottom edge, seen from the front; angles turn about the
piston's centre, to the right and up. Writes CSV freq_hz,plane,angle_deg,mag_db,phase_deg,
relative to the same piston in an infinite wall on its axis, its delay taken out. Without
"air" at ${temperatureC} °C. Sharp edges within 0.2 dB on average in front, 0.8 dB at worst
behind; rounded ones within 0.7 dB in front, 2 dB behind (docs/accuracy.md).

${frequencyHelp}
  --out FILE          write to FILE instead of standard output

Example:
  fair diffraction docs/examples/diffraction.json --from 100 --to 10000 --per-octave 12`,
  run(args) {
    const { values, positionals } = readArguments(
      'diffraction',
      args,
      { ...frequencyOptions, out: { type: 'string' } },
      1,
    );
    const [path] = positionals;
    const spec = readSpec('diffraction', path, specSchema);
    const asked = readFrequencies('diffraction', values);
    emit(rowsOf(path, spec, asked), values.out);
  },
};

function rowsOf(path: string, spec: Spec, asked: Float64Array): string {
  const { baffle, source, observer } = spec;
  checkPlaces(path, spec);
  const distance = observer === 'far' ? 'far' : observer.distance_m;
  const { kind, size_mm, which } = baffle.edge;
  const treated: EdgeTreatment = { kind, sizeM: size_mm / 1000 };
  const rising = Float64Array.from(new Set(asked)).sort();
  const place = new Map([...rising].map((hz, i) => [hz, i]));
  const from = { x: source.x_mm / 1000, y: source.y_mm / 1000, radiusM: source.radius_mm / 1000 };
  const shaped = (baffle.open ? createOpenBaffle : createBaffleDiffraction)(
    {
      outline: rectangle(baffle.width_mm / 1000, baffle.height_mm / 1000),
      edges: sides.map((side) => (which.includes(side) ? treated : sharpEdge)),
      depthM: baffle.depth_mm / 1000,
    },
    from,
    rising,
    spec.air?.c ?? speedOfSoundMps(temperatureC),
  );
  const heard = (
    [
      ['H', spec.horizontal_deg],
      ['V', spec.vertical_deg],
    ] as const satisfies readonly (readonly [Plane, readonly number[]])[]
  ).flatMap(([plane, all]) =>
    all.map((angleDeg) => {
      const { re, im } = shaped.toward(observerAt(from, plane, angleDeg, distance));
      return {
        ...{ plane, angleDeg },
        levelDb: levelsDb(re, im, new Float64Array(rising.length)),
        phaseDeg: phasesDeg(re, im, new Float64Array(rising.length)),
      };
    }),
  );
  return writeRows(
    ['freq_hz', 'plane', 'angle_deg', 'mag_db', 'phase_deg'],
    [...asked].flatMap((hz) =>
      heard.map(({ plane, angleDeg, levelDb, phaseDeg }) => {
        const i = place.get(hz)!;
        return [hz, plane, angleDeg, levelDb[i], phaseDeg[i]];
      }),
    ),
  );
}

/** @throws ProblemError naming what does not go together */
function checkPlaces(path: string, { baffle, source, horizontal_deg, vertical_deg }: Spec): void {
  const bad = (place: readonly string[], what: string) =>
    unreadableSpec('diffraction', path, place, what);
  if (horizontal_deg.length + vertical_deg.length === 0)
    throw bad(['horizontal_deg'], 'There is no angle; give some, horizontal or vertical.');
  const { size_mm, which, kind } = baffle.edge;
  const taken = (side: (typeof sides)[number]) =>
    kind !== 'sharp' && which.includes(side) ? size_mm : 0;
  const least = Math.min(baffle.width_mm, baffle.height_mm, 2 * baffle.depth_mm) / 2;
  if (baffle.open && kind !== 'sharp')
    throw bad(['baffle', 'edge', 'kind'], 'The edges of an open baffle count as sharp only.');
  if (kind !== 'sharp' && size_mm >= least)
    throw bad(['baffle', 'edge', 'size_mm'], `Nothing of the box is left; at most ${least} mm.`);
  const { x_mm, y_mm, radius_mm } = source;
  const isOn =
    x_mm - radius_mm >= taken('left') &&
    x_mm + radius_mm <= baffle.width_mm - taken('right') &&
    y_mm - radius_mm >= taken('bottom') &&
    y_mm + radius_mm <= baffle.height_mm - taken('top');
  if (!isOn)
    throw bad(
      ['source'],
      'The piston does not lie within the flat of the front; move it or shrink it.',
    );
}

import { createHearing } from '@/core/prediction/hearing';
import { sumIn } from '@/core/prediction/offAxisLevels';
import { levelDbOf, phaseDegOf } from '@/core/prediction/derived';
import { writeRows } from '@/core/formats/writeTable';
import { problem } from '@/core/problem';
import { headingOf, type Direction } from '@/core/radiation/direction';
import { orbitDegrees, planes } from '@/core/around/orbits';
import { numberOption, positiveOption, readArguments, type Command } from './command';
import { readDesignFile } from './input/designFile';
import { emit } from './input/files';
import { frequencyHelp, frequencyOptions, readFrequencies } from './input/frequencies';

export const around: Command = {
  help: `fair around DESIGN.json|PROJECT.zip [--plane H|V] [--angles LIST] [--distance-m D] [--freqs FILE] [--out FILE]

The whole speaker in every direction of its orbits, from off-axis responses or, where these are
missing, from baffle and cone. Writes CSV freq_hz,plane,angle_deg,mag_db,phase_deg,source: levels at
D metres from the origin of the design's axes times D (as if at 1 m), phase without the flight time
over D; source says what the least certain driver rests on: measured, interpolated or modelled.
Angle 0 is the design axis, positive to the right and up.

  --plane H|V         one plane (both)
  --angles LIST       as 0,10,-30 (every 10° from −170 to 180)
  --distance-m D      from the origin (the listening distance of the design)
${frequencyHelp}
  --out FILE          write to FILE instead of standard output

Example:
  fair around demo/reading-room/design.json --plane H --angles 0,30,60 --per-octave 3`,
  run(args) {
    const { values, positionals } = readArguments(
      'around',
      args,
      {
        ...frequencyOptions,
        plane: { type: 'string' },
        angles: { type: 'string' },
        'distance-m': { type: 'string' },
        out: { type: 'string' },
      },
      1,
    );
    const directions = directionsOf(values.plane, values.angles);
    const distanceM =
      values['distance-m'] === undefined
        ? null
        : positiveOption('around', 'distance-m', values['distance-m']);
    const asked = readFrequencies('around', values);
    const rising = Float64Array.from(new Set(asked)).sort();
    const place = new Map([...rising].map((hz, i) => [hz, i]));
    const { design, data } = readDesignFile(positionals[0]);
    const distanceMm = distanceM === null ? design.listeningDistanceMm : 1000 * distanceM;
    checkDistance(design.drivers, distanceMm);
    const { hear, sendingOf } = createHearing(rising);
    const found = hear(design, data);
    const heard = found?.kind === 'heard' ? found.ways.flat() : [];
    if (heard.length === 0)
      throw problem(
        'nothing_heard',
        positionals[0],
        'No driver of this design has a response.',
        found?.kind === 'problem' ? found.problem.what : 'It takes a way with a measured driver.',
        'Give the ways their drivers, and the drivers response and impedance.',
      );
    const rows = sendingOf(design, heard, data).rowsAs(
      'asked',
      directions.map((direction) => ({ heading: headingOf(direction), distanceMm })),
    );
    if (!rows)
      throw problem(
        'off_axis_unknown',
        positionals[0],
        'It is not known of some driver what it does in these directions.',
        'It was not measured off its axis there, and on no baffle, or without the size of its cone.',
        'Give it off-axis responses, or its panel and Sd.',
      );
    const curves = directions.map((_, d) => {
      const sum = sumIn(rows.pressures, heard, d, rising.length);
      return { levelDb: levelDbOf(sum), phaseDeg: phaseDegOf(sum) };
    });
    emit(
      writeRows(
        ['freq_hz', 'plane', 'angle_deg', 'mag_db', 'phase_deg', 'source'],
        [...asked].flatMap((hz) =>
          directions.map(({ plane, degrees }, d) => {
            const i = place.get(hz)!;
            const { levelDb, phaseDeg } = curves[d];
            return [
              ...[hz, plane === 'horizontal' ? 'H' : 'V', degrees],
              // Nothing is heard where nothing was measured.
              ...[Number.isFinite(levelDb[i]) ? levelDb[i] : NaN, phaseDeg[i], rows.sources[d]],
            ];
          }),
        ),
      ),
      values.out,
    );
  },
};

const wrong = (what: string) =>
  problem('usage', 'fair around', what, '', 'See: fair around --help');

function directionsOf(plane: string | undefined, angles: string | undefined): Direction[] {
  if (plane !== undefined && !/^[HV]$/i.test(plane)) throw wrong(`--plane ${plane} is not H or V.`);
  const asked = planes.filter((one) => plane === undefined || one.startsWith(plane.toLowerCase()));
  const degrees =
    angles === undefined
      ? orbitDegrees(10)
      : angles.split(',').map((text) => numberOption('around', 'angles', text.trim()));
  const outside = degrees.find((one) => Math.abs(one) > 180);
  if (outside !== undefined) throw wrong(`${outside}° is outside ±180°.`);
  return asked.flatMap((one) => degrees.map((angle) => ({ plane: one, degrees: angle })));
}

/** @throws ProblemError for a place within the speaker */
function checkDistance(
  drivers: readonly {
    readonly position: { readonly xMm: number; readonly yMm: number; readonly zMm: number };
  }[],
  distanceMm: number,
): void {
  const farthest = Math.max(
    0,
    ...drivers.map(({ position: { xMm, yMm, zMm } }) => Math.hypot(xMm, yMm, zMm)),
  );
  if (distanceMm > farthest) return;
  throw problem(
    'distance_within_speaker',
    'fair around',
    `${distanceMm / 1000} m is not outside of the speaker.`,
    `Its farthest driver is ${Math.round(farthest)} mm from the origin.`,
    'Give a larger --distance-m.',
  );
}

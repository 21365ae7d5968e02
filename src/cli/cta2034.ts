import { parse } from 'node:path';
import { averagesTable } from '@/core/formats/curveTables';
import { problem } from '@/core/problem';
import { spinCurvesOf, spinDirections } from '@/core/radiation/cta2034';
import { readArguments, type Command } from './command';
import { emit, readInput } from './input/files';

export const cta2034: Command = {
  help: `fair cta2034 IN.csv [--out FILE]

The averages of ANSI/CTA-2034-A from levels on two orbits. IN.csv has the columns
freq_hz,plane,angle_deg,mag_db: plane H or V, angles −170 to 180 in steps of 10, positive to the
right and up; other angles are not used. The axis and the rear may be in either plane. A side that
is missing is taken as the mirror of the other, with a warning.

Which reading of the standard is followed: tests/references/cta2034/SOURCE.md.

  --out FILE          write to FILE instead of standard output

Example:
  fair around demo/reading-room/design.json --from 100 --per-octave 3 --out /tmp/orbits.csv && fair cta2034 /tmp/orbits.csv`,
  run(args) {
    const { values, positionals } = readArguments('cta2034', args, { out: { type: 'string' } }, 1);
    const [path] = positionals;
    const { frequencyHz, levelsDb, warnings } = readOrbits(path);
    for (const warning of warnings) process.stderr.write(`${parse(path).base}: ${warning}\n`);
    const curves = spinCurvesOf(levelsDb);
    emit(averagesTable(frequencyHz, curves.onAxis, curves), values.out);
  },
};

const columns = ['freq_hz', 'plane', 'angle_deg', 'mag_db'];

interface Orbits {
  readonly frequencyHz: Float64Array;
  /** Of the 70 directions. */
  readonly levelsDb: readonly Float64Array[];
  readonly warnings: readonly string[];
}

/** @throws ProblemError naming the line that can't be read, or the angle that is missing */
function readOrbits(path: string): Orbits {
  const lines = new TextDecoder().decode(readInput(path)).split(/\r\n|\n|\r/);
  const header = (lines[0] ?? '')
    .replace(/^\uFEFF/, '')
    .split(',')
    .map((one) => one.trim().toLowerCase());
  const places = columns.map((name) => header.indexOf(name));
  if (places.includes(-1))
    throw problem(
      'orbit_header',
      `${path}:1`,
      `A column is missing: ${columns.filter((_, k) => places[k] < 0).join(', ')}.`,
      `Its first line is “${lines[0]?.slice(0, 80) ?? ''}”.`,
      `Give a first line with ${columns.join(',')}.`,
    );
  const levels = new Map<string, Map<number, number>>();
  const bad = (line: number, what: string) =>
    problem('orbit_row', `${path}:${line}`, what, '', 'Correct the line or remove it.');
  lines.slice(1).forEach((text, index) => {
    if (text.trim() === '') return;
    const line = index + 2;
    const fields = text.split(',').map((field) => field.trim());
    const [hz, plane, degrees, db] = places.map((k) => fields.at(k) ?? '');
    const numbers = [hz, degrees, db].map((field) => (field === '' ? NaN : Number(field)));
    if (!numbers.every(Number.isFinite))
      throw bad(line, `Frequency, angle and level are not three numbers: “${text.slice(0, 80)}”.`);
    if (!(numbers[0] > 0)) throw bad(line, `${hz} Hz is not above 0.`);
    if (!/^[HV]$/i.test(plane))
      throw bad(line, `The plane is “${plane.slice(0, 20)}”, not H or V.`);
    if (Math.abs(numbers[1]) > 180) throw bad(line, `${degrees}° is outside ±180°.`);
    const key = keyOf(plane.toUpperCase(), numbers[1]);
    const own = levels.get(key) ?? new Map<number, number>();
    levels.set(key, own);
    const before = own.get(numbers[0]);
    if (before !== undefined && key !== 'H 0' && key !== 'H 180')
      throw bad(line, `This direction has a level at ${hz} Hz already.`);
    own.set(numbers[0], before ?? numbers[2]);
  });
  const axis = levels.get('H 0');
  if (!axis)
    throw problem(
      'orbit_axis',
      path,
      'There is no level on the axis.',
      'Everything is told against 0°.',
      'Add rows with angle_deg 0.',
    );
  const frequencyHz = Float64Array.from(axis.keys()).sort();
  const warnings = new Set<string>();
  const levelsDb = spinDirections.map(({ plane, degrees }) => {
    const letter = plane === 'horizontal' ? 'H' : 'V';
    const own = levels.get(keyOf(letter, degrees));
    const isBare = ![...levels.keys()].some((key) => isOnSide(key, letter, Math.sign(degrees)));
    const mirrored = isBare ? levels.get(keyOf(letter, -degrees)) : undefined;
    if (!own && mirrored)
      warnings.add(
        `${plane} angles ${degrees < 0 ? 'below' : 'above'} 0° are missing and taken as the mirror of the others.`,
      );
    const known = own ?? mirrored;
    const missing = known && [...frequencyHz].find((hz) => !known.has(hz));
    if (!known || missing !== undefined)
      throw problem(
        'orbit_incomplete',
        path,
        `The ${plane} orbit has no level at ${degrees}°${missing === undefined ? '' : ` and ${missing} Hz`}.`,
        'All 70 directions count in the averages.',
        'Add its rows; steps of 10° are wanted.',
      );
    return frequencyHz.map((hz) => known.get(hz)!);
  });
  return { frequencyHz, levelsDb, warnings: [...warnings] };
}

/** The axis and the rear are the same in both planes. */
function keyOf(plane: string, degrees: number): string {
  const turned = degrees === -180 ? 180 : degrees;
  return turned === 0 || turned === 180 ? `H ${turned}` : `${plane} ${turned}`;
}

function isOnSide(key: string, letter: string, side: number): boolean {
  const [plane, degrees] = key.split(' ');
  const size = Number(degrees);
  return plane === letter && Math.abs(size) < 180 && size * side > 0;
}

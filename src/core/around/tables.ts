import type { Design } from '@/core/document/schema';
import { averagesTable } from '@/core/formats/curveTables';
import { fileStem } from '@/core/text';
import { writeCsv, writeRows, writeTable } from '@/core/formats/writeTable';
import type { Directivity } from './directivity';
import type { AroundView } from './orbits';

/** One response table for each direction, named so that its angle is read from the name. */
export const directionTables = (
  { name }: Pick<Design, 'name'>,
  { frequencyHz, directions, sources, re, im }: Directivity,
): [string, string][] => {
  const points = frequencyHz.length;
  return directions.map(({ plane, degrees }, d) => {
    const at = d * points;
    const of = (value: (x: number, y: number) => number) =>
      Float64Array.from(frequencyHz, (_, i) => value(re[at + i], im[at + i]));
    const sign = degrees < 0 ? '-' : '';
    const angle = `${plane.slice(0, 3)} ${sign}${String(Math.abs(degrees)).padStart(3, '0')}`;
    return [
      `${fileStem(name)} ${angle}.txt`,
      writeTable(
        {
          frequencyHz,
          magnitude: of((x, y) => 10 * Math.log10(x * x + y * y)),
          phaseDeg: of((x, y) => (Math.atan2(y, x) * 180) / Math.PI),
        },
        'response',
        `${name}: ${plane} ${degrees} degrees, ${sources[d]}, referred to 1 m`,
      ),
    ];
  });
};

/** Everything that is drawn around a speaker, as tables. */
export function aroundTables(design: Pick<Design, 'name'>, view: AroundView): [string, string][] {
  const { frequencyHz, orbits, curves, sphereIndex, seats } = view;
  const points = frequencyHz.length;
  return [
    ['averages.csv', averagesTable(frequencyHz, curves.onAxis, curves)],
    [
      'directivity.csv',
      writeCsv([
        ['freq_hz', frequencyHz],
        ['sound_power_di', curves.soundPowerIndex],
        ['early_reflections_di', curves.earlyReflectionsIndex],
        ['sphere_di', sphereIndex],
        ['beam_width_horizontal_deg', orbits.horizontal.beamWidthDeg],
        ['beam_width_vertical_deg', orbits.vertical.beamWidthDeg],
      ]),
    ],
    [
      'orbits.csv',
      writeRows(
        ['freq_hz', 'plane', 'angle_deg', 'mag_db', 'source'],
        Object.values(orbits).flatMap(({ plane, degrees, levelDb, sources }) =>
          degrees.flatMap((angle, a) =>
            Array.from(frequencyHz, (hz, i) => [
              ...[hz, plane === 'horizontal' ? 'H' : 'V', angle],
              ...[levelDb[a * points + i], sources[a]],
            ]),
          ),
        ),
      ),
    ],
    ...seats.map(({ seat, directDb, togetherDb }): [string, string] => [
      `seat-${fileStem(seat.name)}.csv`,
      writeCsv([
        ['freq_hz', frequencyHz],
        ['direct_db', directDb],
        ...(togetherDb ? ([['with_surroundings_db', togetherDb]] as const) : []),
      ]),
    ]),
    ['about.txt', `${design.name}: around the speaker, levels referred to 1 m, ${view.source}.\n`],
  ];
}

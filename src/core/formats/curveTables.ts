import { fileStem } from '@/core/text';
import type { Design } from '@/core/document/schema';
import { magnitudesOf, phaseDegOf, sumIfReversedDb } from '@/core/prediction/derived';
import type { Prediction } from '@/core/prediction/prediction';
import { ratedSourceVolts } from '@/core/document/programme';
import type { SpinCurves } from '@/core/radiation/cta2034';
import { seatsOf } from '@/core/document/seats';
import { writeCsv, writeTable } from './writeTable';

/** The sum on the design axis as a response table, or null. */
export function sumTable(design: Design, { frequencyHz, sum }: Prediction): string | null {
  return (
    sum &&
    writeTable(
      { frequencyHz, magnitude: sum.levelDb, phaseDeg: phaseDegOf(sum.pressure) },
      'response',
      `${design.name}: predicted sum on the design axis, referred to 1 m, ${design.amplifier.volts} V`,
    )
  );
}

/** The impedance at the amplifier's terminals as an impedance table, or null. */
export function impedanceTable(
  design: Design,
  { frequencyHz, impedance }: Prediction,
): string | null {
  return (
    impedance &&
    writeTable(
      { frequencyHz, magnitude: impedance.ohms, phaseDeg: impedance.phaseDeg },
      'impedance',
      `${design.name}: predicted impedance at the terminals`,
    )
  );
}

/** Every predicted curve as a text table with its file name. */
export function curveTables(design: Design, prediction: Prediction): [string, string][] {
  const { frequencyHz } = prediction;
  const tables: [string, string | null][] = [
    ['sum-response.txt', sumTable(design, prediction)],
    ['impedance.txt', impedanceTable(design, prediction)],
    ...prediction.ways.flatMap((predicted, index): [string, string | null][] => {
      const { wayId, levelDb, pressure, voltage } = predicted;
      const way = design.ways.find(({ id }) => id === wayId)!;
      const stem = `way-${index + 1}-${fileStem(way.name)}`;
      return [
        [
          `${stem}-response.txt`,
          writeTable(
            { frequencyHz, magnitude: levelDb, phaseDeg: phaseDegOf(pressure) },
            'response',
            `${design.name}: ${way.name} alone`,
          ),
        ],
        [
          `${stem}-voltage.csv`,
          writeCsv([
            ['freq_hz', frequencyHz],
            ['volts', magnitudesOf(voltage)],
            ['phase_deg', phaseDegOf(voltage)],
          ]),
        ],
        [
          `${stem}-sum-if-reversed.txt`,
          prediction.sum &&
            writeTable(
              {
                frequencyHz,
                magnitude: sumIfReversedDb(prediction.sum, predicted),
                phaseDeg: null,
              },
              'response',
              `${design.name}: sum with ${way.name} reversed`,
            ),
        ],
      ];
    }),
    ...offAxisTables(design, prediction),
    ...excursionTables(design, prediction),
  ];
  return tables.filter((table): table is [string, string] => table[1] !== null);
}

/** What is heard off the axis: the standard's averages in one table, and every place looked at. */
function offAxisTables(
  design: Design,
  { frequencyHz, sum, offAxis: { spin, places } }: Prediction,
): [string, string][] {
  const seats = seatsOf(design);
  return [
    ...(spin && sum
      ? [['averages.csv', averagesTable(frequencyHz, sum.levelDb, spin)] as const]
      : []),
    ...places.map(({ id, levelDb, source }): [string, string] => {
      const seat = seats.find((one) => one.id === id);
      const angle = design.promises.find((one) => one.id === id)?.angle;
      const told = seat
        ? `direct sound at the seat ${seat.name}`
        : `${angle?.plane ?? ''} ${angle?.degrees ?? ''} degrees`;
      return [
        `${seat ? 'seat' : 'angle'}-${fileStem(told)}.txt`,
        writeTable(
          { frequencyHz, magnitude: levelDb, phaseDeg: null },
          'response',
          `${design.name}: ${told}, ${source}, referred to 1 m`,
        ),
      ];
    }),
  ].map(([name, text]): [string, string] => [name, text]);
}

/** The averages of ANSI/CTA-2034-A, one column each. */
export const averagesTable = (
  frequencyHz: Float64Array,
  onAxis: Float64Array,
  spin: Omit<SpinCurves, 'onAxis'>,
): string =>
  writeCsv([
    ['freq_hz', frequencyHz],
    ['on_axis', onAxis],
    ['listening_window', spin.listeningWindow],
    ['floor', spin.floor],
    ['ceiling', spin.ceiling],
    ['front_wall', spin.frontWall],
    ['side_wall', spin.sideWall],
    ['rear_wall', spin.rearWall],
    ['early_reflections', spin.earlyReflections],
    ['sound_power', spin.soundPower],
    ['sound_power_di', spin.soundPowerIndex],
    ['early_reflections_di', spin.earlyReflectionsIndex],
    ['predicted_in_room', spin.inRoom],
  ]);

/**
 * Excursion of each driver for a sine at the amplifier's rated power, peak to one side, where both
 * are known.
 */
function excursionTables(design: Design, { frequencyHz, strains }: Prediction): [string, string][] {
  const volts = ratedSourceVolts(design);
  return strains.flatMap(({ driverId, excursion }, index): [string, string][] => {
    if (!excursion || volts === null) return [];
    const { name } = design.drivers.find(({ id }) => id === driverId)!;
    const known = [...frequencyHz.keys()].filter((i) => Number.isFinite(excursion.sinePeakMm[i]));
    return [
      [
        `driver-${index + 1}-${fileStem(name)}-excursion.csv`,
        writeCsv([
          ['freq_hz', Float64Array.from(known, (i) => frequencyHz[i])],
          ['peak_mm', Float64Array.from(known, (i) => volts * excursion.sinePeakMm[i])],
        ]),
      ],
    ];
  });
}

import { frontOf, mountedDriver } from '../../../tests/baffles';
import { emptySheet } from '@/core/document/briefSchema';
import { designSchema, emptyDesign, endAt, plainWay } from '@/core/document/schema';
import { createPredictor } from '@/core/prediction/predict';
import { madeMeasurement } from './madeMeasurement';
import { sheetMeasurements } from './sheetMeasurements';

const now = '2026-11-28T10:00:00.000Z';
const rows = Array.from({ length: 80 }, (_, k) => `${(100 * 1.07 ** k).toFixed(2)}\t90`);
const table = ['* traced from a.png', '* Freq(Hz)\tSPL(dB)', ...rows, ''].join('\n');

test('a traced response says where it is from, counts as one in a wall, and gets a minimum phase', () => {
  const picture = { name: 'a.png', bytes: new Uint8Array([1, 2, 3]) };
  const { measurement, numbers } = madeMeasurement(table, 'Dome, traced', picture, 'traced', now);
  expect(measurement).toMatchObject({
    ...{ name: 'Dome, traced', kind: 'response', measuredOn: { kind: 'wall' } },
    microphone: { placement: 'own-axis', commonTiming: false },
    origin: { fileName: 'a.png', readAs: 'traced', rowCount: 80 },
  });
  expect(measurement.recipe.map(({ kind }) => kind)).toEqual(['tails', 'phase']);
  expect(numbers.get(measurement.id)!.phaseDeg).toBeNull();
  const design = { ...emptyDesign('x'), measurements: [measurement] };
  expect(designSchema.safeParse(design).success).toBe(true);
});

test('a driver with nothing but figures is heard on its front', () => {
  const sheet = {
    ...emptySheet,
    ...{ fsHz: 40, qes: 0.45, qms: 4, vasLitres: 60, sdCm2: 220, reOhm: 6, leMh: 0.5 },
  };
  const driver = { ...mountedDriver('woofer', 0, 0, { frameMm: 210 }), sheet };
  const made = sheetMeasurements(driver, 20, now);
  expect(made.measurements.map(({ kind }) => kind)).toEqual(['response', 'impedance']);
  const design = designSchema.parse({
    ...emptyDesign('Sheet'),
    measurements: made.measurements,
    panels: [frontOf(250, 400)],
    drivers: [{ ...driver, ...made.set }],
    ways: [{ ...plainWay, id: 'way', name: 'Woofer', ends: [endAt('woofer')] }],
  });
  const { frequencyHz, sum, offAxis, findings } = createPredictor()(design, made.numbers);
  const level = (hz: number, of: Float64Array) => of[frequencyHz.findIndex((one) => one >= hz)];
  // The baffle step is in it: half space above, full space below.
  expect(level(700, sum!.levelDb) - level(90, sum!.levelDb)).toBeGreaterThan(4);
  expect(offAxis.window?.source).toBe('modelled');
  expect(offAxis.spin?.source).toBe('modelled');
  expect(findings.filter(({ severity }) => severity === 'stops')).toEqual([]);
  expect(sheetMeasurements({ ...driver, ...made.set }, 20, now).measurements).toEqual([]);
  expect(sheetMeasurements({ ...driver, sheet: emptySheet }, 20, now).measurements).toEqual([]);
});

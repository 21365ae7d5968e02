import { airDensityKgpm3 } from '@/core/air/density';
import { samplesId } from '@/core/measurement/samples';
import { logGrid } from '@/core/grid/logGrid';
import { measurementStatement, readDemo } from '../../../tests/fixtures';
import { driverLoads } from './driverLoads';
import { emptyDesign, emptyDriver, endAt, plainPart, plainWay, type Design } from './schema';

const flat = (magnitude: number) => ({
  frequencyHz: Float64Array.of(10, 30_000),
  magnitude: Float64Array.of(magnitude, magnitude),
  phaseDeg: Float64Array.of(0, 0),
});
const [ohms, level] = [flat(8), flat(90)];
const [impedanceId, responseId] = [samplesId(ohms), samplesId(level)];
const data = new Map([
  [impedanceId, ohms],
  [responseId, level],
]);
const empty = emptyDesign('Loads');
const driver = emptyDriver('d', 'Driver');
const design: Design = {
  ...empty,
  brief: { ...empty.brief, ratedWatts: 50, ratedIntoOhms: 8 },
  amplifier: { volts: 2.83, outputOhms: 0, cableOhms: 0 },
  measurements: [
    measurementStatement(impedanceId, 'impedance'),
    measurementStatement(responseId, 'response'),
  ],
  drivers: [
    {
      ...driver,
      responseId,
      impedanceId,
      sheet: { ...driver.sheet, sdCm2: 200, xmaxMm: 4, ratedWatts: 40 },
    },
  ],
  ways: [{ ...plainWay, id: 'w', name: 'W', ends: [endAt('d')] }],
};

test('a driver of 8 Ω on an amplifier of 50 W into 8 Ω takes 50 W; half of its volts, a quarter', () => {
  expect(driverLoads(design, data)![0]).toMatchObject({
    ratedWatts: 40,
    allowedMm: 4,
    driverName: 'Driver',
  });
  expect(driverLoads(design, data)![0].watts).toBeCloseTo(50, 9);
  const r1 = {
    ...plainPart,
    id: 'r1',
    name: 'R1',
    place: 'series' as const,
    kind: 'resistor' as const,
    ohms: 8,
  };
  const padded = { ...design, ways: [{ ...design.ways[0], parts: [r1] }] };
  expect(driverLoads(padded, data)![0].watts).toBeCloseTo(12.5, 9);
});

test('travel is that of a piston in a wall, worked out by hand at one frequency', () => {
  const at = 100;
  const [{ travelMm }] = driverLoads(design, data, Float64Array.of(at, at * 1.0000001))!;
  // 90 dB at 2.83 V are 0.632 Pa at 1 m; 20 V rms make 7.07 times that.
  const pascals = 2e-5 * 10 ** (90 / 20) * (20 / 2.83);
  const omega = 2 * Math.PI * at;
  const rms = (pascals * 2 * Math.PI) / (airDensityKgpm3(20) * 0.02 * omega ** 2);
  expect(travelMm).toBeCloseTo(1000 * rms * 2, 4);
});

test('a high pass takes travel away; without piston area or power nothing is said', () => {
  const { design: demo, data: measured } = readDemo();
  const [, , tweeter] = driverLoads(demo, measured)!;
  const open = { ...demo, ways: demo.ways.map((way) => ({ ...way, parts: [] })) };
  const [, , bare] = driverLoads(open, measured)!;
  expect(tweeter.watts).toBeLessThan(0.5 * bare.watts);
  expect(tweeter.travelMm!).toBeLessThan(0.2 * bare.travelMm!);
  const grid = logGrid(20, 20_000, 12);
  const unknown = { ...design, drivers: [{ ...design.drivers[0], sheet: driver.sheet }] };
  expect(driverLoads(unknown, data, grid)![0].travelMm).toBeNull();
  expect(driverLoads({ ...design, brief: empty.brief }, data)).toBeNull();
});

import { readDemo } from '../../../tests/fixtures';
import { createConditioner } from '@/core/prediction/conditioner';
import { forceFactorOf } from './forceFactor';

const { design, data } = readDemo();
const condition = createConditioner();

const takenOf = (d: number) => {
  const { responseId, impedanceId, sheet } = design.drivers[d];
  const statement = design.measurements.find(({ id }) => id === responseId)!;
  return {
    impedance: data.get(impedanceId!)!,
    stated: sheet.blTm!,
    taken: {
      response: condition(statement, data)!.samples,
      driveVolts: statement.driveVolts,
      distanceMm: statement.microphone.distanceMm,
      sdCm2: sheet.sdCm2!,
      temperatureC: 20,
    },
  };
};

test.each([0, 1, 2])(
  'driver %d of the demo: its level tells its force factor within 3 dB, never too large by 0.5 dB',
  (d) => {
    const { impedance, stated, taken } = takenOf(d);
    const decibels = 20 * Math.log10(forceFactorOf(impedance, taken)! / stated);
    expect(decibels).toBeLessThan(0.5);
    expect(decibels).toBeGreaterThan(-3);
  },
);

test('a level without reference, and an impedance without phase, tell nothing', () => {
  const { impedance, taken } = takenOf(1);
  const { response } = taken;
  const shifted = { ...response, magnitude: response.magnitude.map((db) => db - 60) };
  expect(forceFactorOf(impedance, { ...taken, response: shifted })).toBeNull();
  expect(forceFactorOf({ ...impedance, phaseDeg: null }, taken)).toBeNull();
  // In the near field a level is of no distance.
  expect(forceFactorOf(impedance, { ...taken, distanceMm: 20 })).toBeNull();
});

test('twice the voltage for the same level is half the sensitivity: Bl and the mass it moves follow', () => {
  const { impedance, taken } = takenOf(0);
  const once = forceFactorOf(impedance, taken)!;
  expect(
    forceFactorOf(impedance, { ...taken, driveVolts: 2 * taken.driveVolts })! / once,
  ).toBeCloseTo(2, 9);
});

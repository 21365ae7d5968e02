import { readDemo } from '../../../tests/fixtures';
import { emptySheet } from '@/core/document/briefSchema';
import { sheetImpedance, sheetResponse } from './sheetCurves';
import { sheetFigures } from './sheetFigures';

const sheet = {
  ...emptySheet,
  ...{ fsHz: 40, qes: 0.45, qms: 4, vasLitres: 60, sdCm2: 220, reOhm: 6, leMh: 0.5 },
};
const at = (all: Float64Array, of: Float64Array, hz: number) =>
  of[all.reduce((best, one, i) => (Math.abs(one - hz) < Math.abs(all[best] - hz) ? i : best), 0)];

test('the impedance peaks at resonance with Re·(1 + Qms/Qes), and rises with the coil', () => {
  const { frequencyHz, magnitude, phaseDeg } = sheetImpedance(sheet)!;
  expect(Math.max(...magnitude.filter((_, i) => frequencyHz[i] < 200))).toBeCloseTo(
    6 * (1 + 4 / 0.45),
    0,
  );
  expect(at(frequencyHz, magnitude, 10_000)).toBeCloseTo(Math.hypot(6, 2 * Math.PI * 5), 0);
  expect(at(frequencyHz, phaseDeg, 20)).toBeGreaterThan(20);
  expect(at(frequencyHz, phaseDeg, 80)).toBeLessThan(-20);
});

test('the response is the sensitivity above, 12 dB an octave and Qts at resonance below', () => {
  const still = sheetResponse({ ...sheet, leMh: null })!;
  const { qts, sensitivityDb } = sheetFigures(sheet);
  expect(at(still.frequencyHz, still.magnitude, 2000)).toBeCloseTo(sensitivityDb!, 1);
  expect(at(still.frequencyHz, still.magnitude, 40)).toBeCloseTo(
    sensitivityDb! + 20 * Math.log10(qts!),
    1,
  );
  const slope =
    at(still.frequencyHz, still.magnitude, 20) - at(still.frequencyHz, still.magnitude, 10);
  expect(slope).toBeGreaterThan(9);
  expect(slope).toBeLessThan(12.1);
  expect(at(still.frequencyHz, still.phaseDeg, 40)).toBeCloseTo(90, 0);
  const coil = sheetResponse(sheet)!;
  expect(at(coil.frequencyHz, coil.magnitude, 10_000)).toBeLessThan(sensitivityDb! - 12);
});

test('without a figure there is no curve', () => {
  expect(sheetImpedance({ ...sheet, qms: null })).toBeNull();
  expect(sheetResponse({ ...sheet, vasLitres: null })).toBeNull();
  for (const driver of readDemo().design.drivers)
    expect(sheetImpedance(driver.sheet)?.magnitude.every(Number.isFinite)).toBe(true);
});

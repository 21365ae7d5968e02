import { emptySheet } from '@/core/document/briefSchema';
import { totalQ } from './motor';
import { sheetFigures } from './sheetFigures';

const sheet = {
  ...emptySheet,
  fsHz: 30,
  qms: 4,
  qes: 0.4,
  vasLitres: 100,
  sdCm2: 330,
  reOhm: 6,
};

test('figures hang together: what is derived gives back what it was derived from', () => {
  const { qts, mmsG, cmsMmPerN, blTm, efficiency, sensitivityDb } = sheetFigures(sheet);
  expect(qts).toBeCloseTo(4 / 11, 12);
  const [m, c] = [mmsG! / 1000, cmsMmPerN! / 1000];
  expect(1 / (2 * Math.PI * Math.sqrt(m * c))).toBeCloseTo(30, 9);
  expect((2 * Math.PI * 30 * m * 6) / blTm! ** 2).toBeCloseTo(0.4, 12);
  // The other form of the efficiency, ρ·(Bl·Sd)²/(2πc·Re·Mms²) (Beranek, Acoustics, 1954).
  const other = (1.204 * (blTm! * 0.033) ** 2) / (2 * Math.PI * 343.2 * 6 * m ** 2);
  expect(efficiency! / other).toBeCloseTo(1, 2);
  const level = 112.1 + 10 * Math.log10(other) + 10 * Math.log10(8 / 6);
  expect(Math.abs(sensitivityDb! - level)).toBeLessThan(0.1);
});

test('ka = 1 of a cone of 330 cm² lies near 533 Hz', () => {
  expect(sheetFigures(sheet).evenUpToHz).toBeCloseTo(343.2 / (2 * Math.PI * 0.10249), 0);
});

test('what a figure is missing for stays unknown, and only that', () => {
  expect(totalQ({ qms: null, qes: 0.4 })).toBeNull();
  const without = sheetFigures({ ...sheet, sdCm2: null });
  expect(without).toMatchObject({ mmsG: null, cmsMmPerN: null, blTm: null, evenUpToHz: null });
  expect(without.efficiency).not.toBeNull();
  expect(Object.values(sheetFigures(emptySheet))).toEqual(Array(8).fill(null));
});

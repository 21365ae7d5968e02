import { logGrid } from '@/core/grid/logGrid';
import { bandPass, measured } from '../../../tests/responses';
import { spreadOf } from './spread';

const one = measured(bandPass(10, 60, 9000), logGrid(20, 20_000, 48));
const louder = (db: number) => ({ ...one, magnitude: one.magnitude.map((level) => level + db) });

test('two samples: the mean lies between, and the difference is named', () => {
  const { mean, widest, rmsDb, isMatched, deviationsDb } = spreadOf([one, louder(0.6)], 'response');
  mean.magnitude.forEach((level, i) => expect(level).toBeCloseTo(one.magnitude[i] + 0.3, 6));
  mean.phaseDeg!.forEach((degrees, i) =>
    expect(Math.cos(((degrees - one.phaseDeg![i]) * Math.PI) / 180)).toBeCloseTo(1, 6),
  );
  expect(widest.db).toBeCloseTo(0.6, 6);
  expect(rmsDb).toBeCloseTo(0.3, 6);
  expect(deviationsDb[0][100]).toBeCloseTo(-0.3, 6);
  expect(isMatched).toBe(true);
});

test('a resonance that only one has tells its place; the pair is not matched', () => {
  const peaked = {
    ...one,
    magnitude: one.magnitude.map(
      (level, i) => level + 4 * Math.exp(-((Math.log2(one.frequencyHz[i] / 1500) * 4) ** 2)),
    ),
  };
  const { widest, isMatched } = spreadOf([one, louder(0), peaked], 'response');
  expect(widest.atHz / 1500).toBeCloseTo(1, 1);
  expect(widest.db).toBeGreaterThan(3.5);
  expect(isMatched).toBe(false);
});

test('phases on both sides of the seam average to the seam', () => {
  const at = (degrees: number) => ({ ...one, phaseDeg: one.phaseDeg!.map(() => degrees) });
  const { mean } = spreadOf([at(170), at(-170)], 'response');
  mean.phaseDeg!.forEach((degrees) => expect(Math.abs(degrees)).toBeCloseTo(180, 6));
});

test('impedances are averaged as complex numbers', () => {
  const z = (ohms: number, degrees: number) => ({
    frequencyHz: one.frequencyHz,
    magnitude: one.frequencyHz.map(() => ohms),
    phaseDeg: one.frequencyHz.map(() => degrees),
  });
  const { mean, isMatched } = spreadOf([z(6, 0), z(6, 90)], 'impedance');
  expect(mean.magnitude[50]).toBeCloseTo(6 / Math.SQRT2, 9);
  expect(mean.phaseDeg![50]).toBeCloseTo(45, 9);
  expect(isMatched).toBe(true);
  expect(spreadOf([z(6, 0), z(6.5, 0)], 'impedance').isMatched).toBe(false);
});

test('one sample, or two without a common band, are refused', () => {
  expect(() => spreadOf([one], 'response')).toThrow('Two or more');
  const low = measured(bandPass(1, 20, 100), logGrid(1, 10, 48));
  expect(() => spreadOf([one, low], 'response')).toThrow('no band in common');
});

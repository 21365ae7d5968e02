import { heardWay, seededRandom } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import { nothingOffAxis } from './offAxisLevels';
import {
  crossoverLoss,
  crossoverLossDb,
  crossoverLossSlopes,
  phaseTrackingDeg,
} from './crossoverLoss';
import { crossovers } from './crossovers';
import type { Prediction } from './prediction';

/** The definition, word by word: the sum in phase over the sum as it is, faded with the difference. */
function byAngle(a: number, b: number, angle: number, meant: 0 | 90): number {
  const off = Math.abs(angle) - (meant * Math.PI) / 180;
  const [re, im] = [a + b * Math.cos(off), b * Math.sin(off)];
  const apart = (20 * Math.log10(a / b)) / 10;
  return 20 * Math.log10((a + b) / Math.hypot(re, im)) * (1 - apart * apart) ** 2;
}

test('a loss is that of the angle between the two, whatever their common phase and level', () => {
  const random = seededRandom(7);
  for (let k = 0; k < 400; k++) {
    const size = 10 ** (8 * random() - 4);
    const ratio = 10 ** ((random() - 0.5) * 0.96);
    const [common, angle] = [7 * random(), (2 * random() - 1) * 3];
    const [a, b] = [size, size * ratio];
    for (const meant of [0, 90] as const) {
      const told = crossoverLossDb(
        ...[a * Math.cos(common + angle), a * Math.sin(common + angle)],
        ...[b * Math.cos(common), b * Math.sin(common)],
        meant,
      );
      expect(told).toBeCloseTo(byAngle(a, b, angle, meant), 8);
    }
  }
});

test('ten decibels apart, silent or without end nothing is lost, and cancelling is told as 60 dB', () => {
  expect(crossoverLossDb(1, 0, -0.31, 0, 0)).toBe(0);
  expect(crossoverLossDb(0, 0, 1, 0, 0)).toBe(0);
  expect(crossoverLossDb(0, 0, 0, 0, 0)).toBe(0);
  expect(crossoverLossDb(1, 0, -1, 0, 0)).toBeCloseTo(60, 9);
  // Far below any level, products of squares would be nought.
  expect(crossoverLossDb(1e-90, 0, 0, 1e-90, 0)).toBeCloseTo(3.0103, 4);
});

test('two a quarter turn apart that are meant to be lose nothing, whichever leads', () => {
  expect(crossoverLossDb(1, 0, 0, 1, 90)).toBeCloseTo(0, 12);
  expect(crossoverLossDb(1, 0, 0, -1, 90)).toBeCloseTo(0, 12);
  expect(crossoverLossDb(1, 0, 1, 0, 90)).toBeCloseTo(3.0103, 4);
});

test('slopes are those of the loss', () => {
  const slopes = { perNeper: 0, perRadian: 0 };
  const [a, b, angle, h] = [1, 0.8, 0.7, 1e-5];
  const at = (size: number, turn: number) =>
    crossoverLossDb(size * Math.cos(turn), size * Math.sin(turn), b, 0, 0);
  crossoverLossSlopes(a * Math.cos(angle), a * Math.sin(angle), b, 0, 0, slopes);
  const perNeper = (at(a * Math.exp(h), angle) - at(a * Math.exp(-h), angle)) / (2 * h);
  const perRadian = (at(a, angle + h) - at(a, angle - h)) / (2 * h);
  expect(slopes.perNeper).toBeCloseTo(perNeper, 5);
  expect(slopes.perRadian).toBeCloseTo(perRadian, 5);
});

test('crossovers of a prediction are found once, and its loss and angle lie there', () => {
  const frequencyHz = logGrid(100, 10_000, 24);
  const fall = frequencyHz.map((hz) => -20 * Math.log10(1 + hz / 1000));
  const rise = frequencyHz.map((hz) => -20 * Math.log10(1 + 1000 / hz));
  const ways = [heardWay('low', fall, 0), heardWay('high', rise, 60)];
  const prediction: Prediction = {
    ...{ frequencyHz, ways, sum: null, impedance: null, loads: [], strains: [], findings: [] },
    ...{ offAxis: nothingOffAxis, summary: { lowestImpedance: null, onAxis: null } },
  };
  const [one, ...others] = crossovers(prediction);
  expect(others).toEqual([]);
  expect(one.atHz).toBeCloseTo(1000, 0);
  expect(crossovers({ ...prediction })[0]).toBe(one);
  expect(phaseTrackingDeg(prediction)!.value).toBeCloseTo(60, 6);
  // 20·log(1/cos 30°) where they are equal.
  const loss = crossoverLoss(prediction)!;
  expect(loss.value).toBeCloseTo(1.249, 2);
  expect(loss.atHz / 1000).toBeCloseTo(1, 1);
});

import { nothingOffAxis } from '@/core/prediction/offAxisLevels';
import { logGrid } from '@/core/grid/logGrid';
import { readDemo } from '../../../tests/fixtures';
import { crossoverReports, ifReversed } from './crossoverReports';
import { createPredictor } from '@/core/prediction/predict';
import { type Prediction } from '@/core/prediction/prediction';
import { summarise } from '@/core/prediction/summary';

const frequencyHz = logGrid(20, 20_000, 48);

/** Linkwitz–Riley of fourth order at 2 kHz: (1 + √2 s + s²)⁻², the tweeter s⁴ of that. */
function linkwitzRiley(sign: 1 | -1): Prediction {
  const parts = [0, 1].map((which) => {
    const [re, im] = [new Float64Array(frequencyHz.length), new Float64Array(frequencyHz.length)];
    frequencyHz.forEach((hz, i) => {
      const w = hz / 2000;
      const [a, b] = [1 - w * w, Math.SQRT2 * w];
      const [dRe, dIm] = [a * a - b * b, 2 * a * b];
      const size = (dRe * dRe + dIm * dIm) / (which === 0 ? 1 : sign * w ** 4);
      [re[i], im[i]] = [dRe / size, -dIm / size];
    });
    return { re, im };
  });
  const level = (re: number, im: number) => 20 * Math.log10(Math.hypot(re, im));
  const [low, high] = parts;
  const way = (wayId: string, pressure: (typeof parts)[number]) => ({
    ...{ wayId, pressure, voltage: pressure, gaps: [] },
    range: { middleOctaves: wayId === 'low' ? 8 : 12, fsHz: null, sdCm2: null },
    levelDb: pressure.re.map((re, i) => level(re, pressure.im[i])),
  });
  const pressure = {
    re: low.re.map((re, i) => re + high.re[i]),
    im: low.im.map((im, i) => im + high.im[i]),
  };
  const levelDb = pressure.re.map((re, i) => level(re, pressure.im[i]));
  return {
    frequencyHz,
    ways: [way('low', low), way('high', high)],
    offAxis: nothingOffAxis,
    sum: { levelDb, pressure },
    impedance: null,
    loads: [],
    strains: [],
    findings: [],
    summary: summarise(frequencyHz, null, null),
  };
}

test('a Linkwitz–Riley filter of fourth order: in phase, a deep null when turned round, steep slopes', () => {
  const [report, ...more] = crossoverReports(linkwitzRiley(1));
  expect(more).toEqual([]);
  expect(report).toMatchObject({ lowerId: 'low', upperId: 'high' });
  expect(report.atHz).toBeCloseTo(2000, -1);
  expect(Math.abs(report.phaseDeg)).toBeLessThan(1e-6);
  expect(report.nullDb).toBeGreaterThan(40);
  // From one octave beyond to two: 20·log(1 + 4⁴) − 20·log(1 + 2⁴) = 23.6 dB of the 24 that it
  // comes to in the end.
  expect(report.lowerSlopeDb).toBeCloseTo(-23.6, 1);
  expect(report.upperSlopeDb).toBeCloseTo(23.6, 1);
  expect(ifReversed(report)).toMatch(/would dip by \d+ dB/);
});

test('connected the wrong way round, the null is in the sum itself', () => {
  const [report] = crossoverReports(linkwitzRiley(-1));
  expect(Math.abs(report.phaseDeg)).toBeCloseTo(180, 6);
  expect(report.nullDb).toBeLessThan(0);
  expect(ifReversed(report)).toMatch(/would be louder there/);
});

test('the demo hands over twice; a design without a sum not at all', () => {
  const { design, data } = readDemo();
  const found = crossoverReports(createPredictor()(design, data));
  expect(found.map(({ lowerId, upperId }) => [lowerId, upperId])).toEqual([
    ['way-woofer', 'way-midrange'],
    ['way-midrange', 'way-tweeter'],
  ]);
  expect(crossoverReports(createPredictor()({ ...design, ways: [] }, data))).toEqual([]);
});

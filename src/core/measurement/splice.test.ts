import { bandPass, delayed, measured, type Complex } from '../../../tests/responses';
import { logGrid } from '@/core/grid/logGrid';
import { baffleStep, splice } from './splice';

const cone = bandPass(1, 45, 3000);
const radiusMm = 100;
const near = measured((hz) => cone(hz).map((x) => (x * 2000) / radiusMm) as unknown as Complex);
const stepped = (hz: number): Complex => {
  const { re, im } = baffleStep(Float64Array.of(hz), 300);
  const [a, b] = cone(hz);
  return [a * re[0] - b * im[0], a * im[0] + b * re[0]];
};
const far = measured(delayed(stepped, 1 / 343.2), logGrid(150, 20_000, 48));
const options = { atHz: 350, farDistanceMm: 1000, stepWidthMm: 300 };

test('the near field below and the far field above are one curve again', () => {
  const { samples, matchDb, residualDb, ka } = splice([{ samples: near, radiusMm }], far, options);
  const truth = measured(stepped, samples.frequencyHz);
  samples.magnitude.forEach((level, i) =>
    expect(Math.abs(level - truth.magnitude[i])).toBeLessThan(0.02),
  );
  expect(Math.abs(matchDb)).toBeLessThan(0.01);
  expect(residualDb).toBeLessThan(0.01);
  expect(ka).toBeCloseTo(0.64, 2);
  // Its timing is the far field's: flight of 1 m, below the join too.
  const flight = measured(delayed(stepped, 1 / 343.2), samples.frequencyHz);
  samples.frequencyHz.forEach((hz, i) => {
    if (hz < 40) return;
    const turns = (samples.phaseDeg![i] - flight.phaseDeg![i]) / 360;
    expect(Math.abs(turns - Math.round(turns)) * 360).toBeLessThan(3);
  });
});

test('a level that does not match is taken out and told', () => {
  const low = { ...near, magnitude: near.magnitude.map((level) => level - 4), phaseDeg: null };
  const { samples, matchDb } = splice([{ samples: low, radiusMm }], far, options);
  expect(matchDb).toBeCloseTo(4, 2);
  expect(samples.phaseDeg).toBeNull();
});

test('cone and port are weighted by their radii (Keele 1974)', () => {
  const port = { samples: near, radiusMm: radiusMm / 2 };
  const { matchDb } = splice([{ samples: near, radiusMm }, port], far, options);
  // In phase and half as wide: 1.5 times the pressure.
  expect(matchDb).toBeCloseTo(-20 * Math.log10(1.5), 2);
});

test('the step of a baffle: −6 dB below, 0 dB above, −3 dB at 115/width', () => {
  const { re, im } = baffleStep(Float64Array.of(0.01, 115 / 0.3, 1e6), 300);
  const db = re.map((x, i) => 20 * Math.log10(Math.hypot(x, im[i])));
  expect(db[0]).toBeCloseTo(-6.02, 2);
  expect(db[1]).toBeCloseTo(-3.01, 2);
  expect(db[2]).toBeCloseTo(0, 3);
});

test('a join outside the data is refused', () => {
  expect(() => splice([{ samples: near, radiusMm }], far, { ...options, atHz: 100 })).toThrow(
    'The far field does not reach',
  );
});

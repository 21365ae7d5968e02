import { bandPass, delayed, measured } from '../../../tests/responses';
import { groupDelay } from './groupDelay';

const tails = { belowDbPerOctave: 12, aboveDbPerOctave: -12 };
const raw = measured(delayed(bandPass(10, 60, 4000), 0.003));

test('the excess group delay of a delayed minimum-phase driver is its delay', () => {
  const { frequencyHz, excessMs } = groupDelay(raw, tails)!;
  frequencyHz.forEach((hz, i) => {
    if (hz > 100 && hz < 10_000) expect(Math.abs(excessMs[i] - 3)).toBeLessThan(0.05);
  });
});

test('the group delay of a second-order high pass at its corner: (1/ω₀)·2Q in closed form', () => {
  const { frequencyHz, groupMs } = groupDelay(measured(bandPass(10, 100, 1e6)), tails)!;
  const i = frequencyHz.findIndex((hz) => hz >= 100);
  // x = f/f0, denominator 1 − x² + 1.2·jx: at x = 1 the delay is 2/(1.2·ω0).
  expect(groupMs[i]).toBeCloseTo((1000 * 2) / 1.2 / (2 * Math.PI * 100), 1);
});

test('nothing without phase', () => {
  expect(groupDelay({ ...raw, phaseDeg: null }, tails)).toBeNull();
});

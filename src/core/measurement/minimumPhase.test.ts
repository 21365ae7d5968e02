import { logGrid } from '@/core/grid/logGrid';
import { excessDelay } from './excessDelay';
import { minimumPhase } from './minimumPhase';

const tails = (belowDbPerOctave: number, aboveDbPerOctave: number) => ({
  belowDbPerOctave,
  aboveDbPerOctave,
});

test('a straight line of 6.02 dB per octave turns by 90°, everywhere', () => {
  const frequencyHz = logGrid(20, 20_000, 12);
  const slope = 20 * Math.log10(2);
  const phase = minimumPhase(
    frequencyHz,
    frequencyHz.map((hz) => slope * Math.log2(hz)),
    tails(slope, slope),
  );
  for (const angle of phase) expect(angle).toBeCloseTo(Math.PI / 2, 9);
});

test('two points and no slope: no phase', () => {
  const phase = minimumPhase(Float64Array.of(100, 1000), Float64Array.of(80, 80), tails(0, 0));
  for (const angle of phase) expect(Math.abs(angle)).toBeLessThan(1e-12);
});

test('the level’s absolute height does not matter, and its sign turns the phase', () => {
  const frequencyHz = logGrid(50, 10_000, 24);
  const shape = (sign: number, lift: number) =>
    frequencyHz.map((hz) => lift + sign * 6 * Math.exp(-(Math.log(hz / 700) ** 2)));
  const up = minimumPhase(frequencyHz, shape(1, 0), tails(0, 0));
  const lifted = minimumPhase(frequencyHz, shape(1, 85), tails(0, 0));
  const down = minimumPhase(frequencyHz, shape(-1, 0), tails(0, 0));
  up.forEach((angle, i) => {
    expect(lifted[i]).toBeCloseTo(angle, 6);
    expect(down[i]).toBeCloseTo(-angle, 2);
  });
});

test('a gap is named, not bridged', () => {
  const silent = Float64Array.of(80, -Infinity, 80);
  expect(() => minimumPhase(Float64Array.of(20, 200, 2000), silent, tails(0, 0))).toThrow(
    /200 Hz: There is no level/,
  );
});

describe('excess delay', () => {
  const frequencyHz = logGrid(20, 20_000, 24);
  const magnitude = frequencyHz.map(() => 80);
  const delayed = (seconds: number, extra = 0) =>
    frequencyHz.map((hz) => -360 * hz * seconds + extra);

  test.each([0, 0.0000123, 0.00291, 0.0117])('%d s is found, wrapped or not', (seconds) => {
    for (const phaseDeg of [
      delayed(seconds),
      delayed(seconds).map((value) => value - 360 * Math.round(value / 360)),
    ]) {
      const found = excessDelay({ frequencyHz, magnitude, phaseDeg }, tails(0, 0));
      expect(found.seconds).toBeCloseTo(seconds, 8);
      expect(found.rmsDeg).toBeLessThan(0.01);
    }
  });

  test('what is no delay shows in the residual', () => {
    const phaseDeg = delayed(0.001).map((value, i) => value + (i % 2 ? 10 : -10));
    const found = excessDelay({ frequencyHz, magnitude, phaseDeg }, tails(0, 0));
    expect(found.rmsDeg).toBeCloseTo(10, 0);
  });

  test('without phase, or in too narrow a band, it is refused', () => {
    const response = { frequencyHz, magnitude, phaseDeg: delayed(0) };
    expect(() => excessDelay({ ...response, phaseDeg: null }, tails(0, 0))).toThrow(/no phase/);
    expect(() => excessDelay(response, tails(0, 0), { fromHz: 1000, toHz: 1010 })).toThrow(
      /points lie in this band/,
    );
  });
});

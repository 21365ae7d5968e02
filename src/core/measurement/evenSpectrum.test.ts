import { logGrid } from '@/core/grid/logGrid';
import { seededRandom } from '../../../tests/fixtures';
import { bandPass, delayed, measured } from '../../../tests/responses';
import { impulseAt, impulseOfSpectrum, isEven, spectrumOfImpulse } from './evenSpectrum';
import {
  arrivalSeconds,
  gateAfter,
  leadBeforeArrival,
  responseOf,
  stepResponse,
  windowAt,
} from './impulse';
import { evenFromLog, onFrequencies } from './resample';
import { timeViews } from './timeViews';

const rate = 48_000;
/** A decaying sine that begins after a delay: frequency, time constant and delay are known. */
function ringing(
  hz: number,
  tauSeconds: number,
  delaySeconds: number,
  length = 8192,
): Float64Array {
  const first = Math.round(delaySeconds * rate);
  return Float64Array.from({ length }, (_, i) => {
    const t = (i - first) / rate;
    return t < 0 ? 0 : Math.exp(-t / tauSeconds) * Math.sin(2 * Math.PI * hz * t);
  });
}

test('an impulse becomes a table and an impulse again', () => {
  const values = ringing(1000, 0.002, 0.004);
  const { samples, isCut } = spectrumOfImpulse(impulseAt(values, rate));
  expect(isCut).toBe(false);
  expect(isEven(samples)).toBe(true);
  const back = impulseOfSpectrum(samples);
  expect(back.sampleRateHz).toBeCloseTo(rate, 6);
  // The value at 0 Hz is not in the table: the mean of the impulse is lost, no more.
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  for (let i = 0; i < 1000; i++)
    expect(Math.abs(back.samples[i] - (values[i] - mean))).toBeLessThan(1e-3);
});

test('long silence is cut, and the flight time stays', () => {
  const { samples, isCut } = spectrumOfImpulse(impulseAt(ringing(1000, 0.001, 0.2, 48_000), rate));
  expect(isCut).toBe(true);
  expect(samples.frequencyHz).toHaveLength(2 ** 13 - 1);
  expect(arrivalSeconds(impulseOfSpectrum(samples))).toBeCloseTo(0.2, 3);
});

test('log frequencies, no phase or few points are not even', () => {
  const log = measured(bandPass(1, 50, 5000), logGrid(20, 20_000, 48));
  expect(isEven(log)).toBe(false);
  expect(() => impulseOfSpectrum(log)).toThrow('not in equal steps');
  const even = evenFromLog(log);
  expect(isEven(even)).toBe(true);
  expect(isEven({ ...even, phaseDeg: null })).toBe(false);
});

test('a response on other frequencies keeps level and phase, and is nothing outside its band', () => {
  const log = measured(delayed(bandPass(1, 50, 5000), 0.001), logGrid(100, 10_000, 96));
  const { magnitude, phaseDeg } = onFrequencies(log, Float64Array.of(20, 1000));
  const expected = measured(delayed(bandPass(1, 50, 5000), 0.001), Float64Array.of(1000));
  expect(magnitude[0]).toBe(-300);
  expect(magnitude[1]).toBeCloseTo(expected.magnitude[0], 2);
  expect(phaseDeg![1]).toBeCloseTo(expected.phaseDeg![0], 0);
});

test('a window rises, is flat, and falls to nothing', () => {
  const window = gateAfter(0.003, 0.003);
  const at = (ms: number) => windowAt(window, ms / 1000);
  expect([at(1.9), at(2.6), at(3), at(4.9), at(6)]).toEqual([0, 1, 1, 1, 0]);
  expect(at(2.25)).toBeCloseTo(0.5, 9);
  expect(at(5.5)).toBeCloseTo(0.5, 9);
});

test('the response of a click is flat, wherever the window lies around it', () => {
  const click = new Float64Array(1000);
  click[200] = 2;
  const frequencyHz = logGrid(100, 20_000, 3);
  const { magnitude, phaseDeg } = responseOf(
    impulseAt(click, rate),
    gateAfter(200 / rate, 0.002),
    frequencyHz,
  );
  magnitude.forEach((db) => expect(db).toBeCloseTo(6.0206, 3));
  frequencyHz.forEach((hz, i) => {
    const turns = phaseDeg![i] / 360 + (hz * 200) / rate;
    expect(turns - Math.round(turns)).toBeCloseTo(0, 9);
  });
});

test('a step response is the running sum', () => {
  const { samples } = stepResponse({
    samples: Float64Array.of(1, 2, -1, 4),
    sampleRateHz: rate,
    zeroIndex: 1,
  });
  expect([...samples]).toEqual([0, 2, 1, 5]);
});

test('a resonance decays in the hills as fast as its time constant says', () => {
  const tau = 0.0015;
  const { decay, timeMs, impulse } = timeViews(
    spectrumOfImpulse(impulseAt(ringing(2000, tau, 0.004), rate)).samples,
  );
  const i = decay.frequencyHz.findIndex((hz) => hz >= 2000);
  const level = (afterMs: number) =>
    decay.slices.find((slice) => slice.afterMs === afterMs)!.levelDb[i];
  // e^(−t/τ) between 2 and 5 ms: 3 ms are 2 time constants, 17.4 dB.
  expect(level(2) - level(5)).toBeCloseTo((20 * Math.LOG10E * 3) / 1.5, 0);
  expect(Math.max(...impulse.map(Math.abs))).toBe(1);
  expect(timeMs[0]).toBeCloseTo(-1, 1);
});

test('a gate ends the hills before the reflection', () => {
  const { samples } = spectrumOfImpulse(impulseAt(ringing(2000, 0.0015, 0.004), rate));
  expect(timeViews(samples, 3).decay.slices.at(-1)!.afterMs).toBeLessThan(3);
});

test('what a linear-phase filter rings before its peak is kept, noise before an arrival is not taken for it', () => {
  // A band from 300 Hz to 3 kHz as a windowed difference of two sines over x: symmetric, peak 20 ms
  // after the start.
  const peak = 0.02 * rate;
  const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
  const linear = Float64Array.from({ length: 8192 }, (_, i) => {
    const n = i - peak;
    const inside = Math.abs(n) < 0.012 * rate;
    const hann = inside ? 0.5 + 0.5 * Math.cos((Math.PI * n) / (0.012 * rate)) : 0;
    return (
      hann * ((6000 / rate) * sinc((6000 / rate) * n) - (600 / rate) * sinc((600 / rate) * n)) * 10
    );
  });
  const impulse = impulseAt(linear, rate);
  const lead = leadBeforeArrival(impulse);
  expect(lead).toBeGreaterThan(0.005);
  expect(lead).toBeLessThanOrEqual(0.0125);
  // Gated from its arrival with that lead it is the filter: what rang before the peak is not cut
  // away.
  const gate = gateAfter(arrivalSeconds(impulse), 0.03, lead);
  const hz = Float64Array.of(400, 1000, 2500);
  const [gated, whole] = [gate, { ...gate, fromSeconds: 0.001 }].map((window) =>
    responseOf(impulse, window, hz),
  );
  for (let i = 0; i < hz.length; i++)
    expect(Math.abs(gated.magnitude[i] - whole.magnitude[i])).toBeLessThan(0.05);

  const random = seededRandom(3);
  const noisy = ringing(1000, 0.001, 0.05).map((value) => value + 0.001 * (random() - 0.5));
  expect(leadBeforeArrival(impulseAt(noisy, rate))).toBeLessThan(0.002);
  expect(leadBeforeArrival(impulseAt(ringing(1000, 0.001, 0.05), rate))).toBeLessThan(0.002);
});

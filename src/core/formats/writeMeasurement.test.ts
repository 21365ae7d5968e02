import { logGrid } from '@/core/grid/logGrid';
import type { Samples } from '@/core/measurement/samples';
import { readTable } from './readTable';
import { readTouchstone } from './touchstone';
import { readWav } from './wav';
import { writeMeasurement } from './writeMeasurement';

const frequencyHz = logGrid(20, 20_000, 12);
const response: Samples = {
  frequencyHz,
  magnitude: frequencyHz.map((hz) => 88 - 10 * Math.log10(1 + (60 / hz) ** 4)),
  phaseDeg: frequencyHz.map((hz) => (180 * 60) / hz),
};
const impedance: Samples = {
  frequencyHz,
  magnitude: frequencyHz.map((hz) => 6 + hz / 4000),
  phaseDeg: frequencyHz.map((hz) => hz / 1000),
};
const write = (
  samples: Samples,
  kind: 'response' | 'impedance',
  form: 'txt' | 'csv' | 'wav' | 's1p',
) => writeMeasurement(samples, kind, form, 'made by a test', 'x');
const bytes = (text: string | Uint8Array) =>
  typeof text === 'string' ? new Uint8Array(Buffer.from(text)) : text;

test.each(['txt', 'csv'] as const)('a response as %s is read back as it was', (form) => {
  const { samples } = readTable(bytes(write(response, 'response', form)), `x.${form}`);
  expect(samples.frequencyHz).toHaveLength(frequencyHz.length);
  samples.magnitude.forEach((db, i) => expect(db).toBeCloseTo(response.magnitude[i], 3));
  samples.phaseDeg!.forEach((deg, i) => expect(deg).toBeCloseTo(response.phaseDeg![i], 2));
});

test('without a phase there are two columns', () => {
  const { samples } = readTable(
    bytes(write({ ...impedance, phaseDeg: null }, 'impedance', 'csv')),
    'x.csv',
  );
  expect(samples.phaseDeg).toBeNull();
  samples.magnitude.forEach((ohms, i) => expect(ohms).toBeCloseTo(impedance.magnitude[i], 4));
});

test('an impedance as a one-port is read back as it was', () => {
  const samples = readTouchstone(bytes(write(impedance, 'impedance', 's1p')), 'x.s1p');
  samples.magnitude.forEach((ohms, i) => expect(ohms / impedance.magnitude[i]).toBeCloseTo(1, 5));
});

test('a response as WAV is an impulse at 48 kHz with its level', () => {
  const { sampleRateHz, channels } = readWav(bytes(write(response, 'response', 'wav')), 'x.wav');
  expect(sampleRateHz).toBe(48_000);
  expect(channels).toHaveLength(1);
  expect(channels[0].some((value) => value !== 0)).toBe(true);
});

test('what a form can’t hold is refused, and says what would do', () => {
  expect(() => write(response, 'response', 's1p')).toThrow(/A one-port is an impedance/);
  expect(() => write(impedance, 'impedance', 'wav')).toThrow(/takes a response with phase/);
  expect(() => write({ ...response, phaseDeg: null }, 'response', 'wav')).toThrow(/with phase/);
});

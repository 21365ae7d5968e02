import { logGrid } from '@/core/grid/logGrid';
import { terminalImpedance, unloaded } from '@/core/driver/model';
import { seeded } from '@/core/spectrum/noise';
import { bandPass, measured } from '../../../tests/responses';
import { pairHealth, responseHealth } from './health';
import { impedanceHealth } from './impedanceHealth';
import type { Samples } from './samples';
import { smoothed } from './smooth';

const clean = measured(bandPass(10, 60, 9000), logGrid(20, 20_000, 48));
const codes = (samples: Samples) => responseHealth(samples).map(({ code }) => code);
const { gaussian } = seeded(5);

function impedance(fsHz: number): Samples {
  const model = { reOhm: 5.6, fsHz, qms: 3, qes: 0.5, leHenry: 3e-4, ladder: null, semi: null };
  const frequencyHz = logGrid(10, 20_000, 24);
  const z = new Float64Array(2 * frequencyHz.length);
  frequencyHz.forEach((hz, i) => terminalImpedance(model, unloaded, hz, z, i));
  return {
    frequencyHz,
    magnitude: frequencyHz.map((_, i) => Math.hypot(z[2 * i], z[2 * i + 1])),
    phaseDeg: frequencyHz.map((_, i) => (Math.atan2(z[2 * i + 1], z[2 * i]) * 180) / Math.PI),
  };
}

test('a sound response and a sound impedance have no findings', () => {
  expect(codes(clean)).toEqual([]);
  expect(impedanceHealth(impedance(70), 5.6)).toEqual([]);
  expect(pairHealth(clean, impedance(70))).toEqual([]);
});

test.each<[string, Samples, string]>([
  [
    'linear magnitude',
    { ...clean, magnitude: clean.magnitude.map((db) => 10 ** ((db - 105) / 20)) },
    'level_unit',
  ],
  [
    'no reference',
    { ...clean, magnitude: clean.magnitude.map((db) => db - 120) },
    'level_reference',
  ],
  ['no phase', { ...clean, phaseDeg: null }, 'no_phase'],
  [
    'a delay',
    {
      ...clean,
      phaseDeg: clean.phaseDeg!.map((deg, i) => deg - 360 * clean.frequencyHz[i] * 0.003),
    },
    'bulk_delay',
  ],
  [
    'hum',
    {
      ...clean,
      magnitude: clean.magnitude.map((db, i) =>
        Math.abs(clean.frequencyHz[i] / 150 - 1) < 0.01 ? db + 9 : db,
      ),
    },
    'hum',
  ],
  [
    'noise above 10 kHz',
    {
      ...clean,
      magnitude: clean.magnitude.map((db, i) =>
        clean.frequencyHz[i] > 10_000 ? db + 3 * gaussian() : db,
      ),
    },
    'noise_floor',
  ],
  [
    'phase that jumps',
    { ...clean, phaseDeg: clean.phaseDeg!.map((deg, i) => deg + (i % 2) * 150) },
    'coarse_phase',
  ],
])('%s', (_name, samples, code) => {
  expect(codes(samples)).toContain(code);
});

test('the noise floor names its place and offers tails that begin there', () => {
  const noisy = {
    ...clean,
    magnitude: clean.magnitude.map((db, i) =>
      clean.frequencyHz[i] > 10_000 ? db + 3 * gaussian() : db,
    ),
  };
  const { remedy } = responseHealth(noisy).find(({ code }) => code === 'noise_floor')!;
  expect(remedy!.kind).toBe('tails');
  const { aboveHz } = remedy as { aboveHz: number };
  expect(aboveHz).toBeGreaterThan(7500);
  expect(aboveHz).toBeLessThan(12_500);
});

test.each<[string, (z: Samples) => Samples, number | null, string]>([
  [
    'a wrong reference resistor',
    (z) => ({ ...z, magnitude: z.magnitude.map((ohms) => ohms * 2.2) }),
    5.6,
    'wrong_reference',
  ],
  [
    'less than the coil has',
    (z) => ({ ...z, magnitude: z.magnitude.map((ohms) => ohms * 0.9) }),
    5.6,
    'under_dc_resistance',
  ],
  [
    'kilohms',
    (z) => ({ ...z, magnitude: z.magnitude.map((ohms) => ohms * 1000) }),
    null,
    'implausible_ohms',
  ],
  [
    'a phase with the wrong sign',
    (z) => ({ ...z, phaseDeg: z.phaseDeg!.map((deg) => -deg) }),
    null,
    'kramers_kronig',
  ],
  ['no phase', (z) => ({ ...z, phaseDeg: null }), null, 'no_phase'],
])('impedance: %s', (_name, spoil, reOhm, code) => {
  expect(impedanceHealth(spoil(impedance(70)), reOhm).map((one) => one.code)).toContain(code);
});

test('a woofer’s response with a dome’s impedance looks swapped', () => {
  expect(pairHealth(clean, impedance(900)).map(({ code }) => code)).toEqual(['swapped']);
});

test('a curve of a few points is none, whatever else it seems to be', () => {
  const few = {
    frequencyHz: Float64Array.of(20, 200, 2000, 20_000),
    magnitude: Float64Array.of(80, 85, 86, 84),
    phaseDeg: null,
  };
  expect(responseHealth(few).map(({ code }) => code)).toEqual(['few_points']);
});

test('smoothing keeps a flat curve and a straight slope, and takes ripple away', () => {
  const frequencyHz = logGrid(20, 20_000, 48);
  const flat = { frequencyHz, magnitude: frequencyHz.map(() => 80), phaseDeg: null };
  smoothed(flat, 1 / 3).magnitude.forEach((db) => expect(db).toBeCloseTo(80, 9));
  const ripple = { ...flat, magnitude: frequencyHz.map((_, i) => 80 + (i % 2 ? 3 : -3)) };
  const middle = smoothed(ripple, 1 / 3).magnitude.slice(30, -30);
  // The mean power of +3 and −3 dB.
  middle.forEach((db) =>
    expect(db).toBeCloseTo(80 + 10 * Math.log10((10 ** 0.3 + 10 ** -0.3) / 2), 0),
  );
});

/**
 * Driver parameters against the drivers that the impedances were computed from: see ts/SOURCE.md.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fitDriver } from '@/core/driver/parameters';
import { readTable } from '@/core/formats/readTable';

const folder = join(import.meta.dirname, 'ts');
const table = (name: string) =>
  readTable(new Uint8Array(readFileSync(join(folder, name))), name).samples;
interface Truth {
  driver: string;
  truth: Record<string, number | undefined> & { Sd_m2: number };
  added_mass_kg: number;
  closed_box_m3: number;
  files: Record<string, string>;
}
const { drivers } = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as {
  drivers: Truth[];
};

describe.each(drivers.map((one) => [one.driver, one] as const))('%s', (_name, one) => {
  const { truth, files } = one;
  test.each([
    ['clean', 'added_mass', 0.02],
    ['clean', 'closed_box', 0.02],
    ['noisy', 'added_mass', 1],
    ['noisy', 'closed_box', 1],
  ] as const)('%s, %s: every parameter within %d times 1 %% (Vas 2 %%)', (noise, run, share) => {
    const samples = table(files[`${run}_${noise}`]);
    const { parameters, standardErrors } = fitDriver(
      table(files[`free_${noise}`]),
      run === 'added_mass'
        ? { kind: 'added-mass', samples, massKg: one.added_mass_kg }
        : { kind: 'known-box', samples, volumeM3: one.closed_box_m3 },
      { sdM2: truth.Sd_m2 },
    );
    const expected = {
      fsHz: truth.fs_hz,
      qms: truth.Qms,
      qes: truth.Qes,
      qts: truth.Qts,
      vasM3: truth.Vas_m3,
      mmsKg: truth.Mms_kg,
      cmsMPerN: truth.Cms_m_per_n,
      blTm: truth.Bl_tm,
      reOhm: truth.Re_ohm,
      leHenry: truth.Le_h,
      le2Henry: truth.Le2_h,
      re2Ohm: truth.Re2_ohm,
    };
    for (const [key, value] of Object.entries(expected)) {
      const found = parameters[key as keyof typeof parameters];
      if (value === undefined) {
        expect(found).toBeNull();
        continue;
      }
      const bar = (key === 'vasM3' ? 0.02 : 0.01) * share;
      expect(Math.abs(found! / value - 1)).toBeLessThan(bar);
      // The stated error is believable: the truth lies within four of them.
      if (noise === 'noisy')
        expect(Math.abs(found! - value)).toBeLessThan(
          4 * standardErrors[key as keyof typeof standardErrors]!,
        );
    }
  });

  test('free air alone: what it can’t say is left open; a given resistance is kept', () => {
    const { parameters, standardErrors } = fitDriver(table(files.free_noisy), null, {
      sdM2: truth.Sd_m2,
      reOhm: truth.Re_ohm!,
      leadOhm: 0,
    });
    expect(parameters.reOhm).toBe(truth.Re_ohm);
    expect(standardErrors.reOhm).toBe(0);
    expect(Math.abs(parameters.qts / truth.Qts! - 1)).toBeLessThan(0.01);
    expect([parameters.vasM3, parameters.mmsKg, parameters.cmsMPerN, parameters.blTm]).toEqual([
      null,
      null,
      null,
      null,
    ]);
  });
});

test('the resistance of the leads is taken off; swapped runs and flat curves are refused', () => {
  const [{ files, truth, added_mass_kg }] = drivers;
  const free = table(files.free_clean);
  const withLead = {
    ...free,
    magnitude: free.magnitude.map((ohms, i) => {
      const angle = (free.phaseDeg![i] * Math.PI) / 180;
      return Math.hypot(ohms * Math.cos(angle) + 0.4, ohms * Math.sin(angle));
    }),
    phaseDeg: free.phaseDeg!.map((degrees, i) => {
      const angle = (degrees * Math.PI) / 180;
      const ohms = free.magnitude[i];
      return (
        (Math.atan2(ohms * Math.sin(angle), ohms * Math.cos(angle) + 0.4) * 180) / Math.PI
      );
    }),
  };
  const { parameters } = fitDriver(withLead, null, { sdM2: truth.Sd_m2, leadOhm: 0.4 });
  expect(parameters.reOhm).toBeCloseTo(truth.Re_ohm!, 3);
  const second = { kind: 'added-mass', samples: free, massKg: added_mass_kg } as const;
  expect(() => fitDriver(table(files.added_mass_clean), second, { sdM2: truth.Sd_m2 })).toThrow(
    'did not move down',
  );
  const flat = { ...free, magnitude: free.magnitude.map(() => 8), phaseDeg: free.phaseDeg!.map(() => 0) };
  expect(() => fitDriver(flat, null, { sdM2: 0.02 })).toThrow('no resonance');
  expect(() => fitDriver({ ...free, phaseDeg: null }, null, { sdM2: 0.02 })).toThrow('no phase');
});

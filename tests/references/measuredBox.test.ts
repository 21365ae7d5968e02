/** Boxes from their impedances as ngspice has them: see box/SOURCE.md. The noise is ours. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  tuningHz,
  usualAir,
  type BoxDriver,
  type Enclosure,
  type Port,
} from '@/core/box/enclosure';
import {
  boxDifferences,
  correctedLengthM,
  fitMeasuredBox,
  mostMisfit,
  peakCount,
} from '@/core/box/measuredBox';
import { boxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import type { Samples } from '@/core/measurement/samples';

const air = usualAir;
const woofer: BoxDriver = {
  ...{ fsHz: 38, qms: 4.8, qes: 0.41, vasM3: 0.032, sdM2: 0.022, reOhm: 5.8, leHenry: 0.62e-3 },
  second: null,
};
const port: Port = {
  ...{ count: 1, diameterM: 0.068, lengthM: 0.12, qp: null },
  ends: ['flanged', 'free'],
};
type Vented = Extract<Enclosure, { kind: 'vented' }>;
const plan: Vented = { kind: 'vented', volumeM3: 0.034, ql: 7, qa: null, port };

function impedanceOf(name: string): Samples {
  const [header, ...rows] = readFileSync(join(import.meta.dirname, 'box', `${name}.csv`), 'utf8')
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  const column = (wanted: string) =>
    Float64Array.from(rows, (row) => Number(row[header.indexOf(wanted)]));
  return {
    frequencyHz: column('freq_hz'),
    magnitude: column('zin_mag_ohm'),
    phaseDeg: column('zin_phase_deg'),
  };
}

/** Errors of a few thousandths, the same at every run (Park and Miller's generator). */
function noisy({ frequencyHz, magnitude, phaseDeg }: Samples, share: number): Samples {
  let state = 20;
  const error = () => {
    state = (state * 48271) % 2147483647;
    return share * (state / 1073741823.5 - 1);
  };
  return {
    frequencyHz,
    magnitude: magnitude.map((ohm) => ohm * (1 + error())),
    phaseDeg: phaseDeg?.map((degrees) => degrees + (error() * 180) / Math.PI) ?? null,
  };
}

describe.each([
  ['v1_vented', 43.3336379755403, 0.12],
  ['v2_vented_short', 53.89570448582713, 0.06],
  ['v3_vented_long', 33.16640055333673, 0.24],
])('%s built, v1 planned', (name, hz, builtLengthM) => {
  const exact = impedanceOf(name);

  test.each([
    ['with phase', exact],
    ['magnitude alone', { ...exact, phaseDeg: null }],
  ])('%s: tuning, volume and leakage', (_how, impedance) => {
    const built = fitMeasuredBox({ driver: woofer, enclosure: plan, air }, impedance);
    expect(built.tunedHz!.value / hz).toBeCloseTo(1, 4);
    expect(built.volumeM3.value / 0.034).toBeCloseTo(1, 3);
    expect(built.ql.value / 7).toBeCloseTo(1, 3);
    expect(built.misfit).toBeLessThan(1e-4);
  });

  test('with errors of 1 %: within three standard errors, and those are small', () => {
    const built = fitMeasuredBox({ driver: woofer, enclosure: plan, air }, noisy(exact, 0.01));
    const { tunedHz, volumeM3, ql } = built;
    for (const [fitted, wanted] of [
      [tunedHz!, hz],
      [volumeM3, 0.034],
      [ql, 7],
    ] as const) {
      const off = Math.abs(Math.log(fitted.value / wanted));
      expect(off).toBeLessThan(3 * fitted.standardError);
    }
    expect(tunedHz!.standardError).toBeLessThan(0.005);
    expect(ql.standardError).toBeLessThan(0.1);
  });

  test('the port is cut to the length that gives the planned tuning', () => {
    const built = fitMeasuredBox({ driver: woofer, enclosure: plan, air }, exact);
    const wanted = tuningHz(plan.volumeM3, port, air);
    expect(correctedLengthM(built, builtLengthM, wanted, air)).toBeCloseTo(0.12, 4);
  });

  test('only the port is told', () => {
    const told = boxDifferences(
      plan,
      fitMeasuredBox({ driver: woofer, enclosure: plan, air }, exact),
    );
    expect(told.map(({ kind }) => kind)).toEqual(builtLengthM === 0.12 ? [] : ['port']);
    if (told.length > 0)
      expect(told[0].ratio).toBeCloseTo((builtLengthM + 0.0497123) / (0.12 + 0.0497123), 3);
  });
});

test('a leak and a smaller volume are told, not the port', () => {
  const hz = impedanceOf('v1_vented').frequencyHz;
  const leaking: Vented = { ...plan, volumeM3: 0.027, ql: 2.5 };
  const { ohms, zDeg } = boxCurves(
    // A warm coil does not count.
    { driver: { ...woofer, reOhm: 6.1, qes: (0.41 * 6.1) / 5.8 }, enclosure: leaking, air },
    behindResistance(1, 0, hz.length),
    hz,
  );
  const built = fitMeasuredBox(
    { driver: woofer, enclosure: plan, air },
    { frequencyHz: hz, magnitude: ohms, phaseDeg: zDeg },
  );
  expect(boxDifferences(plan, built).map(({ kind }) => kind)).toEqual(['leak', 'volume']);
  expect(built.volumeM3.value).toBeCloseTo(0.027, 5);
});

test('a sealed box with its absorption as planned: volume and leakage', () => {
  const driver: BoxDriver = {
    ...{ fsHz: 52, qms: 3.6, qes: 0.72, vasM3: 0.0095, sdM2: 0.0132, reOhm: 6.1 },
    ...{ leHenry: 0.35e-3, second: { henry: 0.6e-3, ohm: 4.5 } },
  };
  const built = fitMeasuredBox(
    { driver, enclosure: { kind: 'sealed', volumeM3: 0.012, ql: 8, qa: 12 }, air },
    impedanceOf('s2_sealed_lossy'),
  );
  // Losses are stated at fc in the plan's volume: the fit's has the volume that it finds.
  // A sealed box tells volume and suspension hardly apart: 2 % is what an exact impedance leaves.
  expect(Math.abs(built.volumeM3.value / 0.009 - 1)).toBeLessThan(0.02);
  expect(Math.abs(built.ql.value / 15 - 1)).toBeLessThan(0.1);
  expect(built.tunedHz).toBeNull();
  expect(() => correctedLengthM(built, 0.1, 40, air)).toThrow('no port');
});

test('an impedance that begins too high is refused, with what to do', () => {
  const { frequencyHz, magnitude, phaseDeg } = impedanceOf('v1_vented');
  const from = frequencyHz.findIndex((hz) => hz > 30);
  const cut = (values: Float64Array) => values.slice(from);
  expect(() =>
    fitMeasuredBox(
      { driver: woofer, enclosure: plan, air },
      {
        frequencyHz: cut(frequencyHz),
        magnitude: cut(magnitude),
        phaseDeg: cut(phaseDeg!),
      },
    ),
  ).toThrow(/needs 12 from 19 Hz on. Measure it again further down/);
});

describe('a box just as planned whose driver is not as its figures say', () => {
  /** Mass, motor and losses stay: fs, Qes and Qms go with the root of the stiffness. */
  const softer = (driver: BoxDriver, times: number): BoxDriver => ({
    ...driver,
    fsHz: driver.fsHz / Math.sqrt(times),
    vasM3: driver.vasM3 * times,
    qes: driver.qes / Math.sqrt(times),
    qms: driver.qms / Math.sqrt(times),
  });
  const hz = impedanceOf('v1_vented').frequencyHz;
  const measured = (enclosure: Enclosure, times: number): Samples => {
    const source = behindResistance(1, 0, hz.length);
    const { ohms, zDeg } = boxCurves({ driver: softer(woofer, times), enclosure, air }, source, hz);
    return noisy({ frequencyHz: hz, magnitude: ohms, phaseDeg: zDeg }, 0.01);
  };
  const compliances = [0.9, 1, 1.1, 1.17, 1.3];

  test.each(compliances)('vented, compliance × %d: only the driver is told', (times) => {
    const built = fitMeasuredBox({ driver: woofer, enclosure: plan, air }, measured(plan, times));
    const wantedHz = tuningHz(plan.volumeM3, port, air);
    expect(Math.abs(built.tunedHz!.value / wantedHz - 1)).toBeLessThan(0.01);
    expect(Math.abs(built.volumeM3.value / plan.volumeM3 - 1)).toBeLessThan(0.02);
    expect(Math.abs(built.compliance.value / times - 1)).toBeLessThan(0.02);
    expect(boxDifferences(plan, built).map(({ kind }) => kind)).toEqual(
      Math.abs(Math.log(times)) > 0.06 ? ['driver'] : [],
    );
  });

  test.each([
    [0.02, null],
    [0.034, 100],
    [0.015, 40],
  ] as const)('sealed, %d m³, leakage %s: nothing but the driver is told', (volumeM3, ql) => {
    const sealed = { kind: 'sealed', volumeM3, ql, qa: null } as const;
    for (const times of compliances) {
      const built = fitMeasuredBox(
        { driver: woofer, enclosure: sealed, air },
        measured(sealed, times),
      );
      const others = boxDifferences(sealed, built).filter(({ kind }) => kind !== 'driver');
      expect([times, others]).toEqual([times, []]);
    }
  });

  test('an impedance that fits no such box is told nothing of', () => {
    const other = softer({ ...woofer, qes: 0.8, vasM3: 0.09 }, 2);
    const source = behindResistance(1, 0, hz.length);
    const { ohms } = boxCurves(
      { driver: { ...other, leHenry: 3e-3 }, enclosure: { ...plan, volumeM3: 0.01 }, air },
      source,
      hz,
    );
    const dip = ohms.map((ohm, i) => ohm * (1 + 0.2 * Math.sin(hz[i] / 7)));
    const built = fitMeasuredBox(
      { driver: woofer, enclosure: plan, air },
      { frequencyHz: hz, magnitude: dip, phaseDeg: null },
    );
    expect(built.misfit).toBeGreaterThan(mostMisfit);
    expect(boxDifferences(plan, built)).toEqual([]);
  });

  test('peaks are counted: two of a vented box, one of a sealed one', () => {
    const sealed = { kind: 'sealed', volumeM3: 0.02, ql: null, qa: null } as const;
    expect(peakCount(measured(plan, 1), 190)).toBe(2);
    expect(peakCount(measured(sealed, 1), 190)).toBe(1);
  });
});

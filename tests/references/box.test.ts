/** Boxes against full equivalent circuits solved with ngspice, and alignments: see box/SOURCE.md. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { logGrid } from '@/core/grid/logGrid';
import { cornerOverResonance, sealedFor, ventedFor } from '@/core/box/alignments';
import {
  pipeResonanceHz,
  portLengthM,
  tuningHz,
  usualAir,
  type BoxDriver,
  type BoxSystem,
  type Enclosure,
  type Port,
} from '@/core/box/enclosure';
import { boxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';

const folder = join(import.meta.dirname, 'box');
const read = (name: string) => readFileSync(join(folder, name), 'utf8');

interface Case {
  readonly case: string;
  readonly kind: 'sealed' | 'vented' | 'pr';
  readonly driver: Readonly<
    Record<'fs_hz' | 'Qms' | 'Qes' | 'Vas_m3' | 'Sd_m2' | 'Re_ohm' | 'Le_h', number>
  > & { readonly Re2_ohm?: number; readonly Le2_h?: number };
  readonly Vb_m3: number;
  readonly Rg_ohm: number;
  readonly QL: number | null;
  readonly QA: number | null;
  readonly fb_hz?: number;
  readonly port?: { readonly diameter_m: number; readonly count: number; readonly length_m: number };
  readonly passive_radiator?: Readonly<
    Record<'Sd_m2' | 'Mmp_kg' | 'Cmp_m_per_n' | 'Qmp' | 'fp_hz', number>
  >;
}
const { cases } = JSON.parse(read('cases.json')) as { cases: Case[] };
const air = usualAir;
const curvesOf = (system: BoxSystem, hz: Float64Array, ohm = 0) =>
  boxCurves(system, behindResistance(2.83, ohm, hz.length), hz);

const driverOf = ({ driver: d }: Case): BoxDriver => ({
  ...{ fsHz: d.fs_hz, qms: d.Qms, qes: d.Qes, vasM3: d.Vas_m3, sdM2: d.Sd_m2 },
  ...{ reOhm: d.Re_ohm, leHenry: d.Le_h },
  second: d.Le2_h && d.Re2_ohm ? { henry: d.Le2_h, ohm: d.Re2_ohm } : null,
});
const portOf = ({ port }: Case): Port => ({
  ...{ count: port!.count, diameterM: port!.diameter_m, lengthM: port!.length_m },
  ...{ ends: ['flanged', 'free'], qp: null },
});

function systemOf(one: Case): BoxSystem {
  const box = { volumeM3: one.Vb_m3, ql: one.QL, qa: one.QA };
  const passive = one.passive_radiator;
  const enclosure: Enclosure =
    one.kind === 'sealed'
      ? { kind: 'sealed', ...box }
      : one.kind === 'vented'
        ? { kind: 'vented', port: portOf(one), ...box }
        : {
            ...{ kind: 'passive-radiator', ...box },
            passive: {
              ...{ fsHz: passive!.fp_hz, qms: passive!.Qmp, sdM2: passive!.Sd_m2 },
              vasM3:
                passive!.Cmp_m_per_n * air.density * air.speedOfSound ** 2 * passive!.Sd_m2 ** 2,
              ...{ addedMassKg: 0, count: 1 },
            },
          };
  return { driver: driverOf(one), enclosure, air };
}

describe.each(cases)('$case', (one) => {
  const [header, ...rows] = read(`${one.case}.csv`)
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  const column = (name: string) => {
    const at = header.indexOf(name);
    return Float64Array.from(rows, (row) => (at < 0 ? NaN : Number(row[at])));
  };
  const frequencyHz = column('freq_hz');
  const curves = curvesOf(systemOf(one), frequencyHz, one.Rg_ohm);
  const worst = (found: Float64Array, wanted: Float64Array, of: (a: number, b: number) => number) =>
    found.reduce((most, value, i) => Math.max(most, of(value, wanted[i])), 0);
  const apart = (a: number, b: number) => Math.abs(a - b);
  const share = (a: number, b: number) => Math.abs(a / b - 1);

  test('level within 0.001 dB, phase within 0.01°', () => {
    expect(rows.length).toBeGreaterThan(150);
    expect(worst(curves.levelDb, column('spl_total_db'), apart)).toBeLessThan(1e-3);
    expect(worst(curves.coneDb, column('spl_driver_db'), apart)).toBeLessThan(1e-3);
    const turn = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180);
    expect(worst(curves.phaseDeg, column('phase_total_deg'), turn)).toBeLessThan(0.01);
  });

  test('excursion, air speed and impedance within 0.01 %', () => {
    expect(worst(curves.excursionMm, column('excursion_peak_mm'), share)).toBeLessThan(1e-4);
    expect(worst(curves.ohms, column('zin_mag_ohm'), share)).toBeLessThan(1e-4);
    expect(worst(curves.zDeg, column('zin_phase_deg'), apart)).toBeLessThan(0.01);
    const speed = one.kind === 'pr' ? 'pr_velocity_peak_m_per_s' : 'port_velocity_peak_m_per_s';
    if (one.kind !== 'sealed')
      expect(worst(curves.openingSpeed, column(speed), share)).toBeLessThan(1e-4);
  });

  if (one.kind === 'vented')
    test('its tuning, and the length of the port back from it', () => {
      const port = portOf(one);
      expect(tuningHz(one.Vb_m3, port, air)).toBeCloseTo(one.fb_hz!, 6);
      expect(portLengthM(one.Vb_m3, one.fb_hz!, port, air)).toBeCloseTo(port.lengthM, 9);
      expect(pipeResonanceHz(port, air)).toBeGreaterThan(300);
    });
});

/** A driver whose coil is a resistor alone, for alignments. */
const plain = (qts: number, vasM3: number): BoxDriver => ({
  ...{ fsHz: 30, qms: 1e6, qes: qts, vasM3, sdM2: 0.03, reOhm: 6, leHenry: 0, second: null },
});

function f3Of(system: BoxSystem, from: number, to: number): number {
  const level = (hz: number) => curvesOf(system, Float64Array.of(hz)).levelDb[0];
  // Above the system the level is that of the mass: far up it is flat.
  const wanted = level(30_000) - 10 * Math.log10(2);
  let [low, high] = [from, to];
  for (let k = 0; k < 60; k++) {
    const middle = Math.sqrt(low * high);
    if (level(middle) < wanted) low = middle;
    else high = middle;
  }
  return Math.sqrt(low * high);
}

describe('alignments', () => {
  const { vented, sealed } = JSON.parse(read('alignments.json')) as {
    vented: { QL: number | null; Qts: number; h: number; alpha: number; f3_over_fs: number }[];
    sealed: { Qtc: number; f3_over_fc_numeric: number }[];
  };

  test.each(vented)('B4 with QL $QL is found from its Q', ({ QL, Qts, h, alpha }) => {
    const found = ventedFor(Qts + 1e-12, QL)!;
    expect(found.h).toBeCloseTo(h, 5);
    expect(found.alpha).toBeCloseTo(alpha, 5);
  });

  test.each(vented)('B4 with QL $QL reaches its F3', ({ QL, Qts, h, alpha, f3_over_fs }) => {
    const volumeM3 = 0.05;
    const shape: Port = { count: 1, diameterM: 0.07, lengthM: 0, ends: ['flanged', 'free'], qp: null };
    const port = { ...shape, lengthM: portLengthM(volumeM3, 30 * h, shape, air) };
    const enclosure = { kind: 'vented', volumeM3, ql: QL, qa: null, port } as const;
    const system = { driver: plain(Qts, alpha * volumeM3), enclosure, air };
    expect(f3Of(system, 15, 60) / 30).toBeCloseTo(f3_over_fs, 3);
  });

  test.each(sealed)('Qtc $Qtc by its closed form', ({ Qtc, f3_over_fc_numeric }) => {
    expect(cornerOverResonance(Qtc)).toBeCloseTo(f3_over_fc_numeric, 8);
    const box = sealedFor({ fsHz: 30, qts: Qtc / Math.SQRT2 }, Qtc)!;
    expect(box.alpha).toBeCloseTo(1, 9);
    expect(box.fcHz).toBeCloseTo(30 * Math.SQRT2, 9);
  });

  test.each(sealed)('a closed box of Qtc $Qtc reaches its F3', ({ Qtc, f3_over_fc_numeric }) => {
    // Vas as large as the box: fc = √2·fs, Qtc = √2·Qts.
    const volumeM3 = 0.05;
    const enclosure = { kind: 'sealed', volumeM3, ql: null, qa: null } as const;
    const system = { driver: plain(Qtc / Math.SQRT2, volumeM3), enclosure, air };
    expect(f3Of(system, 15, 200) / (30 * Math.SQRT2)).toBeCloseTo(f3_over_fc_numeric, 4);
  });

  test('a coil of 0.6 Ω before a woofer raises its Qes by (Re + 0.6)/Re', () => {
    const volumeM3 = 0.05;
    const enclosure = { kind: 'sealed', volumeM3, ql: null, qa: null } as const;
    const driver = plain(0.4, volumeM3);
    const hz = logGrid(10, 300, 12);
    const behind = curvesOf({ driver, enclosure, air }, hz, 0.6);
    // The same with another Re and as much more Qes, at the voltage that is left.
    const alike = curvesOf(
      { driver: { ...driver, reOhm: 6.6, qes: (0.4 * 6.6) / 6 }, enclosure, air },
      hz,
    );
    behind.levelDb.forEach((db, i) => expect(db).toBeCloseTo(alike.levelDb[i], 9));
  });
});

describe('pipes', () => {
  const driver: BoxDriver = { ...plain(0.4, 0.03), qms: 5 };
  const pipe = (driverAtM: number, flowResistivity = 0): BoxSystem => ({
    ...{ driver, air },
    enclosure: {
      kind: 'line',
      segments: [{ lengthM: 1.5, areaM2: 0.02, flowResistivity }],
      ...{ driverAtM, end: 'open' },
    },
  });
  const hz = logGrid(20, 400, 96);
  const mouth = (system: BoxSystem) => curvesOf(system, hz).openingDb;
  const at = (level: Float64Array, wanted: number) =>
    level[hz.reduce((best, one, i) => (Math.abs(one - wanted) < Math.abs(hz[best] - wanted) ? i : best), 0)];
  // A quarter of a wave in the length with its end correction, closed form.
  const quarter = air.speedOfSound / (4 * (1.5 + 0.6133 * Math.sqrt(0.02 / Math.PI)));

  test('resonate at odd quarter waves of their length with its end correction', () => {
    const pressure = curvesOf(pipe(0), hz).boxPressure;
    for (const mode of [3, 5]) {
      // Where the load is greatest the cone is held: the pressure over its flow peaks.
      const flow = curvesOf(pipe(0), hz).coneDb.map(
        (db, i) => 10 ** (db / 20) / hz[i],
      );
      const load = pressure.map((p, i) => p / flow[i]);
      const near = [...hz.keys()].filter((i) => Math.abs(Math.log2(hz[i] / (mode * quarter))) < 0.3);
      const top = near.reduce((best, i) => (load[i] > load[best] ? i : best));
      expect(Math.abs(hz[top] / (mode * quarter) - 1)).toBeLessThan(0.02);
    }
  });

  test('a driver a third along does not make the three-quarter-wave mode', () => {
    // Of the length with its end correction: there the mode's pressure is nought.
    const along = air.speedOfSound / (12 * quarter);
    const [end, third] = [0, along].map((place) => mouth(pipe(place)));
    const share = (level: Float64Array) => at(level, 3 * quarter) - at(level, quarter);
    expect(share(end) - share(third)).toBeGreaterThan(10);
  });

  test('filling takes the higher modes away before the lowest', () => {
    const [bare, filled] = [0, 2500].map((resistivity) => mouth(pipe(0, resistivity)));
    const loss = (hertz: number) => at(bare, hertz) - at(filled, hertz);
    expect(loss(5 * quarter)).toBeGreaterThan(loss(quarter) + 3);
  });

  test('a short closed pipe is a closed box of its volume', () => {
    const short = { lengthM: 0.1, areaM2: 0.2, flowResistivity: 0 };
    const line = curvesOf(
      {
        ...{ driver, air },
        enclosure: { kind: 'line', segments: [short], driverAtM: 0, end: 'closed' },
      },
      hz,
    );
    const box = curvesOf(
      { driver, air, enclosure: { kind: 'sealed', volumeM3: 0.02, ql: null, qa: null } },
      hz,
    );
    line.levelDb.forEach((db, i) => {
      if (hz[i] < 200) expect(Math.abs(db - box.levelDb[i])).toBeLessThan(0.1);
    });
  });
});

test('an open baffle falls by 6 dB an octave more than the cone, and its first peak adds 6 dB', () => {
  const pathM = 0.5;
  const hz = Float64Array.of(20, 40, air.speedOfSound / (2 * pathM));
  const { levelDb, coneDb } = curvesOf(
    {
      driver: plain(0.7, 0.1),
      enclosure: { kind: 'open-baffle', pathM },
      air,
    },
    hz,
  );
  const loss = levelDb.map((db, i) => db - coneDb[i]);
  // 2·sin(kD/2), by hand.
  hz.forEach((one, i) =>
    expect(loss[i]).toBeCloseTo(
      20 * Math.log10(2 * Math.sin((Math.PI * one * pathM) / air.speedOfSound)),
      9,
    ),
  );
  expect(loss[2]).toBeCloseTo(6.02, 2);
});

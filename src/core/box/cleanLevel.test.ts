import { cleanLevel, type BoxLimits } from './cleanLevel';
import { portLengthM, usualAir, type BoxDriver, type Port } from './enclosure';
import { boxCurves } from './response';
import { behindResistance } from './source';

const driver: BoxDriver = {
  ...{ fsHz: 32, qms: 4.5, qes: 0.42, vasM3: 0.08, sdM2: 0.033, reOhm: 5.7, leHenry: 0.9e-3 },
  second: null,
};
const shape: Port = { count: 1, diameterM: 0.07, lengthM: 0, ends: ['flanged', 'free'], qp: null };
const port = { ...shape, lengthM: portLengthM(0.045, 34, shape, usualAir) };
const enclosure = { kind: 'vented', volumeM3: 0.045, ql: 7, qa: null, port } as const;
const hz = Float64Array.of(20, 34, 60, 300);
const at = (volts: number) =>
  boxCurves({ driver, enclosure, air: usualAir }, behindResistance(volts, 0, 4), hz);
const all: BoxLimits = { excursionMm: 6, openingSpeed: 17, watts: 80, timesVolts: 6 };

test('played at its clean level the system just reaches what limits it', () => {
  const { db, by } = cleanLevel(at(2.83), all);
  expect(by).toEqual(['excursion', 'opening', expect.any(String), 'amplifier']);
  db.forEach((level, i) => {
    const volts = 2.83 * 10 ** ((level - at(2.83).levelDb[i]) / 20);
    const played = at(volts);
    expect(played.levelDb[i]).toBeCloseTo(level, 9);
    const reached = {
      excursion: played.excursionMm[i] / 6,
      opening: played.openingSpeed[i] / 17,
      power: played.watts[i] / 80,
      amplifier: volts / (6 * 2.83),
    };
    expect(reached[by[i]!]).toBeCloseTo(1, 9);
    expect(Math.max(...Object.values(reached))).toBeCloseTo(1, 9);
  });
});

test('power is that of the current in the resistive part of the impedance', () => {
  const { watts, ohms, zDeg } = at(2.83);
  watts.forEach((watt, i) =>
    expect(watt).toBeCloseTo((2.83 ** 2 / ohms[i]) * Math.cos((zDeg[i] * Math.PI) / 180), 9),
  );
});

test('without limits there is none', () => {
  const none: BoxLimits = { excursionMm: null, openingSpeed: null, watts: null, timesVolts: null };
  const { db, by } = cleanLevel(at(2.83), none);
  expect([...db].every((level) => level === Infinity)).toBe(true);
  expect(by.every((limit) => limit === null)).toBe(true);
});

test('a sealed box has no opening to limit it', () => {
  const curves = boxCurves(
    {
      driver,
      air: usualAir,
      enclosure: { kind: 'sealed', volumeM3: 0.03, ql: null, qa: null },
    },
    behindResistance(2.83, 0, 4),
    hz,
  );
  expect(cleanLevel(curves, all).by).not.toContain('opening');
});

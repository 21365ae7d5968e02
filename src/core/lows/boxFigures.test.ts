/** Figures of levels that are known exactly: filters of Butterworth's and Linkwitz's sealed box. */
import { usualAir, type BoxSystem } from '@/core/box/enclosure';
import { boxCurves } from '@/core/box/response';
import { behindResistance } from '@/core/box/source';
import { excursionCrestFactor } from '@/core/document/programme';
import { designGridHz } from '@/core/grid/logGrid';
import {
  cleanFromF3,
  isShortOfLevel,
  groupDelaysMs,
  lowsShape,
  plateauDb,
  programmePeak,
  stepOf,
  stepTimesMs,
} from './boxFigures';
import { lowsGridHz } from './setting';

const hz = lowsGridHz();
const none = new Float64Array(hz.length);
/** High-pass of second order at a frequency, dB over its pass band. */
const highPass = (cornerHz: number, q: number) =>
  hz.map((f) => {
    const x = f / cornerHz;
    return 10 * Math.log10(x ** 4 / ((1 - x * x) ** 2 + (x / q) ** 2));
  });
const butterworth = (cornerHz: number) => highPass(cornerHz, Math.SQRT1_2);

describe('cut-offs and hump', () => {
  test('a Butterworth high-pass is 3 dB down at its corner and 10 dB at 3^−½ of it', () => {
    const shape = lowsShape(hz, butterworth(40), none, 0, 200);
    // |H|² = x⁴/(1 + x⁴): half at 1, a tenth at (1/9)^¼.
    expect(shape.f3Hz).toBeCloseTo(40, 0);
    expect(shape.f10Hz! / 40).toBeCloseTo((1 / 9) ** 0.25, 2);
    expect(shape.humpDb).toBeLessThan(0.03);
  });

  test('a higher Q has the hump of the textbook: 20·log(Q²/√(Q² − ¼))', () => {
    for (const q of [1, 1.4, 2]) {
      const { humpDb } = lowsShape(hz, highPass(45, q), none, 0, 200);
      const plateau = plateauDb(hz, highPass(45, q));
      expect(humpDb + plateau).toBeCloseTo(20 * Math.log10(q ** 2 / Math.sqrt(q ** 2 - 0.25)), 1);
    }
  });

  test('the level itself does not matter, only what it falls from', () => {
    const loud = butterworth(52).map((db) => db + 91);
    const [a, b] = [
      lowsShape(hz, loud, none, 91, 200),
      lowsShape(hz, butterworth(52), none, 0, 200),
    ];
    expect(a.f3Hz).toBeCloseTo(b.f3Hz!, 9);
    expect(a.humpDb).toBeCloseTo(b.humpDb, 9);
    // Without a reference its own plateau is one.
    expect(lowsShape(hz, loud, none, null, 200).f3Hz).toBeCloseTo(a.f3Hz!, 0);
  });

  test('what never falls reaches down to the lowest frequency that is looked at', () =>
    expect(lowsShape(hz, none, none, 0, 200)).toMatchObject({ f3Hz: 10, f10Hz: 10, humpDb: 0 }));

  test('a hump above 150 Hz is not one of the lows', () => {
    const level = butterworth(40).map((db, i) => db + (hz[i] > 400 ? 6 : 0));
    expect(lowsShape(hz, level, none, 0, 200).humpDb).toBeLessThan(0.1);
  });
});

describe('group delay', () => {
  test('a pure delay is its own', () => {
    const phase = hz.map((f) => -360 * f * 0.004);
    for (const ms of groupDelaysMs(hz, phase)) expect(ms).toBeCloseTo(4, 6);
  });

  test('a Butterworth high-pass has √2/ωc at its corner, wrapped or not', () => {
    const phase = hz.map((f) => {
      const x = f / 40;
      return (180 / Math.PI) * (Math.PI - Math.atan2(Math.SQRT2 * x, 1 - x * x));
    });
    const at = hz.findIndex((f) => f >= 40);
    const expected = (1000 * Math.SQRT2) / (2 * Math.PI * 40);
    expect(groupDelaysMs(hz, phase)[at]).toBeCloseTo(expected, 1);
    const turned = phase.map((deg) => deg - 360 * Math.round(deg / 360));
    groupDelaysMs(hz, turned).forEach((ms, i) =>
      expect(ms).toBeCloseTo(groupDelaysMs(hz, phase)[i], 6),
    );
  });

  test('only what is above F3 counts for the figure', () => {
    const delays = hz.map((f) => (f < 39 ? 100 : 12));
    expect(lowsShape(hz, butterworth(40), delays, 0, 200).groupDelayMs).toBe(12);
  });
});

describe('clean level', () => {
  const told = {
    db: hz.map((f) => 80 + 20 * Math.log10(f / 40)),
    by: Array.from(hz, () => null),
  };

  test('the least from F3 to an octave above', () => {
    const level = butterworth(40);
    expect(cleanFromF3(hz, told, 40, level, level)).toBeCloseTo(80, 0);
    expect(cleanFromF3(hz, told, 80, level, level)).toBeCloseTo(86, 0);
  });

  test('none without an F3, and none of a box that leaves the lows to another', () => {
    const level = butterworth(40);
    expect(cleanFromF3(hz, told, null, level, level)).toBeNull();
    const mid = level.map((db) => db - 14);
    expect(cleanFromF3(hz, told, 40, mid, level)).toBeNull();
    const half = level.map((db) => db - 6);
    expect(cleanFromF3(hz, told, 40, half, level)).not.toBeNull();
  });
});

test('half a decibel may be lacking; what is not known lacks nothing', () => {
  expect(isShortOfLevel(98.4, 99)).toBe(true);
  expect(isShortOfLevel(98.6, 99)).toBe(false);
  expect(isShortOfLevel(120, 99)).toBe(false);
  expect([isShortOfLevel(null, 99), isShortOfLevel(80, null)]).toEqual([false, false]);
});

describe('peaks under programme', () => {
  test('of a quantity that is the same at all frequencies: its rms share of the lows', () => {
    // A sine’s peak of 1 everywhere is 1/√2 rms; the programme’s share on this grid is below 1.
    const flat = programmePeak(
      hz,
      none.map(() => 1),
      1,
    );
    expect(flat).toBeGreaterThan(0.3 * excursionCrestFactor * Math.SQRT1_2);
    expect(flat).toBeLessThan(excursionCrestFactor * Math.SQRT1_2);
    // On the whole grid of a prediction all of it counts.
    const whole = designGridHz();
    const all = programmePeak(
      whole,
      whole.map(() => 1),
      1,
    );
    expect(all).toBeCloseTo(excursionCrestFactor * Math.SQRT1_2, 1);
  });

  test('it is as many times the voltage, and adds up as squares', () => {
    const low = hz.map((f) => (f < 60 ? 1 : 0));
    const high = hz.map((f) => (f < 60 ? 0 : 1));
    const [a, b, both] = [low, high, none.map(() => 1)].map((of) => programmePeak(hz, of, 1));
    expect(Math.hypot(a, b)).toBeCloseTo(both, 9);
    expect(programmePeak(hz, low, 2.5)).toBeCloseTo(2.5 * a, 9);
  });

  test('below 20 Hz a programme has nothing', () =>
    expect(
      programmePeak(
        hz,
        hz.map((f) => (f < 19 ? 1 : 0)),
        1,
      ),
    ).toBe(0));
});

describe('a step of voltage', () => {
  /** A sealed system whose resonance and Q are stated; no coil, hardly any losses but electrical. */
  const sealed = (fcHz: number, qtc: number): BoxSystem => ({
    air: usualAir,
    driver: {
      ...{ fsHz: fcHz / Math.SQRT2, qms: 1e6, qes: qtc / Math.SQRT2, vasM3: 0.05, sdM2: 0.03 },
      ...{ reOhm: 6, leHenry: 0, second: null },
    },
    enclosure: { kind: 'sealed', volumeM3: 0.05, ql: null, qa: null },
  });

  test('a critically damped box answers with (1 − ωt)·e^(−ωt)', () => {
    const step = stepOf(sealed(40, 0.5), 0);
    const omega = 2 * Math.PI * 40;
    const exact = stepTimesMs.map(
      (ms) => (1 - (omega * ms) / 1000) * Math.exp((-omega * ms) / 1000),
    );
    // The first two milliseconds are those of what was faded out above the lows.
    for (let k = 5; k < stepTimesMs.length; k++)
      expect(Math.abs(step[k] - exact[k])).toBeLessThan(0.05);
  });

  test('a low Q swings at most once under zero, a high one rings', () => {
    const swings = (q: number) => {
      const step = stepOf(sealed(40, q), 0);
      let count = 0;
      for (let k = 6; k < step.length; k++)
        if (Math.sign(step[k]) !== Math.sign(step[k - 1]) && Math.abs(step[k]) > 1e-3) count++;
      return count;
    };
    expect(swings(0.5)).toBeLessThanOrEqual(1);
    expect(swings(2)).toBeGreaterThan(swings(0.71));
  });

  test('in the end nothing is left: no box holds a pressure', () => {
    const step = stepOf(sealed(50, 0.7), 0);
    expect(Math.abs(step[step.length - 1])).toBeLessThan(0.02);
  });

  test('a resistance before the driver is heard in it', () => {
    const [bare, behind] = [0, 3].map((ohm) => stepOf(sealed(40, 0.7), ohm));
    const apart = bare.reduce((most, value, k) => Math.max(most, Math.abs(value - behind[k])), 0);
    expect(apart).toBeGreaterThan(0.03);
  });
});

test('the grid of the lows is two decades of a sealed box that is solved as stated', () => {
  expect(hz[0]).toBe(10);
  expect(Math.abs(Math.log2(hz[hz.length - 1] / 1000))).toBeLessThan(1 / 36);
  const system: BoxSystem = {
    air: usualAir,
    driver: {
      ...{
        fsHz: 30,
        qms: 4,
        qes: 0.5,
        vasM3: 0.08,
        sdM2: 0.033,
        reOhm: 6,
        leHenry: 0,
        second: null,
      },
    },
    enclosure: { kind: 'sealed', volumeM3: 0.04, ql: null, qa: null },
  };
  const { levelDb } = boxCurves(system, behindResistance(2.83, 0, hz.length), hz);
  const fc = 30 * Math.sqrt(3);
  const qts = (4 * 0.5) / 4.5;
  const expected = highPass(fc, qts * Math.sqrt(3));
  const level = levelDb[levelDb.length - 1] - expected[expected.length - 1];
  levelDb.forEach((db, i) => expect(Math.abs(db - level - expected[i])).toBeLessThan(0.01));
});

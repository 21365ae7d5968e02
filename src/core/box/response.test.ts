import { logGrid } from '@/core/grid/logGrid';
import { usualAir, type BoxDriver } from './enclosure';
import { boxCurves } from './response';
import { behindResistance, sourceFromLoads } from './source';
import { together, type Joined } from './together';

const air = usualAir;
const driver: BoxDriver = {
  ...{ fsHz: 32, qms: 4.5, qes: 0.42, vasM3: 0.08, sdM2: 0.033, reOhm: 5.7, leHenry: 0.9e-3 },
  second: { henry: 0.5e-3, ohm: 8 },
};
const sealed = (volumeM3: number) => ({ kind: 'sealed', volumeM3, ql: 12, qa: 30 }) as const;
const hz = logGrid(10, 2000, 24);
const worst = (of: (i: number) => number) =>
  hz.reduce((most, _, i) => Math.max(most, Math.abs(of(i))), 0);

describe('several drivers', () => {
  const source = behindResistance(2.83, 0, hz.length);
  const one = boxCurves({ driver, enclosure: sealed(0.04), air }, source, hz);

  test.each<[Joined, number, number]>([
    ['parallel', 6.0206, 1 / 2],
    ['series', 0, 2],
  ])('two in %s with twice the box', (joined, moreDb, timesOhms) => {
    const pair = together(driver, 2, joined);
    const two = boxCurves({ driver: pair, enclosure: sealed(0.08), air }, source, hz);
    expect(worst((i) => two.levelDb[i] - one.levelDb[i] - moreDb)).toBeLessThan(1e-4);
    expect(worst((i) => two.ohms[i] / one.ohms[i] / timesOhms - 1)).toBeLessThan(1e-9);
    const half = joined === 'series' ? 2 : 1;
    expect(worst((i) => (two.excursionMm[i] * half) / one.excursionMm[i] - 1)).toBeLessThan(1e-9);
  });

  it.each([0, 1.5, NaN])('refuses %s of them', (count) => {
    expect(() => together(driver, count, 'series')).toThrow('a whole number from 1 on');
  });
});

describe('sources', () => {
  // 2.83 V through a coil of 1.8 mH and 0.4 Ω, a capacitor of 47 µF across.
  const [coil, dcr, farad] = [1.8e-3, 0.4, 47e-6];
  const network = (ohm: number) => {
    const re = new Float64Array(hz.length);
    const im = new Float64Array(hz.length);
    hz.forEach((one, i) => {
      const omega = 2 * Math.PI * one;
      // 1 + Z·Y of the series arm and what is across.
      const [yRe, yIm] = [1 / ohm, omega * farad];
      const [dRe, dIm] = [1 + dcr * yRe - omega * coil * yIm, dcr * yIm + omega * coil * yRe];
      const size = dRe * dRe + dIm * dIm;
      re[i] = (2.83 * dRe) / size;
      im[i] = (-2.83 * dIm) / size;
    });
    return { ohm, volts: { re, im } };
  };

  test('a network by two loads is its open voltage behind coil and capacitor side by side', () => {
    const source = sourceFromLoads([network(8), network(3)]);
    const open = network(1e12).volts;
    expect(worst((i) => source.voltsRe[i] - open.re[i])).toBeLessThan(1e-8);
    expect(worst((i) => source.voltsIm[i] - open.im[i])).toBeLessThan(1e-8);
    hz.forEach((one, i) => {
      const omega = 2 * Math.PI * one;
      // (r + jωL) / (1 − ω²LC + jωrC)
      const [bRe, bIm] = [1 - omega * omega * coil * farad, omega * dcr * farad];
      const size = bRe * bRe + bIm * bIm;
      expect(source.ohmRe[i]).toBeCloseTo((dcr * bRe + omega * coil * bIm) / size, 8);
      expect(source.ohmIm[i]).toBeCloseTo((omega * coil * bRe - dcr * bIm) / size, 8);
    });
  });

  test('a coil before the driver is as much more of its own inductance', () => {
    const source = behindResistance(2.83, 0, hz.length);
    hz.forEach((one, i) => (source.ohmIm[i] = 2 * Math.PI * one * 1e-3));
    const before = boxCurves({ driver, enclosure: sealed(0.04), air }, source, hz);
    const within = boxCurves(
      { driver: { ...driver, leHenry: 1.9e-3 }, enclosure: sealed(0.04), air },
      behindResistance(2.83, 0, hz.length),
      hz,
    );
    expect(worst((i) => before.levelDb[i] - within.levelDb[i])).toBeLessThan(1e-9);
    expect(worst((i) => before.phaseDeg[i] - within.phaseDeg[i])).toBeLessThan(1e-9);
  });

  test('are refused where they do not fit', () => {
    expect(() => sourceFromLoads([network(8), network(8)])).toThrow('both are the same');
    expect(() =>
      boxCurves({ driver, enclosure: sealed(0.04), air }, behindResistance(1, 0, 3), hz),
    ).toThrow('3 values for');
  });
});

import { heardWay } from '../../../tests/fixtures';
import { logGrid } from '@/core/grid/logGrid';
import { phaseTrackingDeg } from './crossoverLoss';
import { crossovers } from './crossovers';
import {
  deviationDb,
  equivalentOhms,
  levelDifferenceDb,
  lowestEquivalentOhms,
  lowestOhms,
  meanLevelDb,
  cutOffHz,
  sensitivityDb,
  targetBandDb,
} from './figures';
import { flatTarget } from '@/core/document/briefSchema';
import type { Prediction } from './prediction';

const grid = logGrid(20, 20_000, 48);
const band = { fromHz: 200, toHz: 15_000 };
/** |H| of a Butterworth high pass, dB: 1/√(1 + (fc/f)^2n) (Butterworth 1930). */
const highPassDb = (hz: number, corner: number, order: number) =>
  -10 * Math.log10(1 + (corner / hz) ** (2 * order));
const predicted = (parts: Partial<Prediction>) =>
  ({ frequencyHz: grid, ways: [], impedance: null, loads: [], ...parts }) as unknown as Prediction;
const silent = grid.map(() => -Infinity);

describe('levels over a band', () => {
  test('the mean counts octaves alike and leaves silence out', () => {
    // A slope of 6 dB per octave has its mean at the geometric middle.
    const slope = grid.map((hz) => 6 * Math.log2(hz / 1000));
    expect(Math.abs(meanLevelDb(grid, slope, { fromHz: 500, toHz: 2000 })!)).toBeLessThan(0.1);
    const half = slope.map((db, i) => (grid[i] < 1000 ? -Infinity : db));
    expect(meanLevelDb(grid, half, { fromHz: 500, toHz: 2000 })).toBeCloseTo(2.95, 2);
    expect(meanLevelDb(grid, silent, band)).toBeNull();
  });

  test('the deviation is half the height around the target, and says where', () => {
    const bumps = grid.map((hz) => 88 + (hz > 900 && hz < 1100 ? 3 : hz > 5000 ? -1 : 0));
    const found = deviationDb(grid, bumps, flatTarget, band)!;
    expect(found.value).toBeCloseTo(2, 9);
    expect(found.atHz).toBeGreaterThan(900);
    expect(found.atHz).toBeLessThan(1100);
    // Against a target with the same tilt nothing is left.
    const tilt = { kind: 'tilt', ...band, dbPerOctave: -1 } as const;
    const tilted = grid.map((hz) => 88 - Math.log2(hz / 1000));
    expect(deviationDb(grid, tilted, tilt, band)!.value).toBeCloseTo(0, 9);
    expect(deviationDb(grid, silent, flatTarget, band)).toBeNull();
  });

  test('the band around the target holds the curve exactly when its limit is the deviation', () => {
    const wavy = grid.map((hz) => 88 + 2 * Math.sin(7 * Math.log2(hz)));
    const limit = deviationDb(grid, wavy, flatTarget, band)!.value;
    const { high, low } = targetBandDb(grid, wavy, flatTarget, band, limit)!;
    grid.forEach((hz, i) => {
      if (hz < band.fromHz * 0.999 || hz > band.toHz * 1.001) {
        expect(high[i]).toBeNaN();
        return;
      }
      expect(wavy[i]).toBeLessThanOrEqual(high[i] + 1e-9);
      expect(wavy[i]).toBeGreaterThanOrEqual(low[i] - 1e-9);
    });
    expect(targetBandDb(grid, silent, flatTarget, band, 1)).toBeNull();
  });

  test('the difference of two levels is not a number where either is silent', () => {
    const [a, b] = [Float64Array.of(3, -Infinity, 5), Float64Array.of(1, 2, -Infinity)];
    expect([...levelDifferenceDb(a, b)]).toEqual([2, NaN, NaN]);
  });
});

describe('reach', () => {
  test('of a Butterworth high pass is its corner at −3 dB, and in closed form at −10 dB', () => {
    const level = grid.map((hz) => 90 + highPassDb(hz, 45, 2));
    // 10·lg(1 + (fc/f)⁴) = d gives f = fc/(10^(d/10) − 1)^¼.
    expect(cutOffHz(grid, level, 3.0103)).toBeCloseTo(45, 1);
    expect(cutOffHz(grid, level, 10)).toBeCloseTo(45 / (10 - 1) ** 0.25, 1);
  });

  test('is the end of the curve when it does not fall that far, and unknown without a level', () => {
    expect(
      cutOffHz(
        grid,
        grid.map(() => 90),
        3,
      ),
    ).toBe(grid[0]);
    expect(cutOffHz(grid, silent, 3)).toBeNull();
    const cut = grid.map((hz) => (hz < 80 ? -Infinity : 90));
    expect(cutOffHz(grid, cut, 3)! / 80).toBeCloseTo(1, 1);
  });
});

describe('reach', () => {
  const box = grid.map((hz) => 90 + highPassDb(hz, 120, 2));
  const corner = cutOffHz(grid, box, 3)!;

  test('a hump, hum or noise under the first fall is no reach', () => {
    expect(corner).toBeGreaterThan(115);
    expect(corner).toBeLessThan(122);
    // A port's hump at 45 Hz that comes within 2 dB: before, it made a reach of 42 Hz of it.
    const hump = box.map((db, i) => (grid[i] > 42 && grid[i] < 48 ? 88 : db));
    expect(cutOffHz(grid, hump, 3)).toBeCloseTo(corner, 9);
    expect(cutOffHz(grid, hump, 10)! / cutOffHz(grid, box, 10)!).toBeCloseTo(1, 9);
  });

  test('only a dip narrower than a ninth of an octave is forgiven (IEC 60268-5)', () => {
    const low = grid.map((hz) => 90 + highPassDb(hz, 40, 2));
    const own = cutOffHz(grid, low, 3)!;
    const dip = (octaves: number) =>
      low.map((db, i) => (Math.abs(Math.log2(grid[i] / 90)) < octaves / 2 ? db - 12 : db));
    expect(cutOffHz(grid, dip(0.06), 3)).toBeCloseTo(own, 9);
    expect(cutOffHz(grid, dip(0.3), 3)).toBeGreaterThan(90);
  });

  test('a dip at a crossover is no end of the lows, on whichever side of 300 Hz it lies', () => {
    const low = grid.map((hz) => 90 + highPassDb(hz, 60, 2));
    const own = cutOffHz(grid, low, 3)!;
    for (const [atHz, octaves] of [
      [420, 0.5],
      [280, 0.6],
      [230, 0.3],
    ]) {
      const dip = low.map((db, i) =>
        Math.abs(Math.log2(grid[i] / atHz)) < octaves / 2 ? db - 5 : db,
      );
      // The dip takes something from the mean that it is told from.
      expect(Math.abs(cutOffHz(grid, dip, 3)! / own - 1)).toBeLessThan(0.1);
    }
  });

  test('it is searched from where the level is there, even if that is above 300 Hz', () => {
    const small = grid.map((hz) => 90 + highPassDb(hz, 400, 4));
    expect(cutOffHz(grid, small, 3)!).toBeGreaterThan(330);
    expect(cutOffHz(grid, silent, 3)).toBeNull();
  });
});

describe('voltage at the terminals', () => {
  test('sensitivity is that at 2.83 V there, whatever resistance is before them', () => {
    // 8 Ω at 60° and 2.5 Ω before it: |Z/(Z + R)| by hand.
    const [ohms, phaseDeg] = [grid.map(() => 8), grid.map(() => 60)];
    const loss = 20 * Math.log10(8 / Math.hypot(8 * 0.5 + 2.5, 8 * Math.sin(Math.PI / 3)));
    const at = (outputOhms: number, levelDb: number) =>
      sensitivityDb(
        predicted({
          sum: { levelDb: grid.map(() => levelDb), pressure: { re: grid, im: grid } },
          impedance: { ohms, phaseDeg },
        }),
        { volts: Math.sqrt(8), outputOhms, cableOhms: 0 },
      );
    expect(at(0, 88)).toBeCloseTo(88, 9);
    expect(at(2.5, 88 + loss)).toBeCloseTo(88, 9);
  });

  test('with several amplifiers the hardest load is the one of least equivalent resistance', () => {
    const load = (ohms: number, degrees: number) => ({
      pairId: 'p',
      name: 'p',
      ohms: grid.map(() => ohms),
      phaseDeg: grid.map(() => degrees),
    });
    const found = lowestEquivalentOhms(predicted({ loads: [load(4, 0), load(5, 60)] }))!;
    // 5 Ω at 60° are 0.278 · 5 = 1.39 Ω, though |Z| is larger.
    expect(found.value).toBeCloseTo(1.39, 1);
    expect(found.ohms).toBe(5);
  });
});

describe('load', () => {
  test('its lowest places are found; none without an impedance', () => {
    const ohms = grid.map((hz) => 6 + 3 * Math.abs(Math.log2(hz / 1000)));
    const phaseDeg = grid.map((hz) => (hz > 3000 && hz < 3200 ? 60 : 0));
    const prediction = predicted({ impedance: { ohms, phaseDeg } });
    expect(lowestOhms(prediction)!.value).toBeCloseTo(6, 1);
    expect(lowestOhms(prediction)!.atHz / 1000).toBeCloseTo(1, 1);
    const worst = lowestEquivalentOhms(prediction)!;
    expect(worst.atHz).toBeGreaterThan(3000);
    expect(worst.value).toBeLessThan(6);
    expect(lowestOhms(predicted({}))).toBeNull();
    expect(lowestEquivalentOhms(predicted({}))).toBeNull();
  });

  test('a resistor is its own equivalent; the sign of the phase does not matter', () => {
    expect(equivalentOhms(8, 0)).toBeCloseTo(8, 12);
    expect(equivalentOhms(8, -45)).toBe(equivalentOhms(8, 45));
    // By brute force over the moment: the greatest (1 − sin x)·sin(x − θ) against a quarter.
    for (const degrees of [15, 45, 80]) {
      const theta = (degrees * Math.PI) / 180;
      let most = 0;
      // While the current flows through this half of the stage.
      for (let x = -theta; x < Math.PI - theta; x += 1e-4)
        most = Math.max(most, (1 - Math.sin(x)) * Math.sin(x + theta));
      expect(equivalentOhms(1, degrees)).toBeCloseTo(0.25 / most, 4);
    }
  });
});

describe('handing over', () => {
  const low = grid.map((hz) => 90 - 10 * Math.log10(1 + (hz / 2000) ** 4));
  const high = grid.map((hz) => 90 + highPassDb(hz, 2000, 2));

  test('is where two slopes of one corner are equal, whatever the order of the ways', () => {
    for (const ways of [
      [heardWay('low', low), heardWay('high', high)],
      [heardWay('high', high), heardWay('low', low), heardWay('silent', silent)],
    ]) {
      const [found, ...others] = crossovers(predicted({ ways }));
      expect(others).toEqual([]);
      expect([found.lower.wayId, found.upper.wayId]).toEqual(['low', 'high']);
      expect(found.atHz).toBeCloseTo(2000, 0);
    }
  });

  test('of several crossings the loudest counts', () => {
    const twice = high.map((db, i) => (grid[i] > 60 && grid[i] < 100 ? 95 : db));
    const quiet = low.map((db, i) => (grid[i] > 60 && grid[i] < 100 ? 40 : db));
    const found = crossovers(
      predicted({
        ways: [
          heardWay('low', quiet),
          heardWay(
            'high',
            twice.map((db, i) => (grid[i] < 120 ? db - 60 : db)),
          ),
        ],
      }),
    );
    expect(found.at(-1)!.atHz).toBeCloseTo(2000, 0);
  });

  test('phase between neighbours counts where both are heard, by the shorter way round', () => {
    const flat = (degrees: number) => grid.map(() => degrees);
    const tracked = (a: number, b: number) =>
      phaseTrackingDeg(
        predicted({ ways: [heardWay('low', low, flat(a)), heardWay('high', high, flat(b))] }),
      )!;
    expect(tracked(10, 40).value).toBeCloseTo(30, 9);
    expect(tracked(170, -170).value).toBeCloseTo(20, 9);
    expect(tracked(-350, 350).value).toBeCloseTo(20, 9);
    const turned = grid.map((hz) => (hz > 1900 && hz < 2100 ? 50 : 0));
    const worst = phaseTrackingDeg(
      predicted({ ways: [heardWay('low', low, turned), heardWay('high', high, flat(0))] }),
    )!;
    expect(worst.value).toBeCloseTo(50, 9);
    expect(worst.atHz / 2000).toBeCloseTo(1, 0);
    expect(phaseTrackingDeg(predicted({ ways: [heardWay('low', low)] }))).toBeNull();
  });
});

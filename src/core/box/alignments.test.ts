import { logGrid } from '@/core/grid/logGrid';
import { sealedFor, ventedFor, ventedPolynomial } from './alignments';
import { portLengthM, usualAir, type BoxDriver, type Port } from './enclosure';
import { boxCurves } from './response';
import { behindResistance } from './source';

const air = usualAir;

/** Level over that far above, dB, by the whole circuit with a coil that is a resistor alone. */
function shapeOf(qts: number, ql: number | null, frequencyHz: Float64Array): Float64Array {
  const { h, alpha } = ventedFor(qts, ql)!;
  const volumeM3 = 0.05;
  const driver: BoxDriver = {
    ...{ fsHz: 30, qms: 1e13, qes: qts, vasM3: alpha * volumeM3, sdM2: 0.03, reOhm: 6 },
    ...{ leHenry: 0, second: null },
  };
  const shape: Port = { count: 1, diameterM: 0.05, lengthM: 0, ends: ['free', 'free'], qp: null };
  const port = { ...shape, lengthM: portLengthM(volumeM3, 30 * h, shape, air) };
  const enclosure = { kind: 'vented', volumeM3, ql, qa: null, port } as const;
  const all = Float64Array.of(...frequencyHz, 1e6);
  const { levelDb } = boxCurves(
    { driver, enclosure, air },
    behindResistance(1, 0, all.length),
    all,
  );
  return levelDb.slice(0, -1).map((db) => db - levelDb[levelDb.length - 1]);
}

describe.each([null, 20, 7, 3])('vented boxes with leakage QL %s', (ql) => {
  test.each([0.2, 0.25, 0.3, 0.33])('Q %s: third order of flatness', (qts) => {
    expect(ventedFor(qts, ql)!.family).toBe('quasi-Butterworth');
    // 1/|G|² − 1 = B²/ω⁶: twice the frequency, a 64th.
    const [low, high] = shapeOf(qts, ql, Float64Array.of(600, 1200)).map(
      (db) => 10 ** (-db / 10) - 1,
    );
    expect(low / high).toBeGreaterThan(62);
    expect(low / high).toBeLessThan(66);
    // It never rises above the level far up.
    expect(Math.max(...shapeOf(qts, ql, logGrid(10, 300, 24)))).toBeLessThan(0.001);
  });

  test.each([0.48, 0.5, 0.55])('Q %s: ripple of one height', (qts) => {
    expect(ventedFor(qts, ql)!.family).toBe('Chebyshev');
    const level = shapeOf(qts, ql, logGrid(10, 3000, 192));
    const turns = [...level.keys()].filter(
      (i) =>
        i > 0 && i < level.length - 1 && (level[i] - level[i - 1]) * (level[i + 1] - level[i]) < 0,
    );
    // Two maxima and one minimum between them; far up it ends at a minimum.
    const [tops, dips] = [true, false].map((top) =>
      turns.filter((i) => level[i] > level[i - 1] === top).map((i) => level[i]),
    );
    expect(tops).toHaveLength(2);
    expect(dips).toHaveLength(1);
    expect(tops[0]).toBeCloseTo(tops[1], 2);
    expect(dips[0]).toBeCloseTo(0, 2);
    expect(tops[0]).toBeGreaterThan(0.0001);
  });
});

describe('limits', () => {
  it('a Q too high for a vented box', () => {
    expect(ventedFor(1.2, 7)).toBeNull();
  });

  it('a sealed box of a Q that the driver has already', () => {
    expect(sealedFor({ fsHz: 30, qts: 0.8 }, 0.707)).toBeNull();
    expect(sealedFor({ fsHz: 30, qts: 0.707 }, 0.707)).toBeNull();
  });

  it('a box is larger and tuned lower the higher the Q', () => {
    const boxes = [0.2, 0.3, 0.38, 0.45, 0.55].map((qts) => ventedFor(qts, 7)!);
    boxes.slice(1).forEach((box, i) => {
      expect(box.h).toBeLessThan(boxes[i].h);
      expect(box.alpha).toBeLessThan(boxes[i].alpha);
    });
  });

  it('a polynomial without leakage by hand: Butterworth', () => {
    const [a1, a2, a3] = ventedPolynomial({ h: 1, alpha: Math.SQRT2 }, 0.38268343236509, null);
    expect(a1).toBeCloseTo(2.613126, 6);
    expect(a2).toBeCloseTo(3.414214, 6);
    expect(a3).toBeCloseTo(2.613126, 6);
  });
});

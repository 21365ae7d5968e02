import { boxModes, modeAt, quarterWaveAt, quarterWavesHz, type Inside } from './modes';

describe('standing waves of a box', () => {
  const inside: Inside = [0.25, 0.5, 0.4];

  it('by hand: half a wave in the height, then in the depth, then both', () => {
    const modes = boxModes(inside, 600, 343.2);
    expect(modes.slice(0, 3).map(({ order }) => order)).toEqual([
      [0, 1, 0],
      [0, 0, 1],
      [0, 1, 1],
    ]);
    expect(modes[0].hz).toBeCloseTo(343.2, 9);
    expect(modes[1].hz).toBeCloseTo(429, 9);
    expect(modes[2].hz).toBeCloseTo(Math.hypot(343.2, 429), 9);
  });

  it('as many as the volume has room for (Weyl: 4πV f³/3c³ and the walls)', () => {
    const [x, y, z] = [0.9, 1.1, 1.3];
    const f = 2000 / 343.2;
    const walls = 2 * (x * y + y * z + x * z);
    const edges = 4 * (x + y + z);
    const wanted =
      (4 / 3) * Math.PI * x * y * z * f ** 3 + (Math.PI / 4) * walls * f ** 2 + (edges / 8) * f;
    const found = boxModes([x, y, z], 2000, 343.2).length;
    expect(Math.abs(found / wanted - 1)).toBeLessThan(0.02);
  });

  it('are driven from a corner, and not from a node', () => {
    const mode = { hz: 1, order: [1, 2, 0] } as const;
    expect(modeAt(mode, inside, [0, 0, 0.3])).toBe(1);
    expect(modeAt(mode, inside, [0.125, 0, 0])).toBeCloseTo(0, 12);
    expect(modeAt(mode, inside, [0, 0.125, 0])).toBeCloseTo(0, 12);
  });

  it('refuses a box without an inside', () => {
    expect(() => boxModes([0.2, 0, 0.3], 500, 343)).toThrow('0.2 × 0 × 0.3 m');
    expect(() => boxModes([0.2, NaN, 0.3], 500, 343)).toThrow('above 0');
  });
});

it('a pipe resonates at odd quarter waves; a third along drives no three quarters', () => {
  const wanted = [50, 150, 250];
  const even = [{ lengthM: 1.716, areaM2: 0.04 }];
  quarterWavesHz(even, 3, 343.2).forEach((hz, n) => expect(hz).toBeCloseTo(wanted[n], 6));
  const cut = [0.7, 1.016].map((lengthM) => ({ lengthM, areaM2: 0.04 }));
  quarterWavesHz(cut, 3, 343.2).forEach((hz, n) => expect(hz).toBeCloseTo(wanted[n], 6));
  expect(quarterWaveAt(2, 1.5, 0.5)).toBeCloseTo(0, 12);
  expect(quarterWaveAt(1, 1.5, 0.5)).toBeCloseTo(Math.cos(Math.PI / 6), 12);
  expect(quarterWaveAt(3, 1.5, 0)).toBe(1);
});

test('a pipe that tapers has its quarter wave lower, one that widens higher', () => {
  /** A cone in steps. */
  const taper = (from: number, to: number) =>
    Array.from({ length: 200 }, (_, k) => ({
      lengthM: 1.8 / 200,
      areaM2: (Math.sqrt(from) + ((Math.sqrt(to) - Math.sqrt(from)) * (k + 0.5)) / 200) ** 2,
    }));
  // A cone closed at its wide end x1 and open at x2: tan kL = −k·x1 with x1 = L·√A1/(√A2 − √A1)
  // (Olson 1957; Fletcher and Rossing), solved by bisection.
  const cone = (from: number, to: number) => {
    const x1 = (1.8 * Math.sqrt(from)) / (Math.sqrt(to) - Math.sqrt(from));
    const off = (k: number) => Math.sin(k * 1.8) + k * x1 * Math.cos(k * 1.8);
    let hz = 5;
    while (off((2 * Math.PI * hz) / 343.2) * off((2 * Math.PI * (hz + 0.01)) / 343.2) > 0)
      hz += 0.01;
    return hz;
  };
  for (const [from, to] of [
    [0.06, 0.02],
    [0.06, 0.01],
    [0.02, 0.06],
  ]) {
    const [lowest] = quarterWavesHz(taper(from, to), 1, 343.2);
    expect(Math.abs(lowest / cone(from, to) - 1)).toBeLessThan(0.003);
  }
});

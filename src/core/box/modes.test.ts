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
  quarterWavesHz(1.716, 3, 343.2).forEach((hz, n) => expect(hz).toBeCloseTo(wanted[n], 9));
  expect(quarterWaveAt(2, 1.5, 0.5)).toBeCloseTo(0, 12);
  expect(quarterWaveAt(1, 1.5, 0.5)).toBeCloseTo(Math.cos(Math.PI / 6), 12);
  expect(quarterWaveAt(3, 1.5, 0)).toBe(1);
});

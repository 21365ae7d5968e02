import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { effectiveLengthM, portAreaM2, type Port } from './enclosure';
import { endCorrectionM, flangedRectangleM } from './portEnd';

const round = (ends: Port['ends']): Port => ({
  count: 1,
  diameterM: 0.1,
  lengthM: 0.2,
  qp: null,
  ends,
});

test('end corrections of a round port are those of the books: 0.85 a in a wall, 0.61 a free', () => {
  // Rayleigh, Theory of Sound § 312; Levine and Schwinger 1948.
  expect(endCorrectionM({ diameterM: 0.1 }, 'flanged') / 0.05).toBeCloseTo(8 / (3 * Math.PI), 10);
  expect(endCorrectionM({ diameterM: 0.1 }, 'free') / 0.05).toBeCloseTo(0.6133, 10);
  expect(effectiveLengthM(round(['free', 'flanged']))).toBeCloseTo(
    0.2 + 0.05 * (0.6133 + 8 / (3 * Math.PI)),
    10,
  );
});

test('a rectangle in a wall: the closed form is the integral, and a square is nearly a circle', () => {
  /** ∬∬ 1/(2π|r − r′|)/A over the differences of two points, which are spread as (1 − |u|)(1 − |v|). */
  const byHand = (a: number, b: number) => {
    const n = 600;
    let sum = 0;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const [u, v] = [(i + 0.5) / n, (j + 0.5) / n];
        sum += (4 * (1 - u) * (1 - v)) / Math.hypot(a * u, b * v) / n ** 2;
      }
    return (a * b * sum) / (2 * Math.PI);
  };
  for (const [a, b] of [
    [0.2, 0.2],
    [0.3, 0.05],
  ])
    expect(flangedRectangleM(a, b) / byHand(a, b)).toBeCloseTo(1, 2);
  const circle = endCorrectionM({ diameterM: 2 * Math.sqrt(1 / Math.PI) }, 'flanged');
  expect(flangedRectangleM(1, 1) / circle).toBeGreaterThan(0.97);
  expect(flangedRectangleM(1, 1)).toBeLessThan(circle);
});

test('a wall along a slot doubles it: its end acts longer', () => {
  const slot = { widthM: 0.24, heightM: 0.03, isOnWall: false };
  const free = endCorrectionM({ slot }, 'flanged');
  const wall = endCorrectionM({ slot: { ...slot, isOnWall: true } }, 'flanged');
  expect(wall / free).toBeGreaterThan(1.3);
  expect(
    portAreaM2({ count: 2, slot, lengthM: 0.1, ends: ['free', 'free'], qp: null }),
  ).toBeCloseTo(0.0144, 12);
});

test('a flare of no radius is an end in a wall, a larger one shortens the port', () => {
  const at = (flareM: number) => effectiveLengthM(round([{ flareM }, 'flanged']));
  expect(at(0)).toBeCloseTo(effectiveLengthM(round(['flanged', 'flanged'])), 10);
  expect(at(0.02)).toBeLessThan(at(0.01));
  // A flare is part of the length: it can't take away more than itself and its end.
  expect(at(0.03)).toBeGreaterThan(0.2 - 0.03 + 0.85 * 0.05);
});

test('a flared end acts as long as a grid of Laplace’s equation says (tests/references/box/flares.py)', () => {
  const rows = readFileSync(
    join(import.meta.dirname, '../../../tests/references/box/flares.csv'),
    'utf8',
  )
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => line.split(',').map(Number));
  expect(rows.length).toBeGreaterThan(5);
  for (const [share, wanted] of rows.filter(([one]) => one > 0)) {
    const found = endCorrectionM({ diameterM: 0.07 }, { flareM: share * 0.035 }) / 0.035;
    expect([share, Math.abs(found - wanted) < 0.012]).toEqual([share, true]);
  }
  // More rounding takes more off, without a jump.
  let before = endCorrectionM({ diameterM: 0.07 }, 'flanged');
  for (let flareM = 0; flareM <= 0.07; flareM += 0.0005) {
    const next = endCorrectionM({ diameterM: 0.07 }, { flareM });
    expect(next).toBeLessThanOrEqual(before + 1e-9);
    expect(before - next).toBeLessThan(0.0007);
    before = next;
  }
});

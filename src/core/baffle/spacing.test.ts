import { spacingOf } from './spacing';

const speed = 343;
const at = (y: number, z = 0, x = 0) => ({ x, y, z });
const far = { distanceM: 100, heightM: 0 };
const degrees = (sine: number) => (Math.asin(sine) * 180) / Math.PI;

test('two in phase one wave apart have their lobe ahead and cancel at 30°', () => {
  const one = spacingOf(
    { lower: at(-0.0857), upper: at(0.0858), crossoverHz: speed / 0.1715, leadDeg: 0 },
    far,
    speed,
  );
  expect(one.waves).toBeCloseTo(1, 6);
  expect(one.apartM).toBeCloseTo(0.1715, 6);
  expect(one.lobeDeg).toBe(0);
  // Half a wave of path: sin θ = λ/2d.
  expect(one.nullsDeg[0]).toBeCloseTo(-30, 3);
  expect(one.nullsDeg[1]).toBeCloseTo(30, 3);
});

test('a driver that leads by a quarter of a period tilts the lobe away from it', () => {
  // Linkwitz 1976: the tilt of a Butterworth crossover of third order, toward the driver that lags.
  const d = 0.15;
  const hz = 2000;
  const { lobeDeg, nullsDeg } = spacingOf(
    { lower: at(0), upper: at(d), crossoverHz: hz, leadDeg: 90 },
    far,
    speed,
  );
  const wave = speed / hz;
  expect(lobeDeg).toBeCloseTo(-degrees(wave / 4 / d), 3);
  expect(nullsDeg[0]).toBeCloseTo(-degrees((3 * wave) / 4 / d), 3);
  expect(nullsDeg[1]).toBeCloseTo(degrees(wave / 4 / d), 3);
});

test('closer than half a wave nothing cancels', () =>
  expect(
    spacingOf({ lower: at(0), upper: at(0.05), crossoverHz: 2000, leadDeg: 0 }, far, speed)
      .nullsDeg,
  ).toEqual([null, null]));

test('the heights within which 1 dB is lost, by the exact paths', () => {
  const pair = { lower: at(-0.1), upper: at(0.04, -0.02), crossoverHz: 2350, leadDeg: 0 };
  const seat = { distanceM: 2.2, heightM: 0.05 };
  const { window, pathM, depthM } = spacingOf(pair, seat, speed);
  expect(depthM).toBe(-0.02);
  const path = (y: number, z: number, height: number) =>
    Math.sqrt((height - y) ** 2 + (seat.distanceM - z) ** 2);
  const difference = (height: number) => path(0.04, -0.02, height) - path(-0.1, 0, height);
  expect(pathM).toBeCloseTo(difference(0.05), 12);
  for (const height of [window!.fromM, window!.toM]) {
    const phase = (2 * Math.PI * 2350 * (difference(height) - pathM)) / speed;
    expect(20 * Math.log10(Math.abs(Math.cos(phase / 2)))).toBeCloseTo(-1, 4);
  }
  expect(window!.fromM).toBeLessThan(0.05);
  expect(window!.toM).toBeGreaterThan(0.05);
});

test('drivers side by side, or that already cancel, have no lobe or no window to tell', () => {
  const beside = spacingOf(
    { lower: at(0, 0, -0.1), upper: at(0, 0, 0.1), crossoverHz: 2000, leadDeg: 0 },
    { distanceM: 3, heightM: 0 },
    speed,
  );
  expect(beside.nullsDeg).toEqual([null, null]);
  expect(beside.window!.toM - beside.window!.fromM).toBeGreaterThan(10);
  const against = spacingOf(
    { lower: at(0), upper: at(0.02), crossoverHz: 500, leadDeg: 170 },
    far,
    speed,
  );
  expect([against.lobeDeg, against.window]).toEqual([null, null]);
});

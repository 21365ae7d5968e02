import { groupSpacing } from './arraySpacing';
import { spacingOf } from './spacing';

const speed = 343;
const at = (y: number, z = 0) => ({ x: 0, y, z });
const seat = { distanceM: 100, heightM: 0 };

test('of one driver each it is that of the pair', () => {
  const [lower, upper] = [at(-0.1), at(0.05, -0.02)];
  const told = { crossoverHz: 2200, leadDeg: 20 };
  expect(groupSpacing({ lower: [lower], upper: [upper], ...told }, seat, speed)).toEqual(
    spacingOf({ lower, upper, ...told }, seat, speed),
  );
});

test('two woofers around a tweeter have their lobe ahead, whatever the phase between the ways', () => {
  // By hand: in phase (1 + cos ψ)/2 with ψ = k·d·sin θ vanishes at ψ = π; a quarter of a period
  // apart it is |j + cos ψ|/2, and never falls under −6 dB (D'Appolito 1983: no tilt).
  const d = 0.15;
  const hz = speed / d;
  const array = { lower: [at(d), at(-d)], upper: [at(0)], crossoverHz: hz };
  const inPhase = groupSpacing({ ...array, leadDeg: 0 }, seat, speed);
  expect(inPhase.lobeDeg).toBe(0);
  expect(inPhase.apartM).toBe(0);
  expect(inPhase.nullsDeg).toEqual([-30, 30]);
  const quarter = groupSpacing({ ...array, leadDeg: 90 }, seat, speed);
  expect(quarter.lobeDeg).toBe(0);
  expect(quarter.nullsDeg).toEqual([null, null]);
  expect(quarter.window!.toM).toBeCloseTo(-quarter.window!.fromM, 9);
  // 20·log(|j + cos ψ|/√2) = −1: cos²ψ = 2·10^−0.1 − 1.
  const psi = Math.acos(Math.sqrt(2 * 10 ** -0.1 - 1));
  expect(quarter.window!.toM / seat.distanceM).toBeCloseTo(
    Math.tan(Math.asin(psi / (2 * Math.PI))),
    2,
  );
});

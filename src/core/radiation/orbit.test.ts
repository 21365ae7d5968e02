import type { Direction } from './direction';
import { betweenOrbits, headingOf, leastCertain } from './direction';
import { createOrbits, type MeasuredDirection } from './orbit';
import { listeningWindow, spinDirections } from './cta2034';
import { pathToMm, pointAtMm } from './path';

const at = (
  degrees: number,
  db: number,
  plane: Direction['plane'] = 'horizontal',
  phase = 0,
): MeasuredDirection => ({
  direction: { plane, degrees },
  levelDb: Float64Array.of(db, 2 * db),
  phase: Float64Array.of(phase, phase),
  isTimed: true,
});

describe('what was measured of a driver', () => {
  const orbits = createOrbits([at(30, -3), at(10, -1), at(-20, -8), at(10, -5, 'vertical')], 2);
  const toward = (degrees: number, plane: Direction['plane'] = 'horizontal') =>
    orbits.toward({ plane, degrees })!;

  test('is what it was where it was measured, and the axis is the reference', () => {
    expect([...toward(30).levelDb]).toEqual([-3, -6]);
    expect([...toward(0).levelDb]).toEqual([0, 0]);
    expect([...toward(10, 'vertical').levelDb]).toEqual([-5, -10]);
    expect([toward(30).isMeasured, toward(20).isMeasured]).toEqual([true, false]);
  });

  test('lies between its neighbours in between', () => {
    const { levelDb, standsFor } = toward(20);
    expect(levelDb[0]).toBeLessThan(-1);
    expect(levelDb[0]).toBeGreaterThan(-3);
    expect(standsFor).toBeNull();
  });

  test('stands for what is farther off the axis, and for a plane that was not measured', () => {
    expect(toward(60).standsFor).toEqual({ plane: 'horizontal', degrees: 30 });
    expect(toward(-90).standsFor).toEqual({ plane: 'horizontal', degrees: -20 });
    const flat = createOrbits([at(15, -2)], 2).toward({ plane: 'vertical', degrees: 15 })!;
    expect([flat.levelDb[0], flat.isMeasured]).toEqual([-2, false]);
    expect(flat.standsFor).toEqual({ plane: 'horizontal', degrees: 15 });
  });

  test('is mirrored to a side that was not measured, and that is no measurement', () => {
    const down = toward(-10, 'vertical');
    expect([down.levelDb[0], down.isMeasured, down.standsFor]).toEqual([-5, false, null]);
  });

  test('behind is behind on both sides', () => {
    const whole = createOrbits([at(90, -6), at(180, -20)], 2);
    expect(whole.toward({ plane: 'horizontal', degrees: -180 })!.levelDb[0]).toBe(-20);
    expect(whole.toward({ plane: 'horizontal', degrees: -135 })!.levelDb[0]).toBeCloseTo(
      whole.toward({ plane: 'horizontal', degrees: 135 })!.levelDb[0],
      9,
    );
  });

  test('phases are followed the short way round', () => {
    const turning = createOrbits(
      [10, 20, 30].map((degrees) => at(degrees, 0, 'horizontal', 3 + degrees / 50)),
      2,
    );
    // From 3.4 to 3.6 rad, across ±π where an arc tangent jumps.
    const wrapped = createOrbits(
      [10, 20, 30].map((degrees) => {
        const phase = 3 + degrees / 50;
        return at(degrees, 0, 'horizontal', phase > Math.PI ? phase - 2 * Math.PI : phase);
      }),
      2,
    );
    const [a, b] = [turning, wrapped].map(
      (one) => one.toward({ plane: 'horizontal', degrees: 15 })!.phase[0],
    );
    expect(Math.cos(a - b)).toBeCloseTo(1, 9);
  });

  test('the axis alone says nothing of any direction', () => {
    expect(createOrbits([], 2).toward({ plane: 'horizontal', degrees: 10 })).toBeNull();
  });
});

test('a heading between the orbits is a mixture of both, with their signs', () => {
  const slanted = betweenOrbits({ x: -0.5, y: 0.5, z: Math.SQRT1_2 });
  expect(slanted.offDeg).toBeCloseTo(45, 9);
  expect(slanted.horizontalShare).toBeCloseTo(0.5, 12);
  expect([slanted.horizontalDeg, slanted.verticalDeg].map(Math.round)).toEqual([-45, 45]);
  expect(betweenOrbits(headingOf({ plane: 'vertical', degrees: -30 }))).toMatchObject({
    verticalShare: 1,
    horizontalShare: 0,
  });
});

test('of several sources the least certain counts', () => {
  expect(leastCertain(['measured', 'interpolated'])).toBe('interpolated');
  expect(leastCertain(['modelled', 'measured'])).toBe('modelled');
  expect(leastCertain([])).toBe('measured');
});

test('the standard has 70 directions, eight of them in the listening window besides the axis', () => {
  expect(spinDirections).toHaveLength(70);
  expect(listeningWindow).toHaveLength(8);
  expect(listeningWindow.filter(({ plane }) => plane === 'vertical')).toHaveLength(2);
});

describe('path in a direction', () => {
  const tweeter = { xMm: 0, yMm: 150, zMm: -10 };
  const path = (direction: Direction, distanceMm: number) =>
    pathToMm(tweeter, pointAtMm(headingOf(direction), distanceMm));

  test('is the one on the axis at 0°', () => {
    expect(path({ plane: 'horizontal', degrees: 0 }, 1000)).toBeCloseTo(Math.hypot(150, 1010), 9);
  });

  test('shortens toward the side on which the driver lies', () => {
    // By hand: from (0, 150, −10) to (0, 1000·sin 30°, 1000·cos 30°).
    const up = Math.hypot(500 - 150, 1000 * Math.cos(Math.PI / 6) + 10);
    expect(path({ plane: 'vertical', degrees: 30 }, 1000)).toBeCloseTo(up, 9);
  });
});

test('the rear of a plane that lacks its own is that of the other', () => {
  const orbits = createOrbits([at(90, -6), at(180, -20), at(60, -4, 'vertical')], 2);
  expect([...orbits.toward({ plane: 'vertical', degrees: 180 })!.levelDb]).toEqual([-20, -40]);
  expect(orbits.toward({ plane: 'vertical', degrees: 120 })!.standsFor).toBeNull();
});

test('between angles something else may be interpolated in the place of the level', () => {
  const orbits = createOrbits([at(20, -2), at(40, -4)], 2);
  const flat = { levelDb: new Float64Array(2), phase: new Float64Array(2) };
  expect([...orbits.toward({ plane: 'horizontal', degrees: 30 }, () => flat)!.levelDb]).toEqual([
    0, 0,
  ]);
  // The other side rests on what was measured on this one, and is not where it was measured.
  const mirrored = orbits.toward({ plane: 'horizontal', degrees: -30 })!;
  expect([mirrored.isMirrored, mirrored.isMeasured]).toEqual([true, false]);
  expect(orbits.at({ plane: 'horizontal', degrees: -20 })).toBeNull();
  expect(orbits.at({ plane: 'horizontal', degrees: 20 })!.levelDb[0]).toBe(-2);
});

import { levelToward, listeningWindow, type MeasuredDirection } from './offAxis';
import { pathTowardMm } from './path';

const at = (
  degrees: number,
  db: number,
  plane: 'horizontal' | 'vertical' = 'horizontal',
): MeasuredDirection => ({
  direction: { plane, degrees },
  levelDb: Float64Array.of(db, 2 * db),
});

describe('level in a direction', () => {
  const measured = [at(30, -3), at(10, -1), at(-20, -8), at(10, -5, 'vertical')];
  const toward = (degrees: number, plane: 'horizontal' | 'vertical' = 'horizontal') => {
    const level = levelToward({ plane, degrees }, measured);
    return level && [...level];
  };

  test('is what was measured where it was measured', () => {
    expect(toward(30)).toEqual([-3, -6]);
    expect(toward(10)).toEqual([-1, -2]);
    expect(toward(10, 'vertical')).toEqual([-5, -10]);
  });

  test('lies on straight lines over angle between, and from the axis', () => {
    expect(toward(20)).toEqual([-2, -4]);
    expect(toward(5)).toEqual([-0.5, -1]);
  });

  test('takes each side by itself, and mirrors one that was not measured', () => {
    expect(toward(-20)).toEqual([-8, -16]);
    expect(toward(-10, 'vertical')).toEqual([-5, -10]);
  });

  test('holds a little beyond the widest angle and no farther', () => {
    expect(toward(34)).toEqual([-3, -6]);
    expect(toward(40)).toBeNull();
    expect(toward(-30)).toBeNull();
  });

  test('takes one plane for the other when that was not measured', () => {
    const flat = [at(15, -2)];
    expect([...levelToward({ plane: 'vertical', degrees: 15 }, flat)!]).toEqual([-2, -4]);
    expect(levelToward({ plane: 'vertical', degrees: 15 }, [])).toBeNull();
  });
});

test('the listening window has the eight directions of the standard besides the axis', () => {
  expect(listeningWindow).toHaveLength(8);
  expect(listeningWindow.filter(({ plane }) => plane === 'vertical')).toHaveLength(2);
});

describe('path in a direction', () => {
  const tweeter = { xMm: 0, yMm: 150, zMm: -10 };

  test('is the one on the axis at 0°', () => {
    const onAxis = Math.hypot(150, 1010);
    expect(pathTowardMm(tweeter, 1000, { plane: 'horizontal', degrees: 0 })).toBeCloseTo(onAxis, 9);
  });

  test('shortens toward the side on which the driver lies', () => {
    // By hand: from (0, 150, −10) to (0, 1000·sin 30°, 1000·cos 30°).
    const up = Math.hypot(500 - 150, 1000 * Math.cos(Math.PI / 6) + 10);
    expect(pathTowardMm(tweeter, 1000, { plane: 'vertical', degrees: 30 })).toBeCloseTo(up, 9);
    const right = pathTowardMm({ xMm: 80, yMm: 0, zMm: 0 }, 2000, {
      plane: 'horizontal',
      degrees: 90,
    });
    expect(right).toBeCloseTo(1920, 9);
  });
});

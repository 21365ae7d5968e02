import { depthForPath, pathCorrection, pathDifferenceMm, type Microphone } from './path';

const position = { xMm: 0, yMm: -300, zMm: -40 };
const mic = (
  placement: Microphone['placement'],
  distanceMm: number,
  commonTiming: boolean,
): Microphone => ({ placement, distanceMm, commonTiming });
const flightTo = (distanceMm: number) => Math.hypot(300, distanceMm + 40);

test('a path that the data hold already is not added again', () => {
  expect(pathCorrection(position, position, mic('design-axis', 1000, true), 1000)).toEqual({
    addedPathMm: 0,
    gain: 1,
  });
});

test('without common timing the whole path is added, less the distance common to all', () => {
  expect(
    pathCorrection(position, position, mic('design-axis', 1000, false), 1000).addedPathMm,
  ).toBeCloseTo(flightTo(1000) - 1000, 12);
  expect(
    pathCorrection(position, position, mic('own-axis', 1000, false), 2500).addedPathMm,
  ).toBeCloseTo(flightTo(2500) - 2500, 12);
});

test('on the driver’s own axis, common timing holds its depth but not its height', () => {
  expect(
    pathCorrection(position, position, mic('own-axis', 1000, true), 1000).addedPathMm,
  ).toBeCloseTo(flightTo(1000) - 1040, 12);
});

test('levels are referred to 1 m from the origin, whatever distance they were measured at', () => {
  const atOrigin = { xMm: 0, yMm: 0, zMm: 0 };
  expect(pathCorrection(atOrigin, atOrigin, mic('own-axis', 500, false), 3000).gain).toBeCloseTo(
    0.5,
    12,
  );
  expect(pathCorrection(atOrigin, atOrigin, mic('own-axis', 2000, false), 1000).gain).toBeCloseTo(
    2,
    12,
  );
});

test('with common timing a move since the measurement is the difference of two paths', () => {
  const origin = { xMm: 0, yMm: 0, zMm: 0 };
  const back = { xMm: 0, yMm: 0, zMm: -40 };
  const moved = pathCorrection(back, origin, mic('design-axis', 1000, true), 1000);
  expect(moved.addedPathMm).toBeCloseTo(40, 12);
  // Measured at 1000 mm, heard from 1040 mm.
  expect(moved.gain).toBeCloseTo(1000 / 1040, 12);
  // Without common timing the data hold no path: only where it is now counts.
  expect(pathCorrection(back, origin, mic('design-axis', 1000, false), 1000).addedPathMm).toBe(40);
});

test('a path difference and a depth belong together, on either axis', () => {
  const woofer = { xMm: 0, yMm: -330, zMm: -48 };
  const dome = { xMm: 10, yMm: 66, zMm: -4 };
  for (const placement of ['design-axis', 'own-axis'] as const) {
    const microphone = { placement, distanceMm: 1000 };
    const difference = pathDifferenceMm(woofer, dome, microphone);
    expect(depthForPath({ ...dome, zMm: 99 }, woofer, microphone, difference)).toBeCloseTo(-4, 9);
  }
  const straight = { placement: 'own-axis', distanceMm: 1000 } as const;
  expect(pathDifferenceMm(woofer, dome, straight)).toBe(-44);
  const axis = { placement: 'design-axis', distanceMm: 1000 } as const;
  expect(depthForPath(dome, woofer, axis, -2000)).toBeNull();
});

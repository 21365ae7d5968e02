import { readDemo } from '../../../tests/fixtures';
import { moveSinceMeasured } from './moved';

const plain = readDemo();

test('a driver measured where it is has not moved; one that was put back has, by so much path', () => {
  const [woofer, ...others] = plain.design.drivers;
  const measuredAt = woofer.position;
  const placed = (zMm: number) => ({
    ...woofer,
    measuredAt,
    position: { ...woofer.position, zMm },
  });
  const at = (zMm: number) => {
    const moved = placed(zMm);
    return moveSinceMeasured({ ...plain.design, drivers: [moved, ...others] }, moved);
  };
  expect(at(measuredAt.zMm)).toBeNull();
  const back = at(measuredAt.zMm - 20)!;
  // The direction to the point on the axis is a little below 1 in cosine for a driver 330 mm below
  // it.
  const { listeningDistanceMm } = plain.design;
  const path = (zMm: number) => Math.hypot(measuredAt.yMm, listeningDistanceMm - zMm);
  expect(back.zMm).toBe(-20);
  expect(back.addedPathMm).toBeCloseTo(path(measuredAt.zMm - 20) - path(measuredAt.zMm), 1);
  expect(back.delayMs).toBeCloseTo(back.addedPathMm / 343.2, 3);
});

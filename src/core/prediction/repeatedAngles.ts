import type { Design, Driver } from '@/core/document/schema';
import { finding, type Finding } from './prediction';

/** Angles this close are the same, degrees. */
const sameDeg = 0.5;

/** Measurements that say of two files that they are of one angle: one of them is never used. */
export function repeatedAngles(
  { measurements }: Pick<Design, 'measurements'>,
  driver: Pick<Driver, 'id' | 'name' | 'offAxisIds'>,
): Finding[] {
  const turned = driver.offAxisIds.flatMap((id) => {
    const measurement = measurements.find((one) => one.id === id);
    return measurement?.angle ? [{ measurement, angle: measurement.angle }] : [];
  });
  return turned.flatMap(({ measurement, angle }, k) => {
    const first = turned
      .slice(0, k)
      .find(
        ({ angle: { plane, degrees } }) =>
          plane === angle.plane && Math.abs(degrees - angle.degrees) < sameDeg,
      );
    if (!first) return [];
    return [
      finding(
        'doubt',
        driver.id,
        'angle_twice',
        driver.name,
        `${first.measurement.name} and ${measurement.name} are both at ${angle.degrees}° ${angle.plane}.`,
        'Only the first counts; the angle that is meant may be missing.',
        'Correct one of the two angles on the Bench, or take one away.',
      ),
    ];
  });
}

import type { Box } from '@/core/document/boxSchema';
import type { Driver } from '@/core/document/schema';

/** Drivers that share a box, in the order of the design. */
export const driversInBox = (
  { driverIds }: Pick<Box, 'driverIds'>,
  drivers: readonly Driver[],
): Driver[] => drivers.filter(({ id }) => driverIds.includes(id));

const isLike = (a: number | null, b: number | null) =>
  a === null || b === null || Math.abs(Math.log(a / b)) < 0.15;

/** Whether two drivers are near enough for one to stand for the other in a box: fs and Sd within 15 %. */
export const areAlike = (a: Pick<Driver, 'sheet'>, b: Pick<Driver, 'sheet'>): boolean =>
  isLike(a.sheet.fsHz, b.sheet.fsHz) && isLike(a.sheet.sdCm2, b.sheet.sdCm2);

/**
 * A box as one of its drivers has it: on an open baffle nothing is shared with drivers of another kind,
 * each has its own low end; in a chamber all push against the same air.
 */
export function boxFor(
  box: Box,
  driver: Pick<Driver, 'id' | 'sheet'>,
  drivers: readonly Driver[],
): Box {
  if (box.kind !== 'open-baffle') return box;
  // Of what is not known nothing is said: such a driver stands for no other.
  const isKnown = ({ sheet }: Pick<Driver, 'sheet'>) => sheet.fsHz !== null && sheet.sdCm2 !== null;
  const alike = driversInBox(box, drivers).filter(
    (one) => one.id === driver.id || (isKnown(one) && isKnown(driver) && areAlike(one, driver)),
  );
  return { ...box, driverIds: alike.map(({ id }) => id) };
}

/** Excursion that all drivers of a box bear, mm; null while no sheet states an Xmax. */
export function leastXmaxMm(
  box: Pick<Box, 'driverIds'>,
  drivers: readonly Driver[],
): number | null {
  const stated = driversInBox(box, drivers).flatMap(({ sheet }) => sheet.xmaxMm ?? []);
  return stated.length === 0 ? null : Math.min(...stated);
}

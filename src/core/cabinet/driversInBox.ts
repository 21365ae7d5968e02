import type { Box } from '@/core/document/boxSchema';
import type { Driver } from '@/core/document/schema';

/** Drivers that share a box, in the order of the design. */
export const driversInBox = (
  { driverIds }: Pick<Box, 'driverIds'>,
  drivers: readonly Driver[],
): Driver[] => drivers.filter(({ id }) => driverIds.includes(id));

/** Excursion that all drivers of a box bear, mm; null while no sheet states an Xmax. */
export function leastXmaxMm(
  box: Pick<Box, 'driverIds'>,
  drivers: readonly Driver[],
): number | null {
  const stated = driversInBox(box, drivers).flatMap(({ sheet }) => sheet.xmaxMm ?? []);
  return stated.length === 0 ? null : Math.min(...stated);
}

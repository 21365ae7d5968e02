import { boundsOf } from '@/core/document/baffleSchema';
import type { Box } from '@/core/document/boxSchema';
import type { Design, Driver } from '@/core/document/schema';
import { driversInBox } from './driversInBox';

/** Room that a driver needs behind it to breathe (common practice), mm. */
export const behindDriverMm = 10;

/** How far a driver reaches behind the face of its front, mm; null while its depth is not known. */
export function reachBehindMm({ mounting }: Pick<Driver, 'mounting'>): number | null {
  const { builtDepthMm, kind, byMm } = mounting;
  if (builtDepthMm === null) return null;
  const outside = kind === 'proud' ? byMm : kind === 'recessed' || kind === 'behind' ? -byMm : 0;
  return builtDepthMm - outside;
}

/**
 * Drivers that are in the wood of a box: those that it is for, and the others on the same front, which
 * stand in chambers of it.
 */
export function driversInWood(box: Box, { drivers }: Pick<Design, 'drivers'>): Driver[] {
  const own = driversInBox(box, drivers);
  const panelId = own.at(0)?.mounting.panelId ?? null;
  return panelId === null || box.insideId !== null
    ? own
    : drivers.filter((one) => own.includes(one) || one.mounting.panelId === panelId);
}

/** Least outside depth of a box in which its drivers have room behind them, mm; 0 while none is known. */
export function leastDepthMm(box: Box, design: Pick<Design, 'drivers'>): number {
  return driversInWood(box, design).reduce((most, driver) => {
    const reach = reachBehindMm(driver);
    return reach === null ? most : Math.max(most, reach + box.shell.wallMm + behindDriverMm);
  }, 0);
}

/** Widest thing of a driver that is cut into the front, mm: recess or hole; null while not known. */
export function cutAcrossMm({ mounting }: Pick<Driver, 'mounting'>): number | null {
  const { cutoutMm, frameMm, kind } = mounting;
  const sunk = kind === 'flush' || kind === 'recessed' ? frameMm : null;
  return sunk === null && cutoutMm === null ? null : Math.max(sunk ?? 0, cutoutMm ?? 0);
}

/** Where a driver stands in the front of a box, mm from its lower left corner; null on no front. */
export function placeInFrontMm(
  driver: Pick<Driver, 'mounting' | 'position'>,
  { panels }: Pick<Design, 'panels'>,
): { readonly xMm: number; readonly yMm: number } | null {
  const panel = panels.find(({ id }) => id === driver.mounting.panelId);
  if (!panel) return null;
  const { leftMm, bottomMm } = boundsOf(panel.corners);
  return { xMm: driver.position.xMm - leftMm, yMm: driver.position.yMm - bottomMm };
}

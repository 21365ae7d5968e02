import type { Driver } from '@/core/document/schema';

/** Middles that are so near each other are one, mm. */
const sameMm = 2;

/**
 * The driver in whose neck another one sits: a larger cone with its middle in the same place on the same
 * front, as in a coaxial driver; undefined where there is none.
 */
export function coneAround(driver: Driver, drivers: readonly Driver[]): Driver | undefined {
  const { mounting, position, sheet } = driver;
  if (mounting.panelId === null) return undefined;
  return drivers.find(
    (one) =>
      one.id !== driver.id &&
      one.mounting.panelId === mounting.panelId &&
      Math.hypot(one.position.xMm - position.xMm, one.position.yMm - position.yMm) < sameMm &&
      (one.sheet.sdCm2 ?? 0) > 2 * (sheet.sdCm2 ?? Infinity),
  );
}

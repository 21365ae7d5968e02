import type { Design } from '@/core/document/schema';

/** Where everything is, apart from all else of a design. */
export interface Layout {
  /** A design with this layout. Drivers that came later stay where they are. */
  readonly onto: (design: Design) => Design;
}

export function layoutOf({ panels, drivers }: Pick<Design, 'panels' | 'drivers'>): Layout {
  const places = new Map(drivers.map(({ id, position, mounting }) => [id, { position, mounting }]));
  return {
    onto: (design) => ({
      ...design,
      panels,
      drivers: design.drivers.map((driver) => {
        const mounting = places.get(driver.id)?.mounting ?? driver.mounting;
        const isThere = panels.some(({ id }) => id === mounting.panelId);
        return {
          ...driver,
          ...places.get(driver.id),
          mounting: isThere ? mounting : { ...mounting, panelId: null },
        };
      }),
    }),
  };
}

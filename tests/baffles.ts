/** Fronts and drivers on them, for tests. */
import {
  notMounted,
  rectangularCorners,
  type Mounting,
  type Panel,
} from '@/core/document/baffleSchema';
import { emptySheet } from '@/core/document/briefSchema';
import { emptyDesign, emptyDriver, type Design, type Driver } from '@/core/document/schema';

/** A box with a rectangular front around the design axis, sharp edges. */
export const frontOf = (widthMm: number, heightMm: number, set: Partial<Panel> = {}): Panel => ({
  id: 'front',
  name: 'Front',
  kind: 'box',
  corners: rectangularCorners(-widthMm / 2, -heightMm / 2, widthMm, heightMm),
  depthMm: 250,
  wingsMm: 0,
  thicknessMm: 18,
  setBackMm: 0,
  ports: [],
  ...set,
});

/** A driver on the front. */
export const mountedDriver = (
  id: string,
  xMm: number,
  yMm: number,
  mounting: Partial<Mounting> = {},
  sdCm2: number | null = 7,
): Driver => ({
  ...emptyDriver(id, id),
  position: { xMm, yMm, zMm: 0 },
  mounting: { ...notMounted, panelId: 'front', ...mounting },
  sheet: { ...emptySheet, sdCm2 },
});

/** A design of nothing but a front and its drivers. */
export const designOn = (panel: Panel, ...drivers: Driver[]): Design => ({
  ...emptyDesign('Test'),
  listeningDistanceMm: 2000,
  panels: [panel],
  drivers,
});

import { formatNumber } from '@/core/units/quantity';

/** A drawing to scale: millimetres to pixels, up is up. */
export interface DrawingScale {
  readonly pxPerMm: number;
  readonly x: (mm: number) => number;
  readonly y: (mm: number) => number;
  /** The way back, for pointers. */
  readonly mmX: (px: number) => number;
  readonly mmY: (px: number) => number;
}

interface Box {
  readonly leftMm: number;
  readonly rightMm: number;
  readonly bottomMm: number;
  readonly topMm: number;
}

interface Room {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Kept free on each side for words and dimensions. */
  readonly marginX: number;
  readonly marginY: number;
}

/** Fits a box into a room, in its middle. */
export function fitted(
  { leftMm, rightMm, bottomMm, topMm }: Box,
  { widthPx, heightPx, marginX, marginY }: Room,
): DrawingScale {
  const pxPerMm = Math.max(
    0.01,
    Math.min(
      (widthPx - 2 * marginX) / (rightMm - leftMm),
      (heightPx - 2 * marginY) / (topMm - bottomMm),
    ),
  );
  const [middleX, middleY] = [(leftMm + rightMm) / 2, (bottomMm + topMm) / 2];
  return {
    pxPerMm,
    x: (mm) => widthPx / 2 + (mm - middleX) * pxPerMm,
    y: (mm) => heightPx / 2 - (mm - middleY) * pxPerMm,
    mmX: (px) => middleX + (px - widthPx / 2) / pxPerMm,
    mmY: (px) => middleY - (px - heightPx / 2) / pxPerMm,
  };
}

/** A value drawn to the nearest of some that it is close to; else to whole millimetres. */
export function snapped(mm: number, toMm: readonly number[], withinMm: number): number {
  let [best, off] = [Math.round(mm), withinMm];
  for (const one of toMm) if (Math.abs(one - mm) <= off) [best, off] = [one, Math.abs(one - mm)];
  return best;
}

/** A length as written on a drawing, to a tenth of a millimetre. */
export const whole = (mm: number): string => formatNumber(Number(mm.toFixed(1)));

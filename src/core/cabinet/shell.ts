import type { BoxShell } from '@/core/document/boxSchema';

/** Inside of a shell, mm; nothing is below 0. */
export interface InsideMm {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly depthMm: number;
}

/** Room between the walls. */
export const insideOf = ({ widthMm, heightMm, depthMm, wallMm, frontMm }: BoxShell): InsideMm => ({
  widthMm: Math.max(0, widthMm - 2 * wallMm),
  heightMm: Math.max(0, heightMm - 2 * wallMm),
  depthMm: Math.max(0, depthMm - wallMm - frontMm),
});

/** Outside volume of a shell, litres. */
export const outsideLitres = ({ widthMm, heightMm, depthMm }: BoxShell): number =>
  (widthMm * heightMm * depthMm) / 1e6;

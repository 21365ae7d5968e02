import type { Curve, Scale } from './curve';
import type { ChartWindow } from './window';

/** The rectangle in which lines are drawn, in pixels of the chart. */
export interface Area {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Where frequencies and values of a chart are, in pixels from its upper left corner. */
export interface Plot {
  readonly area: Area;
  readonly x: Scale;
  readonly y: (curve: Pick<Curve, 'axis'>) => Scale;
}

/**
 * The same scales as those of the frame's axes, without a call into the chart package for each
 * point.
 */
export function plotOf(
  view: ChartWindow,
  right: { readonly bottom: number; readonly top: number } | null,
  area: Area,
): Plot {
  const perDecade = area.width / Math.log10(view.toHz / view.fromHz);
  const vertical = ({ bottom, top }: { bottom: number; top: number }): Scale => {
    const perUnit = area.height / (top - bottom);
    return (value) => area.y + (top - value) * perUnit;
  };
  const left = vertical(view);
  const other = right ? vertical(right) : left;
  return {
    area,
    x: (hz) => area.x + perDecade * Math.log10(hz / view.fromHz),
    y: ({ axis }) => (axis === 'right' ? other : left),
  };
}

import type { BoxCurves } from './response';

/** What a driver, its box and its amplifier bear; null for what is not known or not there. */
export interface BoxLimits {
  /** Peak, to one side. */
  readonly excursionMm: number | null;
  /** Peak speed of the air in a port, m/s; at each frequency that of a passive cone at its Xmax. */
  readonly openingSpeed: number | Float64Array | null;
  /** True power into the driver. */
  readonly watts: number | null;
  /** Voltage of the amplifier over that of the source that the curves were worked out with. */
  readonly timesVolts: number | null;
}

export type LevelLimit = 'excursion' | 'opening' | 'power' | 'amplifier';

/** How loud a system plays before the first of its limits, and which it is. */
export interface CleanLevel {
  /** Level at 1 m in half space, dB. */
  readonly db: Float64Array;
  /** Null where nothing limits it. */
  readonly by: readonly (LevelLimit | null)[];
}

/**
 * Greatest level of a sine at each frequency within all limits. The system is linear, so each limit
 * is a factor on the voltage.
 */
export function cleanLevel(curves: BoxCurves, limits: BoxLimits): CleanLevel {
  const by: (LevelLimit | null)[] = [];
  const db = curves.levelDb.map((level, i) => {
    let least = Infinity;
    let limit: LevelLimit | null = null;
    const bound = (which: LevelLimit, factor: number) => {
      if (factor < least) [least, limit] = [factor, which];
    };
    const { excursionMm, openingSpeed, watts, timesVolts } = limits;
    if (excursionMm !== null) bound('excursion', excursionMm / curves.excursionMm[i]);
    if (openingSpeed !== null)
      bound(
        'opening',
        (typeof openingSpeed === 'number' ? openingSpeed : openingSpeed[i]) /
          curves.openingSpeed[i],
      );
    if (watts !== null) bound('power', Math.sqrt(watts / curves.watts[i]));
    if (timesVolts !== null) bound('amplifier', timesVolts);
    by.push(limit);
    return level + 20 * Math.log10(least);
  });
  return { db, by };
}

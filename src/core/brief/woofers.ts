import type { Design, Driver } from '@/core/document/schema';

/**
 * The drivers with the largest cones of those whose data sheets tell them: one woofer, or several
 * alike.
 */
export function woofersOf({ drivers }: Pick<Design, 'drivers'>): Driver[] {
  const areas = drivers.flatMap(({ sheet }) => sheet.sdCm2 ?? []);
  const largest = Math.max(...areas);
  return drivers.filter(({ sheet }) => sheet.sdCm2 !== null && sheet.sdCm2 === largest);
}

/** The first of them; null while no data sheet tells an area. */
export const wooferOf = (design: Pick<Design, 'drivers'>): Driver | null =>
  woofersOf(design).at(0) ?? null;

import type { Design } from '@/core/document/schema';

/**
 * What a measurement is used for, driver by driver and step by step, in words; empty when nothing
 * uses it.
 */
export function usesOf({ drivers, measurements }: Design, id: string): string[] {
  return [
    ...drivers.flatMap(({ name, responseId, impedanceId, offAxisIds, fitting }) => [
      ...(responseId === id ? [`response of ${name}`] : []),
      ...(impedanceId === id ? [`impedance of ${name}`] : []),
      ...(offAxisIds.includes(id) ? [`orbit of ${name}`] : []),
      ...(fitting.secondId === id ? [`second impedance of ${name}`] : []),
    ]),
    ...measurements.flatMap(({ id: other, name, recipe }) =>
      other !== id && recipe.some((step) => Object.values(step).includes(id))
        ? [`a step of ${name}`]
        : [],
    ),
  ];
}

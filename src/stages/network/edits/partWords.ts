import type { Place } from '@/core/document/schema';

export const placeWords: Readonly<Record<Place, string>> = {
  series: 'in series',
  shunt: 'in shunt',
};

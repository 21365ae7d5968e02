import type { DriverSheet } from '@/core/document/briefSchema';

/** Kinds of power ratings, as a sentence goes on after the watts. */
export const ratingKinds: Readonly<Record<NonNullable<DriverSheet['ratedAs']>, string>> = {
  noise: 'noise (IEC)',
  aes: 'AES',
  programme: 'programme',
  system: 'the whole system, behind a filter',
};

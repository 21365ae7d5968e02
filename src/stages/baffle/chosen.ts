import type { DriverId } from '@/core/fields';

/** What is chosen on the drawing of the baffle. */
export type Chosen =
  | { readonly kind: 'driver'; readonly id: DriverId }
  | { readonly kind: 'edge'; readonly index: number }
  | { readonly kind: 'port'; readonly index: number }
  | { readonly kind: 'front' }
  | { readonly kind: 'seat' };

export const isSame = (a: Chosen, b: Chosen): boolean => JSON.stringify(a) === JSON.stringify(b);

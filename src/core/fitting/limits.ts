import { z } from 'zod';
import { forEveryKind, partKinds } from '@/core/document/partKinds';
import { positive } from '@/core/fields';
import { buyableSchema } from './stock';

const price = z.number().min(0).max(1e5);

/** What parts cost, in the currency of the brief. */
const ratesSchema = z.strictObject({
  /** A part of each kind, besides what follows its value: copper, and microfarads. */
  ...forEveryKind(() => price),
  copperPerKg: price,
  perMicrofarad: price,
});

/** What a designer asks of the parts beside the promises, which wait for ratings and prices. */
const partLimitsSchema = z.strictObject({
  /** Heat of any resistor under programme at the amplifier's power, watts. */
  mostWatts: positive.max(1e4).nullable(),
  /** Cost of all parts of the network, at the rates. */
  mostOutlay: positive.max(1e6).nullable(),
  rates: ratesSchema,
  /** Spread of the parts that one will get, to which limits keep a reserve: 0.05 for ±5 %. */
  tolerance: z.number().min(0).max(0.2).default(0.05),
});

/** What a search from nothing keeps within. */
export const searchLimitsSchema = partLimitsSchema.extend({
  mostParts: z.int().min(2).max(24),
  /** Inductance of the largest coil. */
  mostHenries: positive.max(1).nullable(),
  /** Values that parts are to have; null for any. */
  stock: buyableSchema.nullable().default(null),
});

export type PriceRates = z.infer<typeof ratesSchema>;
export type PartLimits = z.infer<typeof partLimitsSchema>;
export type SearchLimits = z.infer<typeof searchLimitsSchema>;

/**
 * No limits but a reserve for parts of ±5 %; rates of the size that film capacitors, wire-wound resistors and air coils cost
 * (common practice, no source).
 */
export const noPartLimits: PartLimits = {
  mostWatts: null,
  mostOutlay: null,
  tolerance: 0.05,
  rates: { ...forEveryKind((kind) => partKinds[kind].price), copperPerKg: 25, perMicrofarad: 0.5 },
};

/** Limits of a search that knows only how many parts there may be. */
export const limitedTo = (mostParts: number): SearchLimits => ({
  ...noPartLimits,
  mostParts,
  mostHenries: null,
  stock: null,
});

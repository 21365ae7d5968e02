import { z } from 'zod';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { limitedTo, searchLimitsSchema } from '@/core/fitting/limits';
import { buyableSchema, usualSeries } from '@/core/fitting/stock';

const choicesSchema = z.object({
  /** What values are rounded to. */
  series: buyableSchema,
  /** What fits and searches keep within. */
  limits: searchLimitsSchema,
  /** Whether a search takes only values that one can have. */
  isOfStock: z.boolean().default(false),
});

type Choices = z.infer<typeof choicesSchema>;

interface SheetChoices extends Choices {
  readonly set: (choices: Partial<Choices>) => void;
}

/**
 * What one sets once for all designs, kept in this browser: shop and shelf are the same for each.
 */
export const useSheetChoices = create<SheetChoices>()(
  persist(
    (set) => ({
      series: usualSeries,
      limits: limitedTo(12),
      isOfStock: false,
      set: (choices) => set(choices),
    }),
    {
      name: 'fair-voicing sheet choices',
      partialize: ({ series, limits, isOfStock }): Choices => ({ series, limits, isOfStock }),
      // An older version, or another hand, may have left something else there.
      merge: (kept, now) => {
        const read = choicesSchema.safeParse(kept);
        return read.success ? { ...now, ...read.data } : now;
      },
    },
  ),
);

import type { Box, BoxKind } from '@/core/document/boxSchema';

/** Losses of a well built vented box as a leakage at its tuning, all of them in it (Small 1973). */
export const usualQl = 7;

/**
 * Leakage of a box that becomes one of a kind. A vented box has what is usual, a closed one none (Small
 * 1972): at its resonance the 7 of a vented box would be a hole through which a pushed cone is back
 * before one sees it move. What was stated for the kind stays.
 *
 * @param before as it was; null for a new one
 */
export function leakageOf(kind: BoxKind, before: Pick<Box, 'kind' | 'ql'> | null): number | null {
  const isTuned = kind === 'vented' || kind === 'passive-radiator';
  const wasTuned = before?.kind === 'vented' || before?.kind === 'passive-radiator';
  if (before !== null && isTuned === wasTuned) return before.ql;
  return isTuned ? usualQl : null;
}

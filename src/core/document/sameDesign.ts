/**
 * Whether two documents, or parts of them, say the same: plain JSON, whatever the order of keys.
 */
export function isSameDesign(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [keysA, keysB] = [Object.keys(a), Object.keys(b)];
  return (
    keysA.length === keysB.length &&
    keysA.every((key) =>
      isSameDesign((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]),
    )
  );
}

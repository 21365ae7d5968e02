/**
 * What of a document changed, for another thread that has the former one. A thread that is sent
 * whole documents gets new objects each time and can't tell what stayed the same.
 */
export type Difference =
  | { readonly kind: 'whole'; readonly value: unknown }
  /** Of an object with the same keys, or an array of the same length, those fields that changed. */
  | { readonly kind: 'fields'; readonly fields: readonly (readonly [string, Difference])[] };

/**
 * Documents share what an edit leaves as it is, so that objects which are the same need no look
 * inside.
 *
 * @param before what the other thread has
 * @param after plain data: objects, arrays, text, numbers, booleans, null
 */
export function differenceOf(before: unknown, after: unknown): Difference {
  if (!isHolder(before) || !isHolder(after) || !isSameShape(before, after))
    return { kind: 'whole', value: after };
  const fields = Object.keys(after).flatMap((key): [string, Difference][] =>
    Object.is(before[key], after[key]) ? [] : [[key, differenceOf(before[key], after[key])]],
  );
  return { kind: 'fields', fields };
}

/** The document with the difference; what did not change is the same objects as before. */
export function withDifference(before: unknown, difference: Difference): unknown {
  if (difference.kind === 'whole') return difference.value;
  if (difference.fields.length === 0) return before;
  const former = before as Fields;
  const after = (Array.isArray(before) ? [...(before as unknown[])] : { ...former }) as Fields;
  for (const [key, inside] of difference.fields) after[key] = withDifference(former[key], inside);
  return after;
}

type Fields = Record<string, unknown>;

const isHolder = (value: unknown): value is Fields => typeof value === 'object' && value !== null;

/** Whether both hold fields of the same names, in the same order. */
function isSameShape(before: Fields, after: Fields): boolean {
  if (Array.isArray(before) !== Array.isArray(after)) return false;
  const [one, other] = [Object.keys(before), Object.keys(after)];
  return one.length === other.length && one.every((key, i) => key === other[i]);
}

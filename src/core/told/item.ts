/**
 * One thing of a document: what identifies it, how it is called, what is said of it, and all that
 * it holds.
 */
export interface Item {
  readonly key: string;
  readonly what: string;
  readonly text: string;
  readonly raw: unknown;
}

export interface Named {
  readonly id: string;
  readonly name: string;
}

/** Names of things of which several may have one: the second of a name says so. */
export function numbered<T extends { readonly id: string; readonly name: string }>(
  items: readonly T[],
): ReadonlyMap<string, string> {
  const counts = new Map<string, number>();
  return new Map(
    items.map(({ id, name }) => {
      const count = (counts.get(name) ?? 0) + 1;
      counts.set(name, count);
      return [id, count === 1 ? name : `${name} (${count})`];
    }),
  );
}

import type { Design, Way } from './schema';

/**
 * What of a design is not a part of its network. What a brief asks for depends on this alone, so that
 * a nudge of a part leaves it as it is.
 */
export interface DesignWithoutParts extends Omit<Design, 'ways' | 'bridges'> {
  readonly ways: readonly Omit<Way, 'parts'>[];
}

/** Whether two designs differ in their parts alone: all else is the same objects and values. */
export const differInPartsAlone = (one: DesignWithoutParts, other: DesignWithoutParts): boolean =>
  hasSameFields(one, other, ['ways', 'bridges']) &&
  one.ways.length === other.ways.length &&
  one.ways.every((way, i) => way === other.ways[i] || hasSameFields(way, other.ways[i], ['parts']));

function hasSameFields(one: object, other: object, except: readonly string[]): boolean {
  const keys = Object.keys(one);
  return (
    keys.length === Object.keys(other).length &&
    keys.every(
      (key) =>
        except.includes(key) || Object.is(one[key as keyof object], other[key as keyof object]),
    )
  );
}

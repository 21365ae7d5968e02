/**
 * Text that every store takes. JSON and PostgreSQL's jsonb hold well-formed Unicode without U+0000
 * only; files written by other programs hold padding, escape codes and cut emoji.
 */

/** Control characters (C0, DEL, C1) but tab, line feed and carriage return, which are text. */
const controls = /[^\P{Cc}\t\n\r]/u;
const everyControl = new RegExp(controls, 'gu');
/** Half of a surrogate pair without its other half. */
const loneSurrogate = /\p{Surrogate}/u;
const everyLoneSurrogate = new RegExp(loneSurrogate, 'gu');

/** Whether a text can be stored as it is. */
export const isClean = (text: string): boolean => !controls.test(text) && !loneSurrogate.test(text);

/**
 * The text without control characters; half characters become U+FFFD, the replacement character.
 */
export const cleanText = (text: string): string =>
  isClean(text) ? text : text.replace(everyControl, '').replace(everyLoneSurrogate, '\uFFFD');

const graphemes = new Intl.Segmenter('en', { granularity: 'grapheme' });

/**
 * A clean text of at most so many UTF-16 units, cut between characters as readers see them: an
 * emoji with its modifiers stays whole or goes.
 */
export function cutText(text: string, most: number): string {
  const clean = cleanText(text);
  if (clean.length <= most) return clean;
  let end = 0;
  // A little more than what is kept, so that the last character is seen whole.
  for (const { index, segment } of graphemes.segment(clean.slice(0, most + 64))) {
    if (index + segment.length > most) break;
    end = index + segment.length;
  }
  return clean.slice(0, end);
}

/**
 * No document nests deeper; what does is refused by its schema, and must not exhaust the stack
 * here.
 */
const deepest = 40;

/**
 * Path of the first text or key in parsed JSON that can't be stored, e.g. `ways.0.name`; null when
 * there is none.
 */
export function uncleanPlace(value: unknown, depth = 0): string | null {
  if (typeof value === 'string') return isClean(value) ? null : '';
  if (typeof value !== 'object' || value === null || depth > deepest) return null;
  // A table's numbers need no look each.
  if (Array.isArray(value) && typeof value[0] === 'number') return null;
  for (const [key, inner] of Object.entries(value)) {
    if (!isClean(key)) return '(a field’s name)';
    const place = uncleanPlace(inner, depth + 1);
    if (place !== null) return place === '' ? key : `${key}.${place}`;
  }
  return null;
}

/** Parsed JSON with all its texts cleaned; what is clean stays the same object. */
export function cleaned<T>(value: T): T {
  return uncleanPlace(value) === null ? value : (cleanedDeep(value) as T);
}

function cleanedDeep(value: unknown, depth = 0): unknown {
  if (typeof value === 'string') return cleanText(value);
  if (typeof value !== 'object' || value === null || depth > deepest) return value;
  if (Array.isArray(value)) return value.map((inner) => cleanedDeep(inner, depth + 1));
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]) => [cleanText(key), cleanedDeep(inner, depth + 1)]),
  );
}

/** A name as part of a file name: letters and digits kept, everything else a hyphen. */
export function fileStem(name: string): string {
  return (
    name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 60) || 'unnamed'
  );
}

import fc from 'fast-check';
import { cleaned, cleanText, cutText, isClean, uncleanPlace } from './text';

const anyText = fc.string({ unit: 'binary', maxLength: 60 });
const halves = fc
  .array(
    fc.constantFrom('a', '\u0000', '\u001b', '\ud83d', '\ude00', '😀', '👩‍🔬', 'é', '\n', '\u0085'),
  )
  .map((pieces) => pieces.join(''));

test('clean text is well-formed and has no control characters but those of lines', () => {
  fc.assert(
    fc.property(fc.oneof(anyText, halves), (text) => {
      const clean = cleanText(text);
      expect(isClean(clean)).toBe(true);
      expect(cleanText(clean)).toBe(clean);
      // JSON and back, and over UTF-8, as the database gets it.
      expect(Buffer.from(JSON.stringify(clean), 'utf8').toString('utf8')).toBe(
        JSON.stringify(clean),
      );
    }),
  );
  expect(cleanText('a\u0000b\tc\nd\u0007')).toBe('ab\tc\nd');
  expect(cleanText('cut \ud83d')).toBe('cut \uFFFD');
});

test('cutting leaves whole characters', () => {
  const scientist = '👩‍🔬';
  expect(cutText(`${'x'.repeat(79)}😀`, 80)).toBe('x'.repeat(79));
  expect(cutText(`ab${scientist}c`, 2 + scientist.length - 1)).toBe('ab');
  expect(cutText(`ab${scientist}c`, 2 + scientist.length)).toBe(`ab${scientist}`);
  fc.assert(
    fc.property(fc.oneof(anyText, halves), fc.nat(40), (text, most) => {
      const cut = cutText(text, most);
      expect(cut.length).toBeLessThanOrEqual(most);
      expect(cleanText(text).startsWith(cut)).toBe(true);
      expect(isClean(cut)).toBe(true);
    }),
  );
});

test('the place of a text that no store takes is named', () => {
  expect(uncleanPlace({ ways: [{ name: 'fine' }, { name: 'a\u0000' }] })).toBe('ways.1.name');
  expect(uncleanPlace({ 'a\u0000': 1 })).toBe('(a field’s name)');
  expect(uncleanPlace({ a: [1, 2], b: null, c: 'tab\t' })).toBeNull();
  const deep = JSON.parse(`${'['.repeat(5000)}${']'.repeat(5000)}`) as unknown;
  expect(uncleanPlace(deep)).toBeNull();
});

test('cleaning a document changes what has to be changed only', () => {
  const clean = { a: ['x', { b: 'y' }] };
  expect(cleaned(clean)).toBe(clean);
  expect(cleaned({ a: ['x\u0000', { b: '\ud83d' }], n: 1 })).toEqual({
    a: ['x', { b: '\uFFFD' }],
    n: 1,
  });
});

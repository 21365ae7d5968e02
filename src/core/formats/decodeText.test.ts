import { ProblemError } from '@/core/problem';
import { decodeText } from './decodeText';

const bytes = (...values: readonly (number | string)[]) =>
  Uint8Array.from(
    values.flatMap((value) =>
      typeof value === 'number' ? [value] : [...new TextEncoder().encode(value)],
    ),
  );
const utf16 = (text: string, isBig: boolean) =>
  Uint8Array.from(
    [...Array(text.length).keys()].flatMap((i) => {
      const code = text.charCodeAt(i);
      return isBig ? [code >> 8, code & 255] : [code & 255, code >> 8];
    }),
  );
const refusal = (content: Uint8Array) => {
  try {
    decodeText(content, 'dropped.txt');
  } catch (error) {
    if (error instanceof ProblemError) return error.problem;
    throw error;
  }
  throw new Error('It was read.');
};
const row = '20\t85.25\t-170\n';

test.each<[string, Uint8Array]>([
  ['a ZIP archive or a spreadsheet', bytes('PK', 3, 4, row)],
  ['a PDF document', bytes('%PDF-1.7', row)],
  ['a PNG picture', bytes(0x89, 'PNG', row)],
  ['a JPEG picture', bytes(0xff, 0xd8, 0xff, 0xe0, row)],
  ['a GIF picture', bytes('GIF89a', row)],
  ['a WAV recording', bytes('RIFF', 0x24, 0, 0, 0, 'WAVE')],
  ['an Ogg recording', bytes('OggS', 0, 2)],
  ['a FLAC recording', bytes('fLaC', 0, 0)],
  ['a gzip archive', bytes(0x1f, 0x8b, 8, 0)],
  ['an old office document', bytes(0xd0, 0xcf, 0x11, 0xe0, 0xa1)],
  ['a database', bytes('SQLite format 3', 0)],
  ['a rich-text document', bytes('{\\rtf1\\ansi')],
])('%s is named for what it is', (what, content) => {
  const { code, where, what: said, why } = refusal(content);
  expect([code, where, said]).toEqual(['not_text', 'dropped.txt', 'This is not a text table.']);
  expect(why).toBe(`It looks like ${what}.`);
});

test('an empty file, and one of more than 64 MiB, are refused before anything is done', () => {
  expect(refusal(new Uint8Array(0)).code).toBe('file_empty');
  const huge = refusal(new Uint8Array(64 * 2 ** 20 + 1));
  expect(huge).toMatchObject({ code: 'file_too_large', what: 'The file has 64 MiB.' });
});

test('a program that is full of control characters is no text; a stray one does not matter', () => {
  const program = Uint8Array.from({ length: 400 }, (_, i) => (i * 37) % 256);
  expect(refusal(program).why).toBe('It holds bytes that no text has.');
  const { text } = decodeText(bytes('Level', 7, ' in dB', 27, '\n', row), 'a.txt');
  expect(text).toBe(`Level in dB\n${row}`);
});

test.each<[string, Uint8Array, string]>([
  ['UTF-8', bytes('µ Ω °\n', row), 'UTF-8'],
  ['UTF-8 with a mark', bytes(0xef, 0xbb, 0xbf, 'µ Ω °\n', row), 'UTF-8'],
  ['UTF-16, low byte first, with a mark', bytes(0xff, 0xfe), 'UTF-16'],
  ['UTF-16, high byte first, with a mark', bytes(0xfe, 0xff), 'UTF-16'],
])('%s is read', (_, content, encoding) => {
  const isBig = content[0] === 0xfe;
  const whole =
    encoding === 'UTF-16'
      ? Uint8Array.from([...content, ...utf16(`µ Ω °\n${row}`, isBig)])
      : content;
  expect(decodeText(whole, 'a.txt')).toEqual({ text: `µ Ω °\n${row}`, encoding });
});

test('UTF-16 is known by its zeros where it has no mark, and an odd last byte is left', () => {
  for (const isBig of [false, true]) {
    const plain = utf16(row.repeat(3), isBig);
    expect(decodeText(plain, 'a.txt')).toEqual({ text: row.repeat(3), encoding: 'UTF-16' });
    const cut = plain.slice(0, plain.length - 1);
    expect(decodeText(cut, 'a.txt').text).toBe(row.repeat(3).slice(0, -1));
  }
});

test('what is no UTF-8 is Latin-1, in which every byte means something', () => {
  const { text, encoding } = decodeText(
    bytes('Me', 0xdf, 'ger', 0xe4, 't, 8 ', 0xb0, '\n', row),
    'a',
  );
  expect(encoding).toBe('Latin-1');
  expect(text).toBe(`Meßgerät, 8 °\n${row}`);
});

test('zeros and CP/M marks that fill the last block are no text, wherever they are many', () => {
  const padded = bytes(row, ...Array<number>(300).fill(0));
  expect(decodeText(padded, 'a.txt').text).toBe(row);
  expect(decodeText(bytes(row, 0x1a), 'a.txt').text).toBe(row);
  // In the middle a few NULs are left out of the text.
  expect(decodeText(bytes('20', 0, '\t85', 0, '\n', row), 'a.txt').text).toBe(`20\t85\n${row}`);
});

test('halves of characters become the replacement character, as no store takes them', () => {
  const lone = Uint8Array.from([0xff, 0xfe, ...utf16('a\uD83Db\n', false)]);
  expect(decodeText(lone, 'a.txt').text).toBe('a\uFFFDb\n');
});

test('a long text comes over whole', () => {
  const long = row.repeat(20_000);
  expect(decodeText(bytes(long), 'a.txt').text).toHaveLength(long.length);
  expect(decodeText(utf16(long, false), 'a.txt').text).toHaveLength(long.length);
});

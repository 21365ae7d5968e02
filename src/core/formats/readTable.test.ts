import { ProblemError } from '@/core/problem';
import { readTable } from './readTable';
import { writeTable } from './writeTable';

const utf8 = (text: string) => new TextEncoder().encode(text);
const utf16 = (text: string, mark: boolean, bigEndian = false) => {
  const codes = [...(mark ? '\uFEFF' : ''), ...text].map((c) => c.charCodeAt(0));
  return Uint8Array.from(codes.flatMap((c) => (bigEndian ? [c >> 8, c & 255] : [c & 255, c >> 8])));
};
const read = (text: string) => readTable(utf8(text), 'a.txt');

const plain = { f: [20, 40.5], m: [85.25, -3], p: [10, -170] as number[] | null };

// The same two rows, written in many ways.
test.each<[string, Uint8Array, Partial<typeof plain>?]>([
  ['spaces', utf8('20 85.25 10\n40.5 -3 -170')],
  ['leading spaces and CRLF', utf8('   20  85.25   10\r\n 40.5   -3 -170\r\n')],
  ['tabs with decimal comma', utf8('20,0\t85,25\t10,0\n40,5\t-3,0\t-170,0')],
  ['semicolons with decimal comma', utf8('20;85,25;10\n40,5;-3;-170')],
  ['spaces with decimal comma', utf8('20,0 85,25 10,0\n40,5 -3,0 -170,0')],
  ['comma and space', utf8('20, 85.25, 10\n40.5, -3, -170')],
  ['commas', utf8('20,85.25,10\n40.5,-3,-170')],
  ['scientific notation', utf8('2.0e1 8.525E+01 1e1\n4.05E+1 -3.0e0 -1.7e2')],
  ['Fortran exponents', utf8('2.0D1 8.525D+01 1d1\n4.05D+1 -3.0D0 -1.7D2')],
  ['quoted fields', utf8('"Hz","dB","deg"\n"20","85.25","10"\n"40.5","-3","-170"')],
  ['every comment mark', utf8('* a\n# b\n; c\n" d\n// e\n20 85.25 10\n* between\n40.5 -3 -170')],
  ['byte-order mark', utf8('\uFEFFHz dB deg\n20 85.25 10\n40.5 -3 -170')],
  ['UTF-16 little-endian', utf16('Hz\tdB\tdeg\n20\t85.25\t10\n40.5\t-3\t-170', true)],
  ['UTF-16 big-endian', utf16('20\t85.25\t10\n40.5\t-3\t-170', true, true)],
  ['UTF-16 without mark', utf16('20\t85.25\t10\n40.5\t-3\t-170', false)],
  [
    'Latin-1 in a comment',
    Uint8Array.from([0x2a, 0x20, 0xb0, 0xe9, 0x0a, ...utf8('20 85.25 10\n40.5 -3 -170')]),
  ],
  [
    'kilohertz',
    utf8('Frequency [kHz]\tLevel [dB]\tPhase [deg]\n0.02\t85.25\t10\n0.0405\t-3\t-170'),
  ],
  ['other column order', utf8('Phase (deg);Level (dB);Frequency (Hz)\n10;85.25;20\n-170;-3;40.5')],
  ['a further column', utf8('f\tSPL\tcoherence\tphase\n20\t85.25\t0.9\t10\n40.5\t-3\t0.8\t-170')],
  ['unsorted', utf8('40.5 -3 -170\n20 85.25 10')],
  ['duplicates, first kept', utf8('20 85.25 10\n20 99 99\n40.5 -3 -170')],
  ['0 Hz and NaN rows', utf8('0 85 10\n-5 1 1\n20 85.25 10\n30 NaN 0\n35 -inf 0\n40.5 -3 -170')],
  ['a footer', utf8('20 85.25 10\n40.5 -3 -170\nend of data')],
  ['no phase', utf8('20 85.25\n40.5 -3'), { p: null }],
])('%s', (_name, bytes, differing = {}) => {
  const want = { ...plain, ...differing };
  const { samples, kind } = readTable(bytes, 'a.xyz');
  expect(kind).toBe('response');
  expect([...samples.frequencyHz]).toEqual(want.f);
  expect([...samples.magnitude]).toEqual(want.m);
  expect(samples.phaseDeg && [...samples.phaseDeg]).toEqual(want.p);
});

test('radians, pascals, linear magnitudes and kilohms are converted as the header says', () => {
  expect(read('Hz dB rad\n20 80 3.141592653589793\n40 80 0').samples.phaseDeg![0]).toBeCloseTo(
    180,
    12,
  );
  expect(read('# phase in radians\n20 80 1\n40 80 0').samples.phaseDeg![0]).toBeCloseTo(
    57.29578,
    5,
  );
  // 1 Pa is 93.98 dB re 20 µPa.
  expect(read('Hz Pa\n20 1\n40 2').samples.magnitude[0]).toBeCloseTo(93.9794, 4);
  expect(read('# magnitude is linear\n20 0.5\n40 2').samples.magnitude[0]).toBeCloseTo(-6.0206, 4);
  expect(read('Hz kOhm deg\n20 0.5 3\n40 2 3').samples.magnitude[0]).toBe(500);
});

test.each([
  ['20 8.1 10\n40 32 -40', 'impedance', 'within ±90°'],
  ['20 8.1 10\n40 32 -140', 'response', 'beyond ±90°'],
  ['20 85 10\n40 88 -40', 'response', 'as dB would be'],
  ['20 -3 10\n40 8 -40', 'response', 'above zero'],
  ['freq ohm\n20 85\n40 88', 'impedance', 'speaks of ohms'],
  ['freq dB\n20 6\n40 8', 'response', 'says dB'],
  ['# woofer, 8 ohm nominal\n20 85\n40 88', 'response', 'as dB would be'],
])('%j is taken for %s, and says why', (text, kind, reason) => {
  const reading = read(text);
  expect(reading.kind).toBe(kind);
  expect(reading.kindReason).toContain(reason);
});

test('warnings tell what was done', () => {
  expect(read('40 80 1\n20 80 1\n20 81 2\n0 0 0\n30 nan 0').warnings).toEqual([
    '1 row without a number skipped, first in line 5.',
    '1 row at 0 Hz or below skipped, first in line 4.',
    'Rows sorted by frequency.',
    '1 row with a frequency that was there already skipped, first at 20 Hz.',
    'Every phase lies within ±3.15: if it is in radians, say so in the header (“phase rad”) and read the file again.',
  ]);
  expect(read('20 80 1\n40 80 -3.1').warnings[0]).toMatch(/±3.15/);
});

const bytesOf = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));
const manyRows = (n: number) => Array.from({ length: n }, (_, i) => `${i + 1} 80`).join('\n');

// Bad files of many kinds, each with its message.
test.each<[string, Uint8Array, string, RegExp]>([
  ['empty', utf8(''), 'file_empty', /^bad\.txt: The file is empty/],
  ['blank lines', utf8('\n \n\t\n'), 'no_table', /only blank lines/],
  ['prose', utf8('Dear reader,\nthis is a letter.'), 'no_table', /begins “Dear reader,”/],
  ['header only', utf8('Hz dB deg\n'), 'no_table', /no table of numbers/],
  ['comments only', utf8('* 1\n# 2\n'), 'no_table', /no table/],
  ['one column', utf8('20\n30\n40'), 'no_table', /no table/],
  ['one row', utf8('20 80 1'), 'too_few_rows', /^bad\.txt:1: The table has one row/],
  ['one usable row', utf8('20 80\n0 80\n-3 80'), 'too_few_rows', /1 usable row/],
  ['no usable row', utf8('0 80\nNaN 80'), 'too_few_rows', /0 usable rows/],
  ['too many rows', utf8(manyRows(200_001)), 'too_many_rows', /^bad\.txt:200001: .*200,000/],
  [
    'a short row',
    utf8('20 80 1\n30 81\n40 80 1'),
    'row_too_short',
    /^bad\.txt:2: This row has 2 columns/,
  ],
  [
    'a word in a row',
    utf8('20 80 1\n30 81 up\n40 80 1'),
    'not_a_number',
    /^bad\.txt:2: “up” is not a number/,
  ],
  [
    'a word for the level',
    utf8('20 80\n30 oops\n40 80'),
    'not_a_number',
    /^bad\.txt:2: “30 oops” is not a row/,
  ],
  [
    'a second table',
    utf8('20 80\n30 80\nImpedance\n20 8\n30 9'),
    'second_table',
    /^bad\.txt:4: A second table.*Line 3/,
  ],
  ['ambiguous commas', utf8('20,5,80,1\n30,5,80,2'), 'comma_ambiguous', /^bad\.txt:1: Commas/],
  [
    'both decimal marks',
    utf8('20,5;80.1\n30.5;80,2'),
    'decimal_ambiguous',
    /Decimal points and decimal commas/,
  ],
  [
    'real and imaginary',
    utf8('Hz real imag\n20 1 2\n30 1 2'),
    'rectangular',
    /real and an imaginary part/,
  ],
  [
    'a zip archive',
    bytesOf('PK\x03\x04\x14\x00\x00\x00'),
    'not_text',
    /ZIP archive or a spreadsheet/,
  ],
  ['a PDF', bytesOf('%PDF-1.7\n20 80\n30 80'), 'not_text', /PDF/],
  ['a picture', bytesOf('\x89PNG\r\n\x1a\n'), 'not_text', /PNG/],
  ['a recording', bytesOf('RIFF\x24\x00\x00\x00WAVE'), 'not_text', /WAV/],
  ['unknown bytes', Uint8Array.from([1, 2, 3, 0, 5, 6, 7, 8, 200, 0]), 'not_text', /no text has/],
  ['a huge file', new Uint8Array(64 * 1024 * 1024 + 1).fill(32), 'file_too_large', /64 MiB/],
])('%s is refused', (_name, bytes, code, message) => {
  let thrown: unknown;
  try {
    readTable(bytes, 'bad.txt');
  } catch (error) {
    thrown = error;
  }
  expect(thrown).toBeInstanceOf(ProblemError);
  const { problem } = thrown as ProblemError;
  expect(problem.code).toBe(code);
  expect((thrown as ProblemError).message).toMatch(message);
  expect(problem.mend).not.toBe('');
});

test('200 000 rows are read', () => {
  expect(read(manyRows(200_000)).samples.frequencyHz).toHaveLength(200_000);
});

test('a written table reads back to the same numbers', () => {
  const samples = {
    frequencyHz: Float64Array.of(20.000000000000004, 1000 / 3, 1e4),
    magnitude: Float64Array.of(85.1234567890123, -1e-7, 1 / 3),
    phaseDeg: Float64Array.of(-179.99999999999997, 1e-300, 720.5),
  };
  const reading = read(writeTable(samples, 'response', 'three odd\nrows'));
  expect(reading.samples).toEqual(samples);
  expect(reading.warnings).toEqual([]);
});

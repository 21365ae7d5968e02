import { planNetwork } from '../network/plan';
/** Whatever comes in, the answer is a result or a problem with words; never another error. */
import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { ProblemError } from '@/core/problem';
import { readSpice } from '@/core/network/spice';
import { readDesign } from '@/core/document/readDesign';
import { parseQuantity, type Dimension } from '@/core/units/quantity';
import { readProjectFile } from './projectFile';
import { readTable } from './readTable';

const runs = { numRuns: 300, seed: 20_261_125 };

function expectWords(work: () => unknown): void {
  try {
    work();
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    expect(error.problem.what).not.toBe('');
  }
}

test('any bytes as a table', () =>
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) =>
      expectWords(() => readTable(bytes, 'x')),
    ),
    runs,
  ));

const tableText = fc
  .array(
    fc.constantFrom(
      '1',
      '20',
      '3.5',
      '4,5',
      '-7',
      'NaN',
      '1e3',
      ' ',
      '\t',
      ';',
      ',',
      '\n',
      '\r\n',
      '*',
      '#',
      '"',
      '//',
      'Hz',
      'dB',
      'ohm',
      '°',
      '\0',
    ),
    { maxLength: 60 },
  )
  .map((pieces) => pieces.join(''));

test('any text made of the pieces of tables', () =>
  fc.assert(
    fc.property(tableText, (text) => expectWords(() => readTable(strToU8(text), 'x'))),
    { ...runs, numRuns: 2000 },
  ));

test('what is read is always fit to be used', () =>
  fc.assert(
    fc.property(tableText, (text) => {
      let samples;
      try {
        ({ samples } = readTable(strToU8(text), 'x'));
      } catch {
        return;
      }
      const { frequencyHz, magnitude, phaseDeg } = samples;
      expect(frequencyHz.length).toBeGreaterThanOrEqual(2);
      expect(frequencyHz.every((f, i) => f > (i === 0 ? 0 : frequencyHz[i - 1]))).toBe(true);
      expect(
        [magnitude, phaseDeg ?? magnitude].every(
          (column) => column.length === frequencyHz.length && column.every(Number.isFinite),
        ),
      ).toBe(true);
    }),
    { ...runs, numRuns: 2000 },
  ));

const circuitText = fc
  .array(
    fc.constantFrom(
      'r1',
      'l1',
      'c1',
      'v1',
      'k1',
      'q1',
      ' ',
      '\n',
      '0',
      'a',
      '4.7u',
      'ac',
      '1',
      '+',
      '*',
      '.end',
      '.ac',
      '-3',
      '(',
      ')',
    ),
    { maxLength: 40 },
  )
  .map((pieces) => pieces.join(''));

test('any netlist', () =>
  fc.assert(
    fc.property(circuitText, (text) => expectWords(() => readSpice(text, 'x'))),
    runs,
  ));

test('any JSON as a design', () =>
  fc.assert(
    fc.property(fc.jsonValue(), (value) =>
      expectWords(() =>
        readDesign({ format: 'fair-voicing', version: 2, ...(value as object) }, 'x'),
      ),
    ),
    runs,
  ));

test('any bytes, and any archive, as a project', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) =>
      expectWords(() => readProjectFile(bytes, 'x')),
    ),
    runs,
  );
  fc.assert(
    fc.property(
      fc.dictionary(fc.string({ minLength: 1, maxLength: 12 }), fc.uint8Array({ maxLength: 40 }), {
        maxKeys: 4,
      }),
      (entries) => expectWords(() => readProjectFile(zipSync(entries), 'x')),
    ),
    runs,
  );
});

test('any text as a value', () =>
  fc.assert(
    fc.property(
      fc.string({ maxLength: 12 }),
      fc.constantFrom<Dimension>('ohm', 'henry', 'farad', 'millimetre', 'hertz', 'volt'),
      (text, dimension) => expectWords(() => parseQuantity(text, dimension)),
    ),
    { ...runs, numRuns: 2000 },
  ));

test('rows written in any usual style read back as they were', () => {
  const row = fc.record({
    magnitude: fc.integer({ min: -99_999, max: 150_000 }),
    phase: fc.integer({ min: -180_000, max: 180_000 }),
  });
  const style = fc.record({
    separator: fc.constantFrom('\t', ';', '  ', ' ; '),
    mark: fc.constantFrom('.', ','),
    end: fc.constantFrom('\n', '\r\n', '\r'),
    header: fc.constantFrom('', '* Hz dB deg', '# made up\n', '"Hz"\t"dB"\t"deg"', '// x'),
    indent: fc.constantFrom('', ' ', '\t'),
  });
  fc.assert(
    fc.property(
      fc.array(row, { minLength: 2, maxLength: 30 }),
      style,
      (rows, { separator, mark, end, header, indent }) => {
        const number = (thousandths: number) => (thousandths / 1000).toFixed(3).replace('.', mark);
        const lines = rows.map(
          ({ magnitude, phase }, i) =>
            indent +
            [number(20_000 + 10_500 * i), number(magnitude), number(phase)].join(separator),
        );
        const { samples } = readTable(
          strToU8([...(header === '' ? [] : [header]), ...lines].join(end)),
          'x',
        );
        expect([...samples.frequencyHz]).toEqual(rows.map((_, i) => (20_000 + 10_500 * i) / 1000));
        expect([...samples.magnitude]).toEqual(rows.map(({ magnitude }) => magnitude / 1000));
        expect([...samples.phaseDeg!]).toEqual(rows.map(({ phase }) => phase / 1000));
      },
    ),
    runs,
  );
});

test.each([
  [
    'ten thousand resistors in parallel',
    Array.from({ length: 10_000 }, (_, i) => `r${i} 1 0 ${i + 1}`),
  ],
  [
    'a ladder of ten thousand',
    Array.from({ length: 10_000 }, (_, i) => `r${i} ${i + 1} ${i + 2} 1`),
  ],
  [
    'few nodes that are joined in every way',
    Array.from({ length: 30 }, (_, i) => i + 1).flatMap((i) =>
      Array.from({ length: 30 - i }, (_, j) => `r${i}_${i + j + 1} ${i} ${i + j + 1} ${i + j + 2}`),
    ),
  ],
])('a deck with %s is solved or refused with a limit, never a stack overflow', (_name, lines) => {
  const text = ['deck', 'v1 1 0 AC 1', 'rg 2 0 1', ...lines, '.end'].join('\n');
  const { netlist } = readSpice(text, 'deck.cir');
  try {
    planNetwork(netlist);
  } catch (error) {
    expect(error).toBeInstanceOf(ProblemError);
    expect((error as Error).message).toMatch(/Up to [\d,]+ are solved/);
  }
});

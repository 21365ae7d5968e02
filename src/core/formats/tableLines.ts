import { mostRows } from '@/core/measurement/samples';
import { problem } from '@/core/problem';
import { cleanText, cutText } from '@/core/text';

export type Delimiter = 'tab' | 'semicolon' | 'comma' | 'spaces';

/** A text split into the rows of one table, numbers still as text. */
export interface TableLines {
  readonly delimiter: Delimiter;
  readonly decimalMark: '.' | ',';
  /** Lines before the first row: comments and header words, without their comment mark. */
  readonly header: readonly string[];
  /** Rows in the order of the file, each with its line number (from 1). */
  readonly rows: readonly { readonly line: number; readonly fields: readonly string[] }[];
  /** Lines after the last row that were passed over. */
  readonly footer: readonly string[];
}

const commentMark = /^\s*(?:[*#;"]|\/\/)+/;
const numeral = /^[+-]?(?:\d[\d.,]*|[.,]\d+)(?:[eEdD][+-]?\d+)?$/;
const noNumber = /^[+-]?(?:nan|inf(?:inity)?|n\/a|1\.#\w+|-{1,3}|#n\/a)$/i;

const looksNumeric = (field: string) => numeral.test(field) || noNumber.test(field);

const separators = { tab: /\s*\t\s*/, semicolon: /\s*;\s*/, comma: /\s*,\s*/, spaces: /\s+/ };

/**
 * Fields without quotes. Spaces around delimiters do not count; an empty last field does not
 * either.
 */
function split(line: string, delimiter: Delimiter): string[] {
  const fields = line.trim().split(separators[delimiter]);
  if (line.includes('"'))
    fields.forEach((field, i) => (fields[i] = field.replace(/^"(.*)"$/, '$1').trim()));
  while (fields.length > 1 && fields[fields.length - 1] === '') fields.pop();
  return fields;
}

/**
 * What a row begins with: a numeral, or a word for no number. Most lines of other kinds are known
 * by it.
 */
const rowBeginning = /^["\s]*(?:[+-]?[\d.,]|[+-]?inf|nan|n\/a|1\.#|-|#n\/a)/i;

/**
 * Could this be a row of numbers, whatever the delimiter? Two numerals at least, and nothing but
 * numerals first.
 */
function couldBeRow(line: string): boolean {
  if (!rowBeginning.test(line)) return false;
  const fields = line
    .replace(/"/g, '')
    .trim()
    .split(/[\s;]+|,\s+/, 3)
    .flatMap((field) => {
      // 20,85 is a row of two, or a number with decimal comma: either way numerals.
      const parts = field.split(',');
      return parts.length > 1 && parts.every((p) => looksNumeric(p)) ? parts : [field];
    });
  return fields.length >= 2 && looksNumeric(fields[0]) && looksNumeric(fields[1]);
}

/**
 * Bounds for what no measuring program writes, so that reading ends soon whatever the file holds.
 */
const limits = { lineLength: 16_384, columns: 256, wordLines: 5000 };

/**
 * The lines of a text with their numbers, one after the other: a large file is not taken apart at
 * once.
 */
function* linesOf(text: string, fileName: string): Generator<{ line: number; trimmed: string }> {
  const ending = /\r\n|\n|\r/g;
  let [line, from] = [0, 0];
  while (from <= text.length) {
    const match = ending.exec(text);
    const to = match ? match.index : text.length;
    line++;
    if (to - from > limits.lineLength)
      throw problem(
        'line_too_long',
        `${fileName}:${line}`,
        `This line has ${(to - from).toLocaleString('en')} characters.`,
        `Up to ${limits.lineLength.toLocaleString('en')} are read.`,
        'Export the measurement as a table with one frequency in each line.',
      );
    const trimmed = text.slice(from, to).trim();
    if (trimmed !== '') yield { line, trimmed };
    if (!match) return;
    from = ending.lastIndex;
  }
}

/**
 * Finds the table in a text: where the header ends, which delimiter, which decimal mark.
 *
 * @param text decoded text of the whole file
 * @param fileName for messages
 * @throws ProblemError naming file and line
 */
export function findTableLines(text: string, fileName: string): TableLines {
  const header: string[] = [];
  const footer: string[] = [];
  const data: { line: number; text: string }[] = [];
  let firstFooterLine = 0;
  for (const { line, trimmed } of linesOf(text, fileName)) {
    const quotedRow = trimmed.startsWith('"') && couldBeRow(trimmed);
    const isComment = commentMark.test(trimmed) && !quotedRow;
    if (!isComment && couldBeRow(trimmed)) {
      if (footer.length > 0 && numeral.test(footer[0].split(/[\s;,]+/, 1)[0]))
        throw problem(
          'not_a_number',
          `${fileName}:${firstFooterLine}`,
          `“${shorten(footer[0])}” is not a row of numbers.`,
          'It begins with one and is between rows.',
          'Correct the row or remove it.',
        );
      if (footer.length > 0)
        throw problem(
          'second_table',
          `${fileName}:${line}`,
          'A second table begins here.',
          `Line ${firstFooterLine} is not a row of numbers: “${shorten(footer[0])}”.`,
          'Split the file, one table in each, or mend that line.',
        );
      data.push({ line, text: trimmed });
      if (data.length > mostRows)
        throw problem(
          'too_many_rows',
          `${fileName}:${line}`,
          `The table has more than ${mostRows.toLocaleString('en')} rows.`,
          'That is the limit.',
          'Export fewer points, e.g. 48 per octave.',
        );
    } else if (data.length === 0) header.push(trimmed.replace(commentMark, '').trim());
    else if (!isComment) {
      if (footer.length === 0) firstFooterLine = line;
      footer.push(trimmed);
    }
    if (header.length > limits.wordLines || footer.length > limits.wordLines)
      throw problem(
        'too_many_words',
        `${fileName}:${line}`,
        `There are more than ${limits.wordLines.toLocaleString('en')} lines without numbers.`,
        header.length > 0 ? `The file begins “${shorten(header[0])}”.` : '',
        'Give a file that holds one table of numbers.',
      );
  }
  if (data.length === 0)
    throw problem(
      'no_table',
      fileName,
      'There is no table of numbers in this file.',
      header.length > 0 ? `It begins “${shorten(header[0])}”.` : 'It has only blank lines.',
      'Export frequency, magnitude and phase as columns of numbers.',
    );
  if (data.length < 2)
    throw problem(
      'too_few_rows',
      `${fileName}:${data[0].line}`,
      'The table has one row.',
      'A curve needs two or more.',
      'Export the whole measurement.',
    );

  const { delimiter, decimalMark } = readStyle(data, fileName);
  const rows = data.map(({ line, text: row }) => ({ line, fields: split(row, delimiter) }));
  const widest = rows.find(({ fields }) => fields.length > limits.columns);
  if (widest)
    throw problem(
      'too_many_columns',
      `${fileName}:${widest.line}`,
      `This row has ${widest.fields.length.toLocaleString('en')} columns.`,
      `Up to ${limits.columns} are read.`,
      'Export one measurement in each file, one frequency in each line.',
    );
  return { delimiter, decimalMark, header, rows, footer };
}

/** A line as messages quote it. */
export const shorten = (text: string): string =>
  text.length > 60 ? `${cutText(text, 57)}…` : cleanText(text);

/** Delimiter and decimal mark, judged from up to 200 rows spread over the table. */
function readStyle(data: readonly { line: number; text: string }[], fileName: string) {
  const step = Math.max(1, Math.floor(data.length / 200));
  const sample = data.filter((_, i) => i % step === 0);
  const every = (test: (text: string) => boolean) => sample.every(({ text }) => test(text));
  const some = (test: RegExp) => sample.some(({ text }) => test.test(text));
  if (every((t) => t.includes('\t')))
    return { delimiter: 'tab' as const, decimalMark: decimalMarkIn(sample, 'tab', fileName) };
  if (every((t) => t.includes(';')))
    return {
      delimiter: 'semicolon' as const,
      decimalMark: decimalMarkIn(sample, 'semicolon', fileName),
    };
  if (!some(/,/)) return { delimiter: 'spaces' as const, decimalMark: '.' as const };
  const spaced = every((t) => /\S\s+\S/.test(t));
  const afterComma = some(/,\s/);
  // 20,5 85,1: spaces part the fields and commas are inside them.
  if (spaced && !afterComma)
    return { delimiter: 'spaces' as const, decimalMark: decimalMarkIn(sample, 'spaces', fileName) };
  if (afterComma || some(/\./)) return { delimiter: 'comma' as const, decimalMark: '.' as const };
  const counts = new Set(sample.map(({ text }) => text.split(',').length));
  if (counts.size === 1 && [2, 3].includes([...counts][0]))
    return { delimiter: 'comma' as const, decimalMark: '.' as const };
  throw problem(
    'comma_ambiguous',
    `${fileName}:${data[0].line}`,
    'Commas seem to part the columns and to mark decimals as well.',
    `“${shorten(data[0].text)}” can be read in two ways.`,
    'Export with tabs or semicolons between the columns, or with decimal points.',
  );
}

function decimalMarkIn(
  sample: readonly { line: number; text: string }[],
  delimiter: Delimiter,
  fileName: string,
): '.' | ',' {
  let points = false;
  let commas = false;
  for (const { line, text } of sample)
    for (const field of split(text, delimiter)) {
      const [point, comma] = [field.lastIndexOf('.'), field.lastIndexOf(',')];
      if (point >= 0 && comma >= 0) return point > comma ? '.' : ',';
      points ||= point >= 0;
      commas ||= comma >= 0 && !/^[+-]?\d{1,3}(,\d{3})+$/.test(field);
      if (points && commas)
        throw problem(
          'decimal_ambiguous',
          `${fileName}:${line}`,
          'Decimal points and decimal commas both occur.',
          `“${shorten(text)}”`,
          'Export the table again with one of them.',
        );
    }
  if (commas) return ',';
  // Nothing but 1,000-like fields: thousands when points occur elsewhere, else decimals with three
  // digits.
  return points || !sample.some(({ text }) => text.includes(',')) ? '.' : ',';
}

/** A numeral of the table as a number; NaN for "NaN" and its like, undefined for anything else. */
export function parseNumeral(field: string, decimalMark: '.' | ','): number | undefined {
  if (noNumber.test(field)) return NaN;
  if (!numeral.test(field)) return undefined;
  const grouping = decimalMark === '.' ? /,/g : /\./g;
  const plain = field.replace(grouping, '').replace(',', '.').replace(/[dD]/, 'e');
  const value = Number(plain);
  return Number.isNaN(value) ? undefined : value;
}

import { problem } from '@/core/problem';
import { checkedSamples, type MeasurementKind, type Samples } from '@/core/measurement/samples';
import { decibels } from '@/core/spectrum/level';
import { decodeText, type TextEncoding } from './decodeText';
import { readTableHeader, type ColumnRole, type HeaderReading } from './tableHeader';
import {
  findTableLines,
  parseNumeral,
  shorten,
  type Delimiter,
  type TableLines,
} from './tableLines';

/** What was read from a text table, and how it was understood. */
export interface TableReading {
  readonly samples: Samples;
  readonly kind: MeasurementKind;
  /** Why it was taken for that kind, as a sentence. */
  readonly kindReason: string;
  /** What was done to the rows, or looks odd, as sentences. */
  readonly warnings: readonly string[];
  readonly encoding: TextEncoding;
  readonly delimiter: Delimiter;
  readonly decimalMark: '.' | ',';
  readonly header: readonly string[];
  /** What could be the phase when none was found; the user decides. */
  readonly possiblePhase: PossiblePhase | null;
}

interface Row {
  frequencyHz: number;
  magnitude: number;
  phase: number;
  /** The row's fields, for columns that may turn out to be the phase. */
  readonly fields: readonly string[];
}

/** A column that the header does not call a phase, and that could be one. */
interface PossiblePhase {
  /** From 1, as people count. */
  readonly column: number;
  /** What is over it; empty when nothing does. */
  readonly label: string;
  readonly phaseDeg: Float64Array;
}

const micropascal20 = 20e-6;

/**
 * Reads a response or impedance table as measuring programs write them, whatever the extension,
 * delimiter, decimal mark, encoding and order; comments and header words; units from the header.
 * Frequencies come out in Hz and strictly rising, levels in dB, impedances in ohms, phases in
 * degrees.
 *
 * @param bytes the file
 * @param fileName for messages
 * @throws ProblemError naming file and line
 */
export function readTable(bytes: Uint8Array, fileName: string): TableReading {
  const { text, encoding } = decodeText(bytes, fileName);
  const lines = findTableLines(text, fileName);
  const warnings: string[] = [];
  const columnCount = lines.rows[0].fields.length;
  const said = readTableHeader(lines.header, lines.delimiter, columnCount);
  if (said.rectangular)
    throw problem(
      'rectangular',
      `${fileName}:${lines.rows[0].line}`,
      'The columns are a real and an imaginary part.',
      'Magnitude and phase are read here.',
      'Export magnitude and phase instead.',
    );
  const columns = placeColumns(said.roles, columnCount, lines.header, warnings);
  const rows = readRows(lines, columns, fileName, warnings);
  if (lines.footer.length > 0)
    warnings.push(
      `${count(lines.footer.length, 'line')} after the table passed over: “${shorten(lines.footer[0])}”.`,
    );

  applyFrequencyUnit(rows, said, warnings);
  const { kind, kindReason } = guessKind(rows, said, columns.phase !== null);
  applyMagnitudeUnit(rows, said, kind, warnings);
  const degreesPerUnit = said.phaseUnit === 'radians' ? 180 / Math.PI : 1;
  if (said.phaseUnit === 'radians')
    warnings.push('Phase converted from radians, as the header says.');
  else if (columns.phase !== null && said.phaseUnit === null && looksLikeRadians(rows))
    warnings.push(
      'Every phase lies within ±3.15: if it is in radians, say so in the header (“phase rad”) and read the file again.',
    );
  if (columns.phase === null)
    warnings.push(
      kind === 'response'
        ? 'No phase: sums with other drivers will be wrong until it has one.'
        : 'No phase: the impedance will count as resistive.',
    );

  const samples = checkedSamples(
    rows.map((row) => row.frequencyHz),
    rows.map((row) => row.magnitude),
    columns.phase === null ? null : rows.map((row) => row.phase * degreesPerUnit),
  );
  if (typeof samples === 'string')
    throw problem(
      'table_unusable',
      fileName,
      `This table can’t be used: ${samples}.`,
      warnings.join(' '),
      'Check its numbers and units, and export the measurement again.',
    );
  const { delimiter, decimalMark, header } = lines;
  const reading = { samples, kind, kindReason, warnings, encoding, delimiter, decimalMark, header };
  return {
    ...reading,
    possiblePhase: possiblePhase(rows, columns, columnCount, said, decimalMark),
  };
}

/**
 * The first column that nothing was made of, and that runs as a phase does: below zero somewhere,
 * over some degrees. A column that does not change, or holds a coherence, a distortion or a count,
 * never goes below zero.
 */
function possiblePhase(
  rows: readonly Row[],
  columns: Columns,
  columnCount: number,
  { labels, roles }: HeaderReading,
  decimalMark: '.' | ',',
): PossiblePhase | null {
  if (columns.phase !== null) return null;
  for (let column = 0; column < columnCount; column++) {
    if (column === columns.frequency || column === columns.magnitude) continue;
    // What is named as something else, a second level for instance, is not asked about.
    if (roles && (roles[column] ?? 'other') !== 'other') continue;
    const values = rows.map(({ fields }) => parseNumeral(fields[column] ?? '', decimalMark) ?? NaN);
    if (!values.every(Number.isFinite)) continue;
    const [low, high] = extremes(values);
    if (low >= 0 || high - low < 5 || low < -1e5 || high > 1e5) continue;
    return {
      column: column + 1,
      label: labels?.[column] ?? '',
      phaseDeg: Float64Array.from(values),
    };
  }
  return null;
}

/** Lowest and highest of many values (spreading them all into a call would exhaust the stack). */
function extremes(values: readonly number[]): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) {
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  return [low, high];
}

const count = (n: number, noun: string) => `${n.toLocaleString('en')} ${noun}${n === 1 ? '' : 's'}`;

interface Columns {
  readonly frequency: number;
  readonly magnitude: number;
  readonly phase: number | null;
}

function placeColumns(
  roles: readonly ColumnRole[] | null,
  columnCount: number,
  header: readonly string[],
  warnings: string[],
): Columns {
  const named = roles ?? [];
  const frequency = roles ? named.indexOf('frequency') : 0;
  const magnitude = roles ? named.indexOf('magnitude') : 1;
  const namedPhase = named.indexOf('phase');
  const phase = roles ? (namedPhase >= 0 ? namedPhase : null) : columnCount >= 3 ? 2 : null;
  if (!roles && columnCount > 2 && header.length > 0)
    warnings.push('The header names no columns: taken as frequency, magnitude, phase.');
  const used = phase === null ? 2 : 3;
  if (columnCount > used)
    warnings.push(`${count(columnCount - used, 'further column')} passed over.`);
  return { frequency, magnitude, phase };
}

function readRows(
  { rows: lines, decimalMark }: TableLines,
  columns: Columns,
  fileName: string,
  warnings: string[],
): Row[] {
  const rows: Row[] = [];
  const dropped = { nan: 0, nanLine: 0, nonPositive: 0, nonPositiveLine: 0 };
  const needed = Math.max(columns.frequency, columns.magnitude, columns.phase ?? 0) + 1;
  for (const { line, fields } of lines) {
    const where = `${fileName}:${line}`;
    if (fields.length < needed)
      throw problem(
        'row_too_short',
        where,
        `This row has ${count(fields.length, 'column')}, the first has ${needed} or more.`,
        `“${shorten(fields.join(' '))}”`,
        'Complete the row or remove it.',
      );
    const at = (column: number) => {
      const value = parseNumeral(fields[column], decimalMark);
      if (value === undefined)
        throw problem(
          'not_a_number',
          where,
          `“${shorten(fields[column])}” is not a number.`,
          `Column ${column + 1} should hold one.`,
          'Correct the row or remove it.',
        );
      return value;
    };
    const row = {
      frequencyHz: at(columns.frequency),
      magnitude: at(columns.magnitude),
      phase: columns.phase === null ? 0 : at(columns.phase),
      fields,
    };
    if (![row.frequencyHz, row.magnitude, row.phase].every(Number.isFinite)) {
      dropped.nanLine ||= line;
      dropped.nan++;
    } else if (row.frequencyHz <= 0) {
      dropped.nonPositiveLine ||= line;
      dropped.nonPositive++;
    } else rows.push(row);
  }
  if (dropped.nan > 0)
    warnings.push(
      `${count(dropped.nan, 'row')} without a number skipped, first in line ${dropped.nanLine}.`,
    );
  if (dropped.nonPositive > 0)
    warnings.push(
      `${count(dropped.nonPositive, 'row')} at 0 Hz or below skipped, first in line ${dropped.nonPositiveLine}.`,
    );
  return inOrder(rows, fileName, warnings);
}

/** Rising frequencies; of rows with the same frequency the first is kept. */
function inOrder(rows: Row[], fileName: string, warnings: string[]): Row[] {
  const isSorted = rows.every((row, i) => i === 0 || rows[i - 1].frequencyHz <= row.frequencyHz);
  if (!isSorted) {
    rows.sort((a, b) => a.frequencyHz - b.frequencyHz);
    warnings.push('Rows sorted by frequency.');
  }
  const distinct = rows.filter((row, i) => i === 0 || row.frequencyHz !== rows[i - 1].frequencyHz);
  if (distinct.length < rows.length)
    warnings.push(
      `${count(rows.length - distinct.length, 'row')} with a frequency that was there already skipped, first at ${rows.find((row, i) => i > 0 && row.frequencyHz === rows[i - 1].frequencyHz)!.frequencyHz} Hz.`,
    );
  if (distinct.length < 2)
    throw problem(
      'too_few_rows',
      fileName,
      `The table has ${count(distinct.length, 'usable row')}.`,
      warnings.join(' '),
      'A curve needs two or more at positive frequencies: export the measurement again.',
    );
  return distinct;
}

function applyFrequencyUnit(
  rows: Row[],
  { frequencyUnit }: HeaderReading,
  warnings: string[],
): void {
  if (frequencyUnit === 'kHz') {
    for (const row of rows) row.frequencyHz = Number((row.frequencyHz * 1000).toPrecision(15));
    warnings.push('Frequencies converted from kHz, as the header says.');
  } else if (
    frequencyUnit === null &&
    rows[rows.length - 1].frequencyHz <= 100 &&
    rows[0].frequencyHz < 1
  )
    warnings.push(
      'The highest frequency is under 100 Hz: if the column is in kHz, say so in the header.',
    );
}

function applyMagnitudeUnit(
  rows: Row[],
  { magnitudeUnit }: HeaderReading,
  kind: MeasurementKind,
  warnings: string[],
): void {
  if (magnitudeUnit === 'kohm' && kind === 'impedance') {
    for (const row of rows) row.magnitude *= 1000;
    warnings.push('Impedance converted from kΩ, as the header says.');
  }
  if (kind === 'response' && (magnitudeUnit === 'linear' || magnitudeUnit === 'pascal')) {
    const reference = magnitudeUnit === 'pascal' ? micropascal20 : 1;
    for (const row of rows) row.magnitude = decibels(Math.abs(row.magnitude) / reference);
    warnings.push(
      magnitudeUnit === 'pascal'
        ? 'Pressure converted to dB re 20 µPa, as the header says.'
        : 'Linear magnitude converted to dB re 1, as the header says.',
    );
    const silent = rows.filter((row) => !Number.isFinite(row.magnitude)).length;
    if (silent > 0) {
      rows.splice(0, rows.length, ...rows.filter((row) => Number.isFinite(row.magnitude)));
      warnings.push(`${count(silent, 'row')} with magnitude 0 skipped.`);
    }
  }
}

/**
 * Judged by the header's unit, else by the numbers: impedances are positive, of a few to some
 * hundred ohms, within ±90°.
 */
function guessKind(
  rows: readonly Row[],
  { magnitudeUnit }: HeaderReading,
  hasPhase: boolean,
): { kind: MeasurementKind; kindReason: string } {
  if (magnitudeUnit === 'ohm' || magnitudeUnit === 'kohm')
    return { kind: 'impedance', kindReason: 'the header speaks of ohms' };
  if (magnitudeUnit !== null)
    return {
      kind: 'response',
      kindReason: `the header says ${magnitudeUnit === 'pascal' ? 'Pa' : magnitudeUnit}`,
    };
  const sorted = rows.map((row) => row.magnitude).sort((a, b) => a - b);
  const [low, median, high] = [sorted[0], sorted[sorted.length >> 1], sorted[sorted.length - 1]];
  const range = `values from ${low.toPrecision(3)} to ${high.toPrecision(3)}`;
  if (low <= 0)
    return { kind: 'response', kindReason: `${range}: an impedance would be above zero` };
  const phaseFits = !hasPhase || rows.every((row) => Math.abs(row.phase) <= 91);
  if (!phaseFits)
    return { kind: 'response', kindReason: 'the phase goes beyond ±90°, which no impedance does' };
  return median < 55
    ? {
        kind: 'impedance',
        kindReason: `${range}${hasPhase ? ' with phase within ±90°' : ''}, as ohms would be`,
      }
    : {
        kind: 'response',
        kindReason: `${range}, half of them above ${median.toPrecision(3)}, as dB would be`,
      };
}

/** Phase that uses about ±π and never more: degrees would hardly stay so small. */
function looksLikeRadians(rows: readonly Row[]): boolean {
  const largest = rows.reduce((m, row) => Math.max(m, Math.abs(row.phase)), 0);
  return largest > 0.5 && largest <= 3.15;
}

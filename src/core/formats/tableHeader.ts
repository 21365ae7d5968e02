import type { Delimiter } from './tableLines';

export type ColumnRole = 'frequency' | 'magnitude' | 'phase' | 'other';

/** What the header says about the columns; null where it says nothing. */
export interface HeaderReading {
  /** Roles in column order, or null when the header names no columns. */
  readonly roles: readonly ColumnRole[] | null;
  readonly frequencyUnit: 'Hz' | 'kHz' | null;
  readonly magnitudeUnit: 'dB' | 'ohm' | 'kohm' | 'linear' | 'pascal' | null;
  readonly phaseUnit: 'degrees' | 'radians' | null;
  /** True when columns are a real and an imaginary part. */
  readonly rectangular: boolean;
}

const frequencyWord = /^f$|freq|frekvens|fréq|\b[kmg]?hz\b/i;
const phaseWord = /phas|\bdeg|°|º|\brad\b|radian|\barg\b|angle|winkel|fase/i;
const magnitudeWord =
  /\bdb|\bspl\b|\bmag|ampl|level|\bimp|\bz\b|\|z\||ohm|Ω|Ω|pascal|\bpa\b|gain|pegel|betrag|response|modulus|linear|\blin\b/i;
const rectangularWord = /\b(?:re|real|im|imag|imaginary)\b/i;

function roleOf(label: string): ColumnRole {
  if (phaseWord.test(label)) return 'phase';
  if (magnitudeWord.test(label) && !/^freq/i.test(label)) return 'magnitude';
  return frequencyWord.test(label) ? 'frequency' : 'other';
}

/**
 * Reads column names and units from the lines above a table. The last line that names a frequency and something
 * else counts for the columns; units are looked for there first, then in the lines before it.
 *
 * @param header lines above the first row, comment marks removed
 * @param delimiter delimiter of the rows
 * @param columnCount number of columns in the rows
 */
export function readTableHeader(
  header: readonly string[],
  delimiter: Delimiter,
  columnCount: number,
): HeaderReading {
  const columnLine = [...header]
    .reverse()
    .find(
      (line) =>
        line.length < 400 &&
        line.split(/[\s,;]+/).some((word) => frequencyWord.test(word)) &&
        (magnitudeWord.test(line) || phaseWord.test(line) || rectangularWord.test(line)),
    );
  const labels = columnLine === undefined ? null : columnLabels(columnLine, delimiter, columnCount);
  const roles = labels?.map(roleOf) ?? null;
  const label = (role: ColumnRole) => labels?.[roles!.indexOf(role)] ?? '';
  // Units in prose such as "magnitude is linear, phase in radians": only from a line that speaks of the column.
  const lines = header.filter((line) => line.length < 400);
  const prose = (topic: RegExp) => lines.filter((line) => topic.test(line)).join('\n');
  const columns = columnLine ?? '';
  const frequencyText = label('frequency') || columns || prose(/freq/i);
  return {
    roles: roles?.includes('frequency') && roles.includes('magnitude') ? roles : null,
    frequencyUnit: /\bkhz\b/i.test(frequencyText)
      ? 'kHz'
      : /\bhz\b/i.test(frequencyText)
        ? 'Hz'
        : null,
    magnitudeUnit:
      magnitudeUnitIn(label('magnitude')) ??
      magnitudeUnitIn(columns) ??
      magnitudeUnitIn(prose(/magn|ampl|level/i)),
    phaseUnit: phaseUnitIn(label('phase')) ?? phaseUnitIn(columns) ?? phaseUnitIn(prose(/phase/i)),
    rectangular:
      columnLine !== undefined &&
      /\b(?:re|real)\b/i.test(columnLine) &&
      /\b(?:im|imag|imaginary)\b/i.test(columnLine),
  };
}

function magnitudeUnitIn(text: string): HeaderReading['magnitudeUnit'] {
  if (/\bdb\b|\bdb[a-z]*\b|decibel|\bspl\b/i.test(text)) return 'dB';
  if (/\bk(?:ohms?|Ω|Ω)/i.test(text)) return 'kohm';
  if (/ohm|Ω|Ω|impedance/i.test(text)) return 'ohm';
  if (/\bpa\b|pascal/i.test(text)) return 'pascal';
  return /\blin(?:ear)?\b/i.test(text) ? 'linear' : null;
}

function phaseUnitIn(text: string): HeaderReading['phaseUnit'] {
  if (/\brad(?:ians?)?\b/i.test(text)) return 'radians';
  return /\bdeg(?:rees?)?\b|°|º/i.test(text) ? 'degrees' : null;
}

/** The labels of the columns: by the rows' delimiter if the count fits, else word by word. */
function columnLabels(line: string, delimiter: Delimiter, columnCount: number): string[] | null {
  const patterns = { tab: /\t/, semicolon: /;/, comma: /,/, spaces: /\s{2,}/ };
  for (const pattern of [
    patterns[delimiter],
    patterns.tab,
    patterns.semicolon,
    patterns.comma,
    patterns.spaces,
  ]) {
    const labels = line
      .split(pattern)
      .map((part) => part.replace(/^[\s"]+|[\s"]+$/g, ''))
      .filter((part, i, all) => part !== '' || i < all.length - 1);
    if (labels.length === columnCount) return labels;
  }
  // "Freq (Hz) SPL (dB) Phase (deg)" or "frequency in kHz level in dB": a new column begins where the role changes.
  const labels: string[] = [];
  let role: ColumnRole = 'other';
  for (const word of line.split(/[\s,;]+/)) {
    const next = roleOf(word);
    const isUnit = /^[([]/.test(word);
    if (labels.length === 0 || (next !== 'other' && next !== role && !isUnit)) {
      labels.push(word);
      role = next;
    } else labels[labels.length - 1] += ` ${word}`;
  }
  return labels.length >= 2 && labels.length <= columnCount ? labels : null;
}

import type { Delimiter } from './tableLines';

export type ColumnRole = 'frequency' | 'magnitude' | 'phase' | 'other';

/** What the header says about the columns; null where it says nothing. */
export interface HeaderReading {
  /** What is over each column, names and units together; null when that can't be told. */
  readonly labels: readonly string[] | null;
  /** Roles in column order, or null when the header names no columns. */
  readonly roles: readonly ColumnRole[] | null;
  readonly frequencyUnit: 'Hz' | 'kHz' | null;
  readonly magnitudeUnit: 'dB' | 'ohm' | 'kohm' | 'linear' | 'pascal' | null;
  readonly phaseUnit: 'degrees' | 'radians' | null;
  /** True when columns are a real and an imaginary part. */
  readonly rectangular: boolean;
}

// In the languages in which measuring programs are used: "Frequenz", "fréquence", "frecuencia",
// "częstotliwość", "taajuus".
const frequencyWord = /^f$|fr[eé][qkc]|cz[eę]stot|kmito|taajuus|\b[kmg]?hz\b/i;
/**
 * Units of angle: German Grad, Italian gradi, Spanish grados, French degrés, Dutch graden,
 * Portuguese graus.
 */
const degreeWord = /\bdeg|\bgrad(?:i|os?|en|er|us)?(?![a-z])|\bgraus?(?![a-z])|stopni|°|º/i;
const radianWord = /\brad(?![a-z])|\bradi[aáàâ]n|bogenma/i;
const phaseWord =
  /phas|\bf[aá][sz][ea]?(?![a-z])|fasevinkel|\barg\b|angle|\b[aá]ngulo|angolo|winkel|vaihe|[φϕ]/i;
const magnitudeWord =
  /\bdb|\bspl\b|\bmag|m[oó]dul|ampl|ampiezza|level|niveau|\bnivel|livello|niv[aå]|poziom|\bimp|\bz\b|\|z\||ohm|Ω|Ω|pascal|\bpa\b|gain|guadagno|pegel|schalldruck|betrag|response|modulus|linear|\blin\b/i;
const rectangularWord = /\b(?:re|real|im|imag|imaginary)\b/i;

function roleOf(label: string): ColumnRole {
  if (phaseWord.test(label) || degreeWord.test(label) || radianWord.test(label)) return 'phase';
  if (magnitudeWord.test(label) && !/^freq/i.test(label)) return 'magnitude';
  return frequencyWord.test(label) ? 'frequency' : 'other';
}

/**
 * Reads column names and units from the lines above a table. The last line that names a frequency
 * and something else counts for the columns, together with the line above it when names and units
 * are in a line each; units are looked for there first, then in the lines before it.
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
  const lines = header.filter((line) => line.length < 400);
  const last = lines.findLastIndex(namesColumns);
  const labels = last < 0 ? null : labelsAt(lines, last, delimiter, columnCount);
  const roles = labels?.map(roleOf) ?? null;
  const label = (role: ColumnRole) => labels?.[roles!.indexOf(role)] ?? '';
  // Units in prose such as "magnitude is linear, phase in radians": only from a line that speaks of
  // the column.
  const prose = (topic: RegExp) => lines.filter((line) => topic.test(line)).join('\n');
  const columns = labels?.join(' ') ?? lines[last] ?? '';
  const frequencyText = label('frequency') || columns || prose(/freq/i);
  return {
    labels,
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
      last >= 0 &&
      /\b(?:re|real)\b/i.test(lines[last]) &&
      /\b(?:im|imag|imaginary)\b/i.test(lines[last]),
  };
}

/** Whether a line names a frequency and something else. */
const namesColumns = (line: string): boolean =>
  line.split(/[\s,;]+/).some((word) => frequencyWord.test(word)) &&
  [magnitudeWord, phaseWord, degreeWord, radianWord, rectangularWord].some((word) =>
    word.test(line),
  );

/**
 * Labels of the columns from a line, each with what the line above says of it when that has as many
 * labels.
 */
function labelsAt(
  lines: readonly string[],
  at: number,
  delimiter: Delimiter,
  columnCount: number,
): string[] | null {
  const labels = columnLabels(lines[at], delimiter, columnCount);
  const above = at > 0 ? columnLabels(lines[at - 1], delimiter, columnCount) : null;
  const fits =
    labels !== null &&
    above?.length === labels.length &&
    above.filter((one) => roleOf(one) !== 'other').length >= 2;
  return fits ? labels.map((one, i) => `${above[i]} ${one}`) : labels;
}

function magnitudeUnitIn(text: string): HeaderReading['magnitudeUnit'] {
  if (/\bdb[a-z_]*\b|decibel|\bspl\b/i.test(text)) return 'dB';
  if (/\bk(?:ohms?|Ω|Ω)/i.test(text)) return 'kohm';
  if (/ohm|Ω|Ω|imp[eé]dan/i.test(text)) return 'ohm';
  if (/\bpa\b|pascal/i.test(text)) return 'pascal';
  return /\blin(?:ear)?\b/i.test(text) ? 'linear' : null;
}

function phaseUnitIn(text: string): HeaderReading['phaseUnit'] {
  if (radianWord.test(text)) return 'radians';
  return degreeWord.test(text) ? 'degrees' : null;
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
  // "Freq (Hz) SPL (dB) Phase (deg)" or "frequency in kHz level in dB": a new column begins where
  // the role changes.
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

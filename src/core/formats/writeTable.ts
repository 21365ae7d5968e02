import type { MeasurementKind, Samples } from '@/core/measurement/samples';

/**
 * A measurement or computed curve as a text table: a comment line, a line of column names with
 * units, then tab-separated rows in full double precision, so that reading it back gives the same
 * numbers.
 *
 * @param samples response (dB) or impedance (ohm), phase optional
 * @param comment one line about its origin
 */
export function writeTable(samples: Samples, kind: MeasurementKind, comment: string): string {
  const { frequencyHz, magnitude, phaseDeg } = samples;
  const lines = [
    `# ${comment.replace(/\s+/g, ' ')}`,
    [
      'frequency_Hz',
      kind === 'response' ? 'level_dB' : 'impedance_ohm',
      ...(phaseDeg ? ['phase_deg'] : []),
    ].join('\t'),
  ];
  for (let i = 0; i < frequencyHz.length; i++)
    lines.push(
      phaseDeg
        ? `${frequencyHz[i]}\t${magnitude[i]}\t${phaseDeg[i]}`
        : `${frequencyHz[i]}\t${magnitude[i]}`,
    );
  return lines.join('\n') + '\n';
}

/** A cell that holds a comma, a quote or a line's end is quoted (RFC 4180). */
const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

const cellOf = (cell: string | number) => {
  if (typeof cell === 'string') return quoted(cell);
  return Number.isNaN(cell) ? '' : String(cell);
};

/** Rows of a CSV file under a header; a number that is not defined is an empty cell. */
export const writeRows = (
  header: readonly string[],
  rows: readonly (readonly (string | number)[])[],
): string =>
  [header.map(cellOf).join(','), ...rows.map((row) => row.map(cellOf).join(','))].join('\n') + '\n';

/**
 * Rows as comma-separated values with a header row, in full double precision.
 *
 * @param columns name and numbers of each column, all of the same length
 */
export function writeCsv(columns: readonly (readonly [string, ArrayLike<number>])[]): string {
  const header = columns.map(([name]) => quoted(name)).join(',');
  const count = columns[0]?.[1].length ?? 0;
  const rows = Array.from({ length: count }, (_, i) =>
    // A number that is not defined is an empty cell.
    columns.map(([, values]) => (Number.isNaN(values[i]) ? '' : String(values[i]))).join(','),
  );
  return [header, ...rows].join('\n') + '\n';
}

import { problem } from '@/core/problem';
import type { PicturePoint, TracedAxes } from './axes';

/** Points per octave of what a trace gives. */
const perOctave = 48;
const fewestPoints = 4;

/**
 * The curve of a trace as a text table: frequency and value, with a line above that says where it is
 * from. Points that lie closer than the grid are averaged, so that the steps of pixels even out.
 *
 * @param points in the picture, in any order
 * @throws ProblemError `trace_too_short`
 */
export function tracedTable(
  axes: TracedAxes,
  points: readonly PicturePoint[],
  kind: 'response' | 'impedance',
  pictureName: string,
): string {
  const values = points
    .map(axes.toValues)
    .filter(({ x, y }) => x > 0 && Number.isFinite(y) && (kind === 'response' || y > 0))
    .sort((a, b) => a.x - b.x);
  const cells = new Map<number, { sum: number; logs: number; count: number }>();
  for (const { x, y } of values) {
    const key = Math.round(Math.log2(x) * perOctave);
    const cell = cells.get(key) ?? { sum: 0, logs: 0, count: 0 };
    cell.sum += y;
    cell.logs += Math.log(x);
    cell.count++;
    cells.set(key, cell);
  }
  if (cells.size < fewestPoints)
    throw problem(
      'trace_too_short',
      pictureName,
      `Only ${cells.size} points of the curve are there.`,
      `A curve takes ${fewestPoints} at least.`,
      'Follow the curve by its colour, or set points on it by hand.',
    );
  // No name of a file can end the line.
  const from = pictureName.replace(/\p{Cc}/gu, ' ');
  return [
    `* traced from ${from}`,
    kind === 'response' ? '* Freq(Hz)\tSPL(dB)' : '* Freq(Hz)\tImpedance(ohm)',
    ...[...cells.values()].map(({ sum, logs, count }) =>
      [Math.exp(logs / count).toFixed(3), (sum / count).toFixed(3)].join('\t'),
    ),
    '',
  ].join('\n');
}

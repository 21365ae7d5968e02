import { problem } from '@/core/problem';

/**
 * Frequencies from·2^(n/perOctave), n = 0, 1, …, as long as they do not exceed `toHz`.
 *
 * @param fromHz first frequency in Hz, above 0
 * @param toHz upper limit in Hz, not below `fromHz`; met exactly only when it lies on the grid
 * @param perOctave points per octave, above 0
 * @throws ProblemError `bad_grid` when a limit makes no grid or more than 200 000 points
 */
export function logGrid(fromHz: number, toHz: number, perOctave: number): Float64Array {
  const bad = (why: string) =>
    problem(
      'bad_grid',
      'frequencies',
      `No grid from ${fromHz} Hz to ${toHz} Hz.`,
      why,
      'Give 0 < from ≤ to and a positive number of points per octave.',
    );
  if (!(fromHz > 0) || !Number.isFinite(fromHz)) throw bad('The first frequency must be above 0.');
  if (!(toHz >= fromHz) || !Number.isFinite(toHz))
    throw bad('The last frequency lies below the first.');
  if (!(perOctave > 0)) throw bad('The number of points per octave must be above 0.');
  // The tolerance keeps an end that lies on the grid from being lost to rounding.
  const last = Math.floor(perOctave * Math.log2(toHz / fromHz) + 1e-9);
  if (last >= 200_000) throw bad('It would have more than 200 000 points.');
  return Float64Array.from({ length: last + 1 }, (_, n) => fromHz * 2 ** (n / perOctave));
}

/** The grid on which designs are predicted: 20 Hz to 20 kHz, 48 points per octave, 479 points. */
export const designGridHz: () => Float64Array = () => logGrid(20, 20_000, 48);

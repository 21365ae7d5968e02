import { inOrder } from '@/core/document/target';
import { problem } from '@/core/problem';
import { readTable } from './readTable';

/** Points of a target that are kept of a table, spread evenly over its rows. */
const mostPoints = 200;

/**
 * Reads a target curve from a response table: its shape, with 0 dB at the frequency nearest to 1
 * kHz.
 *
 * @returns up to 200 points in rising order of frequency
 * @throws ProblemError of {@link readTable}, or `target_too_steep` when it strays more than 30 dB
 */
export function readTarget(bytes: Uint8Array, fileName: string): { hz: number; db: number }[] {
  const { samples } = readTable(bytes, fileName);
  const { frequencyHz, magnitude } = samples;
  let reference = 0;
  frequencyHz.forEach((hz, i) => {
    if (Math.abs(Math.log(hz / 1000)) < Math.abs(Math.log(frequencyHz[reference] / 1000)))
      reference = i;
  });
  const count = Math.min(mostPoints, frequencyHz.length);
  const points = Array.from({ length: count }, (_, k) => {
    const i = Math.round((k * (frequencyHz.length - 1)) / (count - 1));
    return {
      hz: frequencyHz[i],
      db: Math.round((magnitude[i] - magnitude[reference]) * 100) / 100,
    };
  });
  const steep = points.find(({ db }) => Math.abs(db) > 30);
  if (steep)
    throw problem(
      'target_too_steep',
      fileName,
      `At ${Number(steep.hz.toPrecision(3))} Hz it is ${Math.round(steep.db)} dB away from 1 kHz.`,
      'A target stays within 30 dB.',
      'Give the table of a target, not of a driver, or cut its ends.',
    );
  return inOrder(points);
}

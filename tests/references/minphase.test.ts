/**
 * Minimum phase and excess delay against transfer functions whose phase is exact: see
 * minphase/SOURCE.md.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { excessDelay } from '@/core/measurement/excessDelay';
import { minimumPhase } from '@/core/measurement/minimumPhase';

interface Case {
  readonly case: string;
  readonly asymptotic_slope_below_db_per_octave: number;
  readonly asymptotic_slope_above_db_per_octave: number;
  readonly excess_delay_mm?: number;
}

const folder = join(import.meta.dirname, 'minphase');
const { cases } = JSON.parse(readFileSync(join(folder, 'cases.json'), 'utf8')) as { cases: Case[] };

function columns(name: string): Float64Array[] {
  const rows = readFileSync(join(folder, `${name}.csv`), 'utf8')
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => line.split(',').map(Number));
  return rows[0].map((_, c) => Float64Array.from(rows, (row) => row[c]));
}

const tailsOf = (of: Case) => ({
  belowDbPerOctave: of.asymptotic_slope_below_db_per_octave,
  aboveDbPerOctave: of.asymptotic_slope_above_db_per_octave,
});
const degrees = (radians: number) => (radians * 180) / Math.PI;

test.each(cases.map((of) => [of.case, of] as const))(
  '%s: within 0.5° from an octave inside each end',
  (name, of) => {
    const [frequencyHz, levelDb, ...rest] = columns(name);
    // m11 has the measured phase before the true ones.
    const expected = rest[name.startsWith('m11') ? 1 : 0];
    const phase = minimumPhase(frequencyHz, levelDb, tailsOf(of));
    const inside = [...frequencyHz.keys()].filter(
      (i) => frequencyHz[i] >= 2 * frequencyHz[0] && frequencyHz[i] <= frequencyHz.at(-1)! / 2,
    );
    const worst = Math.max(...inside.map((i) => Math.abs(degrees(phase[i]) - expected[i])));
    expect(worst).toBeLessThan(0.5);
  },
);

test('excess delay: the known path within 0.5 mm, and nothing left over', () => {
  const of = cases.find(({ excess_delay_mm }) => excess_delay_mm !== undefined)!;
  const [frequencyHz, magnitude, phaseDeg] = columns(of.case);
  const found = excessDelay({ frequencyHz, magnitude, phaseDeg }, tailsOf(of));
  expect(Math.abs(found.seconds * 343_200 - of.excess_delay_mm!)).toBeLessThan(0.5);
  expect(found.rmsDeg).toBeLessThan(0.5);
  expect(found.isReversed).toBe(false);
  const turned = phaseDeg.map((value) => value + 180);
  const reversed = excessDelay({ frequencyHz, magnitude, phaseDeg: turned }, tailsOf(of));
  expect(reversed.isReversed).toBe(true);
  expect(reversed.seconds).toBeCloseTo(found.seconds, 9);
});

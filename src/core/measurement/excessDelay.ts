import { straightLine } from '@/core/search/straightLine';
import { problem } from '@/core/problem';
import { bulkDelaySeconds, unwrapped } from '@/core/spectrum/phase';
import { minimumPhase, type Tails } from './minimumPhase';
import type { Samples } from './samples';

/** What is left of a phase when the minimum phase is taken away: a delay, and how well it fits. */
interface ExcessDelay {
  readonly seconds: number;
  /** Standard deviation of the phase from a pure delay, over the band. */
  readonly rmsDeg: number;
  /** Band of the fit. */
  readonly fromHz: number;
  readonly toHz: number;
  /** Whether the response is upside down against its minimum phase. */
  readonly isReversed: boolean;
}

/** How far under its highest level a driver still counts as in use (common practice). */
const inUseDb = 10;

/**
 * Excess delay of a response: measured phase less minimum phase, fitted by −2πf·τ (and half a turn
 * when the polarity is reversed) with least squares, each point weighted by its share of the log
 * frequency axis.
 *
 * @param samples response with phase
 * @param tails slopes outside the data, for the minimum phase
 * @param band of the fit, Hz; by default where the level is within 10 dB of its highest, at least
 *   an octave from both ends of the data as far as there is room
 * @throws ProblemError `delay_needs_phase`, `band_too_narrow`
 */
export function excessDelay(
  { frequencyHz, magnitude, phaseDeg }: Samples,
  tails: Tails,
  band?: { readonly fromHz: number; readonly toHz: number },
): ExcessDelay {
  if (!phaseDeg)
    throw problem(
      'delay_needs_phase',
      'response',
      'This response has no phase.',
      'A delay is seen in the phase only.',
      'Measure or export it with phase.',
    );
  const minimum = minimumPhase(frequencyHz, magnitude, tails);
  const { fromHz, toHz } = band ?? bandInUse(frequencyHz, magnitude);
  const used = [...frequencyHz.keys()].filter(
    (i) => frequencyHz[i] >= fromHz && frequencyHz[i] <= toHz,
  );
  if (used.length < 4)
    throw problem(
      'band_too_narrow',
      `${fromHz} to ${toHz} Hz`,
      `Only ${used.length} points lie in this band.`,
      'A delay needs four or more.',
      'Give a wider band.',
    );
  const hz = Float64Array.from(used, (i) => frequencyHz[i]);
  const excess = Float64Array.from(used, (i) => (phaseDeg[i] * Math.PI) / 180 - minimum[i]);
  // With the bulk taken out, neighbours hardly differ and the rest unwraps safely.
  const bulk = bulkDelaySeconds(hz, excess);
  const rest = unwrapped(excess.map((phase, i) => phase + 2 * Math.PI * hz[i] * bulk));
  const weights = hz.map((_, i) => {
    const [low, high] = [hz[Math.max(0, i - 1)], hz[Math.min(hz.length - 1, i + 1)]];
    return Math.log(high / low);
  });
  // A delay alone passes through whole or half turns at 0 Hz.
  const halfTurns = Math.round(straightLine(hz, rest, weights).start / Math.PI);
  const level = rest.map((phase) => phase - halfTurns * Math.PI);
  const tau = -throughOrigin(hz, level, weights) / (2 * Math.PI);
  let [square, total] = [0, 0];
  for (let i = 0; i < hz.length; i++) {
    square += weights[i] * (level[i] + 2 * Math.PI * hz[i] * tau) ** 2;
    total += weights[i];
  }
  return {
    seconds: bulk + tau,
    rmsDeg: (Math.sqrt(square / total) * 180) / Math.PI,
    fromHz: hz[0],
    toHz: hz[hz.length - 1],
    isReversed: halfTurns % 2 !== 0,
  };
}

function bandInUse(frequencyHz: Float64Array, levelDb: Float64Array) {
  let highest = -Infinity;
  for (const level of levelDb) if (level > highest) highest = level;
  const isUsed = (level: number) => level >= highest - inUseDb;
  const first = frequencyHz[levelDb.findIndex(isUsed)];
  const last = frequencyHz[levelDb.findLastIndex(isUsed)];
  const inner = { from: 2 * frequencyHz[0], to: frequencyHz[frequencyHz.length - 1] / 2 };
  const fromHz = Math.max(first, inner.from);
  const toHz = Math.min(last, inner.to);
  return toHz > 1.2 * fromHz ? { fromHz, toHz } : { fromHz: first, toHz: last };
}

/** Weighted least squares of y = slope·x. */
function throughOrigin(x: Float64Array, y: Float64Array, w: Float64Array): number {
  let [sxx, sxy] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    sxx += w[i] * x[i] * x[i];
    sxy += w[i] * x[i] * y[i];
  }
  return sxy / sxx;
}

import { flightSeconds } from './flight';
import type { Samples } from './samples';

/** What the phases of several responses say of their time references. */
export type TimingPattern =
  /** All hold the flight time to one microphone position, within a metre of path. */
  | { readonly kind: 'common'; readonly fromMs: number; readonly toMs: number }
  /** None holds a flight time: each was set to its own arrival, or has no phase. */
  | { readonly kind: 'own' }
  /** Some do and some don't, or they differ by more than one set-up can. */
  | { readonly kind: 'mixed'; readonly fromMs: number; readonly toMs: number };

/**
 * Drivers of one speaker, turned before one microphone, differ by no more than this: about a metre
 * of path.
 */
const widestMs = 3;

/**
 * Compares the flight times of responses that were measured together.
 *
 * @param responses those without phase tell nothing
 * @returns null for fewer than two that have phase
 */
export function timingPattern(responses: readonly Samples[]): TimingPattern | null {
  const delaysMs = responses
    .filter(({ phaseDeg }) => phaseDeg !== null)
    .map((samples) => 1000 * flightSeconds(samples));
  if (delaysMs.length < 2) return null;
  const [fromMs, toMs] = [Math.min(...delaysMs), Math.max(...delaysMs)];
  if (fromMs === 0 && toMs === 0) return { kind: 'own' };
  return fromMs > 0 && toMs - fromMs <= widestMs
    ? { kind: 'common', fromMs, toMs }
    : { kind: 'mixed', fromMs, toMs };
}

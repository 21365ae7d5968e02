import { logGrid } from '@/core/grid/logGrid';
import { impulseOfSpectrum } from './evenSpectrum';
import { arrivalSeconds, responseOf, stepResponse, type Impulse } from './impulse';
import type { Samples } from './samples';

/** A response seen in time. Times are in ms after the arrival; values as shares of the highest. */
export interface TimeViews {
  readonly timeMs: Float64Array;
  readonly impulse: Float64Array;
  readonly step: Float64Array;
  /** Cumulative spectral decay: what is left when the sound before a time is cut away. */
  readonly decay: { readonly frequencyHz: Float64Array; readonly slices: readonly DecaySlice[] };
}

interface DecaySlice {
  readonly afterMs: number;
  /** dB re the highest level of the first slice. */
  readonly levelDb: Float64Array;
}

const shownMs = { before: 1, after: 12 };
const sliceMs = [0, 0.2, 0.4, 0.6, 0.8, 1, 1.25, 1.5, 1.75, 2, 2.5, 3, 3.5, 4, 5, 6, 7, 8, 10, 12];
const longestDecaySeconds = 0.03;
/** The cut rises over this time, so that it makes no sound of its own. */
const riseSeconds = 0.0002;

/**
 * Impulse, step and decay of a response on even frequencies.
 *
 * @param gateMs the decay ends there, so that a reflection is not taken for ringing; null for none
 * @throws ProblemError `not_even`
 */
export function timeViews(samples: Samples, gateMs: number | null = null): TimeViews {
  const impulse = impulseOfSpectrum(samples);
  const arrival = arrivalSeconds(impulse);
  const { sampleRateHz } = impulse;
  const first = Math.max(0, Math.round((arrival - shownMs.before / 1000) * sampleRateHz));
  const last = Math.min(
    impulse.samples.length,
    Math.round((arrival + shownMs.after / 1000) * sampleRateHz),
  );
  const part = ({ samples: values }: Impulse) => scaled(values.subarray(first, last));
  const timeMs = Float64Array.from(
    { length: last - first },
    (_, i) => ((first + i) / sampleRateHz - arrival) * 1000,
  );
  return {
    timeMs,
    impulse: part(impulse),
    step: part(stepResponse({ ...impulse, zeroIndex: first })),
    decay: decayOf(impulse, arrival, gateMs === null ? longestDecaySeconds : gateMs / 1000),
  };
}

function scaled(values: Float64Array): Float64Array {
  const highest = values.reduce((high, value) => Math.max(high, Math.abs(value)), 0);
  return values.map((value) => (highest > 0 ? value / highest : 0));
}

function decayOf(impulse: Impulse, arrival: number, seconds: number): TimeViews['decay'] {
  const frequencyHz = logGrid(200, Math.min(20_000, 0.45 * impulse.sampleRateHz), 24);
  const end = Math.min(arrival + seconds, impulse.samples.length / impulse.sampleRateHz);
  // A tenth of what is there fades out; slices that would begin in it say nothing.
  const fade = (end - arrival) / 10;
  const times = sliceMs.filter((afterMs) => afterMs / 1000 < end - arrival - fade);
  const levels = times.map(
    (afterMs) =>
      responseOf(
        impulse,
        {
          riseSeconds,
          fromSeconds: arrival - 0.0003 + afterMs / 1000,
          fadeFromSeconds: end - fade,
          toSeconds: end,
        },
        frequencyHz,
      ).magnitude,
  );
  const highest = levels[0].reduce((high, level) => Math.max(high, level), -Infinity);
  return {
    frequencyHz,
    slices: times.map((afterMs, k) => ({
      afterMs,
      levelDb: levels[k].map((level) => Math.max(level - highest, -80)),
    })),
  };
}

import { straightLine } from '@/core/search/straightLine';
import { problem } from '@/core/problem';
import { decibels } from '@/core/spectrum/level';
import {
  arrivalSeconds,
  deconvolved,
  fourierSum,
  gateAfter,
  responseOf,
  windowed,
  type Impulse,
  type TimeWindow,
} from './impulse';
import type { Samples } from './samples';

/** An exponential sweep: ln f rises evenly with time. */
interface SweepShape {
  readonly fromHz: number;
  readonly toHz: number;
  /** Time for a factor of e in frequency, s: T / ln(f₂/f₁). */
  readonly secondsPerNeper: number;
}

/** Exponential sweep (Farina 2000) with half-cosine fades, full scale 1. */
export function exponentialSweep(options: {
  readonly fromHz: number;
  readonly toHz: number;
  readonly seconds: number;
  readonly amplitude: number;
  readonly sampleRateHz: number;
  /** Silence before and after, s. */
  readonly silenceSeconds: readonly [before: number, after: number];
}): Float64Array {
  const { fromHz, toHz, seconds, amplitude, sampleRateHz, silenceSeconds } = options;
  const rate = seconds / Math.log(toHz / fromHz);
  const [before, after] = silenceSeconds.map((silence) => Math.round(silence * sampleRateHz));
  const length = Math.round(seconds * sampleRateHz);
  const out = new Float64Array(before + length + after);
  const [fadeIn, fadeOut] = [0.02, 0.005];
  for (let i = 0; i < length; i++) {
    const t = i / sampleRateHz;
    const edge = Math.min(1, t / fadeIn, (seconds - t) / fadeOut);
    const fade = 0.5 - 0.5 * Math.cos(Math.PI * edge);
    const phase = 2 * Math.PI * fromHz * rate * (Math.exp(t / rate) - 1);
    out[before + i] = amplitude * fade * Math.sin(phase);
  }
  return out;
}

/**
 * Band and speed of an exponential sweep, from the moments at which it passes through zero: ln f is
 * fitted by a straight line in time.
 *
 * @throws ProblemError `not_a_sweep`
 */
export function sweepShape(sweep: Float64Array, sampleRateHz: number): SweepShape {
  let highest = 0;
  for (const value of sweep) highest = Math.max(highest, Math.abs(value));
  const isSound = (value: number) => Math.abs(value) > 1e-3 * highest;
  const [first, last] = [sweep.findIndex(isSound), sweep.findLastIndex(isSound)];
  const wrong = (why: string) =>
    problem(
      'not_a_sweep',
      'reference',
      'The reference is not an exponential sweep.',
      why,
      'Give the sweep that was played; harmonics can’t be told apart otherwise.',
    );
  // Times of upward crossings, between samples by a straight line.
  const crossings: number[] = [];
  for (let i = Math.max(1, first); i <= last; i++)
    if (sweep[i - 1] < 0 && sweep[i] >= 0)
      crossings.push((i - sweep[i] / (sweep[i] - sweep[i - 1])) / sampleRateHz);
  const points = crossings.slice(1).flatMap((end, i) => {
    const hz = 1 / (end - crossings[i]);
    // A straight line between samples is no good near half the sample rate.
    return hz < sampleRateHz / 8
      ? [{ seconds: (end + crossings[i]) / 2, nepers: Math.log(hz) }]
      : [];
  });
  if (points.length < 20) throw wrong('It has too few cycles.');
  const line = risingLine(points);
  if (!(line.slope > 0)) throw wrong('Its frequency does not rise.');
  const misfits = points.map(({ seconds, nepers }) => nepers - line.at(seconds));
  const rms = Math.sqrt(misfits.reduce((sum, d) => sum + d * d, 0) / misfits.length);
  if (rms > 0.05) throw wrong('The logarithm of its frequency does not rise evenly.');
  return {
    fromHz: Math.exp(line.at(first / sampleRateHz)),
    toHz: Math.min(Math.exp(line.at(last / sampleRateHz)), sampleRateHz / 2),
    secondsPerNeper: 1 / line.slope,
  };
}

/**
 * Straight line through points, each weighted by the time to its neighbour, so that the many fast
 * cycles don't rule.
 */
function risingLine(points: readonly { readonly seconds: number; readonly nepers: number }[]) {
  const { slope, start } = straightLine(
    points.map(({ seconds }) => seconds),
    points.map(({ nepers }) => nepers),
    points.map((point, i) => (points[i + 1] ?? point).seconds - (points[i - 1] ?? point).seconds),
  );
  return { slope, at: (seconds: number) => start + slope * seconds };
}

/** Whether a sweep passes through a frequency; its fades blur the ends by a percent or two. */
export const isWithin = ({ fromHz, toHz }: SweepShape, hz: number) =>
  hz >= 0.98 * fromHz && hz <= 1.01 * toHz;

/**
 * The last few percent of the sweep are its fade: a harmonic that falls there has nothing to be
 * compared with.
 */
const usefulShare = 0.96;

/** How long an impulse counts when no gate is set, s. */
const openSeconds = 0.5;

/** Window over an impulse: a gate after the arrival, or everything there is. */
function sweepWindow(impulse: Impulse, gateSeconds: number | null): TimeWindow {
  const arrival = arrivalSeconds(impulse);
  return gateSeconds === null
    ? {
        riseSeconds: 0.005,
        fromSeconds: arrival - 0.005,
        fadeFromSeconds: arrival + openSeconds / 2,
        toSeconds: arrival + openSeconds,
      }
    : gateAfter(arrival, gateSeconds);
}

/** Level of one harmonic against the frequency that was played, on the scale of the response. */
export interface Harmonic {
  readonly order: number;
  readonly levelDb: Float64Array;
  /**
   * What the harmonic's window holds when there is no harmonic: noise, at the same place and
   * bandwidth.
   */
  readonly floorDb: Float64Array;
}

/** What a recording of a sweep says. */
interface SweepReading {
  readonly impulse: Impulse;
  readonly window: TimeWindow;
  readonly response: Samples;
  readonly harmonics: readonly Harmonic[];
}

/**
 * Response and harmonics from a recording of an exponential sweep (Farina 2000).
 *
 * Levels are in dB re the recording's full scale over the sweep's. Phase refers to the beginning of
 * the sweep's file: the flight time is in it. Harmonic k arrives ln(k) · T/ln(f₂/f₁) before the
 * response and is stated at the frequency that was played; its power is averaged over a sixth of an
 * octave. Values outside the band of the sweep, or of the recording, are NaN.
 *
 * @param frequencyHz rising frequencies at which to state all of them
 * @param gateSeconds length of the gate after the arrival; null for none
 * @param orders harmonics wanted, 2 or above
 * @throws ProblemError
 */
export function readSweep(
  recording: Float64Array,
  sweep: Float64Array,
  sampleRateHz: number,
  frequencyHz: Float64Array,
  {
    gateSeconds = null,
    orders = [],
  }: { readonly gateSeconds?: number | null; readonly orders?: readonly number[] } = {},
): SweepReading {
  const shape = sweepShape(sweep, sampleRateHz);
  const impulse = deconvolved(recording, sweep, sampleRateHz, shape.toHz);
  const window = sweepWindow(impulse, gateSeconds);
  const inBand = (hz: number) => isWithin(shape, hz);
  const response = responseOf(impulse, window, frequencyHz);
  for (let i = 0; i < frequencyHz.length; i++)
    if (!inBand(frequencyHz[i])) response.magnitude[i] = response.phaseDeg![i] = NaN;
  const arrival = arrivalSeconds(impulse);
  const harmonics = orders.map((order) =>
    harmonicOf(impulse, arrival, shape, order, frequencyHz, gateSeconds),
  );
  return { impulse, window, response, harmonics };
}

/**
 * Half-width of the window around a harmonic's arrival, at most; less where the next harmonic is
 * nearer.
 */
const longestHarmonicSeconds = 0.05;

function harmonicOf(
  impulse: Impulse,
  arrival: number,
  shape: SweepShape,
  order: number,
  frequencyHz: Float64Array,
  gateSeconds: number | null,
): Harmonic {
  const { secondsPerNeper } = shape;
  const place = arrival - secondsPerNeper * Math.log(order);
  const toNext = secondsPerNeper * Math.log((order + 1) / order);
  // The gate keeps reflections out of the harmonics too.
  const length = Math.min(gateSeconds ?? longestHarmonicSeconds, 0.5 * toNext);
  const around = (centre: number): TimeWindow => gateAfter(centre, length);
  // Between two harmonics nothing should be: what is there is noise.
  const quiet = place - 0.6 * toNext;
  const levels = (centre: number) => {
    const { values } = windowed(impulse, around(centre));
    return frequencyHz.map((hz) => {
      if (!isWithin(shape, hz) || hz * order > usefulShare * shape.toHz) return NaN;
      let [power, count] = [0, 0];
      for (let k = 0; k < averaged; k++) {
        const at = order * hz * 2 ** ((k / (averaged - 1) - 0.5) / 6);
        // Above its own end the sweep has no power to divide by.
        if (at > shape.toHz) continue;
        const [re, im] = fourierSum(values, at / impulse.sampleRateHz);
        power += re * re + im * im;
        count++;
      }
      return decibels(power / count) / 2;
    });
  };
  return { order, levelDb: levels(place), floorDb: levels(quiet) };
}

/** Frequencies that a sixth of an octave is sampled at. */
const averaged = 7;

import { problem } from '@/core/problem';

/**
 * Straight lines that continue a curve outside its data, in dB per octave with rising frequency: a
 * second-order high pass has +12 below its data, a fourth-order low pass −24 above.
 */
export interface Tails {
  readonly belowDbPerOctave: number;
  readonly aboveDbPerOctave: number;
}

/** Density on which the integral is taken. */
const pointsPerOctave = 192;
const neperPerDb = Math.LN10 / 20;

/**
 * Minimum phase of a level curve, from Bode's relation (1945) in its form with the slope,
 *
 *   φ(ω₀) = (1/π) ∫ (dA/du)·ln coth(|u|/2) du,   A = ln|H|,  u = ln(ω/ω₀).
 *
 * Between the points of a dense grid the slope is constant, so that each piece integrates exactly;
 * the tails are two more pieces, to 0 Hz and to infinity.
 *
 * @param frequencyHz two or more rising frequencies, Hz
 * @param levelDb finite levels in dB, same length
 * @param tails what lies outside the data: the result depends on it, most within an octave of the
 *   ends
 * @returns phase in radians at each frequency, unwrapped: a second-order high pass tends to +π at
 *   low frequencies
 * @throws ProblemError `no_minimum_phase` when a level is not finite
 */
export function minimumPhase(
  frequencyHz: Float64Array,
  levelDb: Float64Array,
  { belowDbPerOctave, aboveDbPerOctave }: Tails,
): Float64Array {
  const silent = levelDb.findIndex((level) => !Number.isFinite(level));
  if (silent >= 0)
    throw problem(
      'no_minimum_phase',
      `${frequencyHz[silent]} Hz`,
      'There is no level at this frequency.',
      'A minimum phase needs the whole curve.',
      'Cut the curve there, or bridge the gap.',
    );
  const last = frequencyHz.length - 1;
  const octaves = Math.log2(frequencyHz[last] / frequencyHz[0]);
  const count = Math.max(2, Math.ceil(octaves * pointsPerOctave) + 1);
  const step = (octaves * Math.LN2) / (count - 1);
  const u = Float64Array.from(frequencyHz, (hz) => Math.log(hz / frequencyHz[0]));
  const grid = Float64Array.from({ length: count }, (_, k) => k * step);
  const level = levelAt(u, levelDb, grid);

  const slopeBelow = (belowDbPerOctave * neperPerDb) / Math.LN2;
  const slopeAbove = (aboveDbPerOctave * neperPerDb) / Math.LN2;
  const slopes = Float64Array.from(
    { length: count - 1 },
    (_, k) => ((level[k + 1] - level[k]) * neperPerDb) / step,
  );
  // Distances on the grid are whole steps: the integral of the weight is needed at those only.
  const area = Float64Array.from({ length: count }, (_, k) => weightArea(k * step));
  const phase = Float64Array.from({ length: count }, (_, at) => {
    let sum = slopeBelow * (wholeArea - area[at]) + slopeAbove * (wholeArea - area[count - 1 - at]);
    for (let k = 0; k < at; k++) sum += slopes[k] * (area[at - k] - area[at - k - 1]);
    for (let k = at; k < count - 1; k++) sum += slopes[k] * (area[k + 1 - at] - area[k - at]);
    return sum / Math.PI;
  });
  return cubicAt(grid, phase, u);
}

/** ∫ ln coth(t/2) dt from 0 to infinity. */
const wholeArea = Math.PI ** 2 / 4;

/**
 * ∫ ln coth(t/2) dt from 0 to u ≥ 0: a power series near 0, the series of ln coth in e^−t farther
 * out.
 */
function weightArea(u: number): number {
  if (u === 0) return 0;
  if (u < 0.7)
    return (
      u * (1 - Math.log(u / 2)) +
      u ** 3 / 36 -
      (7 * u ** 5) / 7200 +
      (31 * u ** 7) / 635_040 -
      (127 * u ** 9) / 43_545_600
    );
  let sum = wholeArea;
  for (let k = 1; k < 60; k += 2) {
    const term = (2 * Math.exp(-k * u)) / (k * k);
    sum -= term;
    if (term < 1e-16) break;
  }
  return sum;
}

/** Ways to write a level between which the interpolation chooses, with their inverse. */
const scales = [
  { of: (db: number) => db, back: (value: number) => value },
  { of: (db: number) => 10 ** (db / 10), back: (value: number) => 10 * Math.log10(value) },
  { of: (db: number) => 10 ** (-db / 10), back: (value: number) => -10 * Math.log10(value) },
] as const;

/** Points through which a level is interpolated: three on each side. */
const support = 6;

/**
 * A level at other places: a polynomial through the points around, of decibels, of |H|² or of
 * 1/|H|², whichever foretells the next points on both sides best. Near a dip |H|² is close to a
 * parabola, near a peak 1/|H|² is: so the bottom of a notch is found even when it lies between two
 * points of the table (our own device).
 */
function levelAt(u: Float64Array, levelDb: Float64Array, at: Float64Array): Float64Array {
  const last = u.length - 1;
  if (last < support) return cubicAt(u, levelDb, at);
  let interval = -1;
  let polynomial = (place: number) => place;
  let i = 0;
  return at.map((place) => {
    while (i < last - 1 && place > u[i + 1]) i++;
    if (i !== interval) {
      interval = i;
      const first = Math.min(last - support + 1, Math.max(0, i - support / 2 + 1));
      polynomial = polynomialAround(u, levelDb, first, i);
    }
    return polynomial(place);
  });
}

/**
 * The best of the polynomials through the points from `first` on, for use between point `i` and the
 * next.
 */
function polynomialAround(u: Float64Array, levelDb: Float64Array, first: number, i: number) {
  const beyond = [first - 1, first + support].filter((k) => k >= 0 && k < u.length);
  const plain = (place: number) =>
    lagrange(u, first, levelDb.subarray(first, first + support), place);
  let best = { misfit: Infinity, polynomial: plain };
  for (const { of, back } of scales) {
    const values = levelDb.slice(first, first + support).map(of);
    const polynomial = (place: number) => back(lagrange(u, first, values, place));
    let misfit = 0;
    for (const k of beyond) misfit += Math.abs(polynomial(u[k]) - levelDb[k]);
    // A polynomial that leaves the positive numbers has no level there: its misfit is not a number.
    for (let k = 1; k < 8; k++) misfit += 0 * polynomial(u[i] + ((u[i + 1] - u[i]) * k) / 8);
    if (misfit < best.misfit) best = { misfit, polynomial };
  }
  return best.polynomial;
}

/** The polynomial through neighbouring points, as many as there are values, at a place. */
function lagrange(x: Float64Array, first: number, y: Float64Array, place: number): number {
  let sum = 0;
  for (let j = 0; j < y.length; j++) {
    let product = y[j];
    for (let k = 0; k < y.length; k++)
      if (k !== j) product *= (place - x[first + k]) / (x[first + j] - x[first + k]);
    sum += product;
  }
  return sum;
}

/**
 * Values of a smooth curve at other places: piecewise cubic with the slopes of a parabola through
 * each three neighbours (Bessel's tangents), straight on at the ends.
 *
 * @param x rising places, two or more
 * @param at rising places inside
 */
function cubicAt(x: Float64Array, y: Float64Array, at: Float64Array): Float64Array {
  const n = x.length;
  const secant = (i: number) => (y[i + 1] - y[i]) / (x[i + 1] - x[i]);
  const tangent = Float64Array.from({ length: n }, (_, i) => {
    if (i === 0) return secant(0);
    if (i === n - 1) return secant(n - 2);
    const [before, after] = [x[i] - x[i - 1], x[i + 1] - x[i]];
    return (after * secant(i - 1) + before * secant(i)) / (before + after);
  });
  let i = 0;
  return at.map((place) => {
    while (i < n - 2 && place > x[i + 1]) i++;
    const width = x[i + 1] - x[i];
    const t = (place - x[i]) / width;
    const s = 1 - t;
    return (
      y[i] * (1 + 2 * t) * s * s +
      y[i + 1] * (3 - 2 * t) * t * t +
      width * (tangent[i] * t * s * s - tangent[i + 1] * s * t * t)
    );
  });
}

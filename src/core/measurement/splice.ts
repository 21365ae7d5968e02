import { straightLine } from '@/core/search/straightLine';
import { speedOfSoundMps } from '@/core/air/speedOfSound';
import { problem } from '@/core/problem';
import { decibels } from '@/core/spectrum/level';
import { bulkDelaySeconds, unwrapped } from '@/core/spectrum/phase';
import { interpolated } from './interpolate';
import type { Samples } from './samples';

/** A near-field measurement and what it radiates from: the cone, a port, a passive radiator. */
export interface NearSource {
  readonly samples: Samples;
  readonly radiusMm: number;
}

interface SpliceOptions {
  /** Middle of the join. */
  readonly atHz: number;
  /** Distance of the far-field microphone, for the piston's scale. */
  readonly farDistanceMm: number;
  /** Width of the baffle, for its step; null when the near field shall stay in half space. */
  readonly stepWidthMm: number | null;
}

interface Splice {
  readonly samples: Samples;
  /**
   * Shift that joined the near field to the far field, after the piston's scale and the baffle
   * step, dB.
   */
  readonly matchDb: number;
  /** What is left between the two over the join, after matching, dB rms. */
  readonly residualDb: number;
  /** ka of the cone at the join: near field and far field have the same shape below about 1. */
  readonly ka: number;
}

/**
 * How near a near field's microphone must be to the middle of the cone, over its radius, for 1
 * dB (Keele 1974).
 */
export const nearDistanceShare = 0.11;

/** Frequency up to which a near field has the shape of the far field: ka = 1. */
export const nearFieldTopHz = (radiusMm: number): number =>
  airMps / (2 * Math.PI * (radiusMm / 1000));

/**
 * Half of the join's width, octaves: over these two thirds of an octave one curve fades into the
 * other.
 */
const halfJoinOctaves = 1 / 3;
/** Of air at 20 °C; a measurement does not say how warm it was. */
const airMps = speedOfSoundMps(20);

/**
 * One response from near field below and far field above (Struck and Temme 1994).
 *
 * The near field of a piston of radius a is its far field at r times 2r/a, while ka < 1 (Keele
 * 1974). Several sources are added as complex amplitudes, each weighted by its radius. The step of
 * the baffle is added by {@link baffleStep}. What then is left of a difference of level is taken
 * out over the join, and told.
 *
 * @param sources cone first
 * @param far gated far field
 * @throws ProblemError `no_join` when one of them ends before the join
 */
export function splice(
  sources: readonly NearSource[],
  far: Samples,
  { atHz, farDistanceMm, stepWidthMm }: SpliceOptions,
): Splice {
  const [fromHz, toHz] = [atHz * 2 ** -halfJoinOctaves, atHz * 2 ** halfJoinOctaves];
  const near = nearField(sources, farDistanceMm);
  for (const [what, { frequencyHz }] of [
    ['near field', near],
    ['far field', far],
  ] as const)
    if (frequencyHz[0] > fromHz || frequencyHz[frequencyHz.length - 1] < toHz)
      throw problem(
        'no_join',
        what,
        `The ${what} does not reach from ${fromHz.toFixed(0)} to ${toHz.toFixed(0)} Hz.`,
        'Both are needed over the join.',
        'Join at another frequency.',
      );
  const stepped = stepWidthMm === null ? near : withStep(near, stepWidthMm);
  const hz = Float64Array.from([
    ...stepped.frequencyHz.filter((f) => f < atHz),
    ...far.frequencyHz.filter((f) => f >= atHz),
  ]);
  const nearDb = interpolated(stepped.frequencyHz, stepped.magnitude, hz);
  const farDb = interpolated(far.frequencyHz, far.magnitude, hz);
  const joined = [...hz.keys()].filter((i) => hz[i] >= fromHz && hz[i] <= toHz);
  const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
  const matchDb = mean(joined.map((i) => farDb[i] - nearDb[i]));
  const residualDb = Math.sqrt(mean(joined.map((i) => (farDb[i] - nearDb[i] - matchDb) ** 2)));
  /** Share of the far field: 0 below the join, 1 above it. */
  const share = hz.map((f) => {
    const t = Math.min(1, Math.max(0, Math.log2(f / fromHz) / (2 * halfJoinOctaves)));
    return 0.5 - 0.5 * Math.cos(Math.PI * t);
  });
  const phases = joinedPhases(stepped, far, hz, joined);
  return {
    samples: {
      frequencyHz: hz,
      magnitude: hz.map((_, i) => (1 - share[i]) * (nearDb[i] + matchDb) + share[i] * farDb[i]),
      phaseDeg:
        phases &&
        hz.map(
          (_, i) => ((1 - share[i]) * phases.near[i] + share[i] * phases.far[i]) * (180 / Math.PI),
        ),
    },
    matchDb,
    residualDb,
    ka: (2 * Math.PI * atHz * sources[0].radiusMm) / 1000 / airMps,
  };
}

/** What near a cone is its far field in half space: the way back of {@link splice}'s scale. */
export const nearOfFar = (far: Samples, radiusMm: number, distanceMm: number): Samples => ({
  ...far,
  magnitude: far.magnitude.map((level) => level - decibels(radiusMm / (2 * distanceMm))),
});

/** Far field in half space of all sources: near fields scaled by a/(2r) and added. */
function nearField(sources: readonly NearSource[], farDistanceMm: number): Samples {
  const [cone, ...others] = sources;
  const scaleDb = ({ radiusMm }: NearSource) => decibels(radiusMm / (2 * farDistanceMm));
  const { frequencyHz } = cone.samples;
  const magnitude = cone.samples.magnitude.map((level) => level + scaleDb(cone));
  if (others.length === 0) return { ...cone.samples, magnitude };
  if (sources.some(({ samples }) => samples.phaseDeg === null))
    throw problem(
      'sum_needs_phase',
      'near field',
      'One of the near-field measurements has no phase.',
      'Cone and port can be added only with their phases.',
      'Measure both with the same timing.',
    );
  const re = new Float64Array(frequencyHz.length);
  const im = new Float64Array(frequencyHz.length);
  for (const source of sources) {
    const { frequencyHz: ownHz, magnitude: ownDb, phaseDeg } = source.samples;
    const level = interpolated(ownHz, ownDb, frequencyHz);
    const phase = interpolated(ownHz, unwrapped(radiansOf(phaseDeg!)), frequencyHz);
    for (let i = 0; i < re.length; i++) {
      const size = 10 ** ((level[i] + scaleDb(source)) / 20);
      re[i] += size * Math.cos(phase[i]);
      im[i] += size * Math.sin(phase[i]);
    }
  }
  return {
    frequencyHz,
    magnitude: re.map((x, i) => decibels(Math.hypot(x, im[i]))),
    phaseDeg: re.map((x, i) => Math.atan2(im[i], x) * (180 / Math.PI)),
  };
}

const radiansOf = (degrees: Float64Array) => degrees.map((one) => (one * Math.PI) / 180);

/**
 * Baffle step, of a given width: (s + ω/2)/(s + ω), −6 dB at low frequencies and 0 dB at high ones,
 * half of it (in dB) at 115 Hz·m / width (common practice).
 *
 * @returns real and imaginary part at each frequency
 */
export function baffleStep(
  frequencyHz: Float64Array,
  widthMm: number,
): { readonly re: Float64Array; readonly im: Float64Array } {
  const pole = (115_000 / widthMm) * Math.SQRT2;
  const part = (hz: number) => {
    const x = hz / pole;
    const square = 1 + x * x;
    return [(0.5 + x * x) / square, (0.5 * x) / square] as const;
  };
  return { re: frequencyHz.map((hz) => part(hz)[0]), im: frequencyHz.map((hz) => part(hz)[1]) };
}

function withStep({ frequencyHz, magnitude, phaseDeg }: Samples, widthMm: number): Samples {
  const { re, im } = baffleStep(frequencyHz, widthMm);
  return {
    frequencyHz,
    magnitude: magnitude.map((level, i) => level + decibels(Math.hypot(re[i], im[i]))),
    phaseDeg:
      phaseDeg?.map((angle, i) => angle + Math.atan2(im[i], re[i]) * (180 / Math.PI)) ?? null,
  };
}

/**
 * Phases of both, in radians and without jumps, the near one delayed so that it meets the far one
 * in the middle of the join: the near microphone was close, and its timing is not that of the far
 * one.
 */
function joinedPhases(near: Samples, far: Samples, hz: Float64Array, joined: readonly number[]) {
  if (!near.phaseDeg || !far.phaseDeg) return null;
  const smooth = ({ frequencyHz, phaseDeg }: Samples) => {
    const phase = radiansOf(phaseDeg!);
    const delay = bulkDelaySeconds(frequencyHz, phase);
    const rest = unwrapped(phase.map((angle, i) => angle + 2 * Math.PI * frequencyHz[i] * delay));
    return interpolated(frequencyHz, rest, hz).map(
      (angle, i) => angle - 2 * Math.PI * hz[i] * delay,
    );
  };
  const [nearPhase, farPhase] = [smooth(near), smooth(far)];
  // A straight line through the differences: its slope is a delay, its value at 0 Hz whole turns.
  const { start, meanX, meanY } = straightLine(
    joined.map((i) => hz[i]),
    joined.map((i) => farPhase[i] - nearPhase[i]),
  );
  const turns = 2 * Math.PI * Math.round(start / (2 * Math.PI));
  const straight = (meanY - turns) / meanX;
  return {
    near: nearPhase.map((angle, i) => angle + straight * hz[i] + turns),
    far: farPhase,
  };
}

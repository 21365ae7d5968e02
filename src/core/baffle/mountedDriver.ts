import { createBaffleDiffraction } from './diffraction/baffleDiffraction';
import { createOpenBaffle } from './diffraction/openBaffle';
import { createRim, type Step } from './diffraction/rim';
import type { Diffraction, PistonSource } from './diffraction/sending';
import type { BaffleShape } from './shape';

/** How a driver sits in its front; sizes in m. */
export interface Seating {
  readonly kind: 'flush' | 'proud' | 'recessed' | 'waveguide' | 'behind';
  /** Height of a proud frame, depth of a recess or waveguide, thickness of a front before it. */
  readonly byM: number;
  /** Outside of the frame; null while it is not known. */
  readonly frameRadiusM: number | null;
  /** Mouth of a waveguide, or of the hole that a driver lies behind; null while it is not known. */
  readonly mouthRadiusM: number | null;
}

/** A driver on a body. */
export interface MountedDriver {
  readonly kind: 'box' | 'open';
  readonly shape: BaffleShape;
  readonly x: number;
  readonly y: number;
  readonly radiusM: number;
  readonly seating: Seating;
}

/** Share of a frame's radius that its cone usually takes (estimated). */
const usualConeShare = 0.8;

/**
 * Diffraction of a driver as it is mounted, over the same piston in an infinite wall on its axis.
 */
export function createMountedDiffraction(
  { kind, shape, x, y, radiusM, seating }: MountedDriver,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  const mouth = seating.mouthRadiusM;
  const source: PistonSource = {
    ...{ x, y, radiusM },
    ...(seating.kind === 'waveguide' &&
      mouth !== null &&
      mouth > radiusM &&
      seating.byM > 0 && { guide: { mouthRadiusM: mouth, depthM: seating.byM } }),
  };
  const create = kind === 'open' ? createOpenBaffle : createBaffleDiffraction;
  const whole = create(shape, source, frequencyHz, speedOfSoundMps);
  const step = stepOf(seating, radiusM);
  if (!step) return whole;
  const rim = createRim(step, source, frequencyHz, speedOfSoundMps);
  return {
    toward(observer) {
      const [flush, more] = [whole.toward(observer), rim.toward(observer)];
      return {
        re: flush.re.map((value, i) => value + more.re[i]),
        im: flush.im.map((value, i) => value + more.im[i]),
      };
    },
  };
}

/** The step around a driver; null where it lies flush. */
export function stepOf(
  { kind, byM, frameRadiusM, mouthRadiusM }: Seating,
  radiusM: number,
): Step | null {
  if (byM <= 0 || kind === 'flush' || kind === 'waveguide') return null;
  const frame = frameRadiusM ?? radiusM / usualConeShare;
  // A driver behind the front looks through a hole about as wide as its cone.
  const rim = kind === 'behind' ? (mouthRadiusM ?? radiusM / usualConeShare) : frame;
  return rim <= radiusM ? null : { radiusM: rim, heightM: kind === 'proud' ? byM : -byM };
}

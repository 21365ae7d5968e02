import { filled, frontSeenFrom, isConvex } from '@/core/baffle/dents';
import { areaOf, bluntAlike, isSharp, solidOfShape, type BaffleShape } from '@/core/baffle/shape';
import { createDiffraction } from './diffraction';
import { createFirstOrder } from './firstOrder';
import type { Diffraction, Observer, PistonSource } from './sending';
import type { Solid } from '@/core/baffle/solid';

/** Below this over the side of a square as large as the front, a box is small against the wave. */
const smallBelow = 0.6;

/**
 * Diffraction of a piston on the front of a box with sharp, rounded or chamfered edges.
 *
 * Narrow strips of a treated edge would have to be followed over many edges where they are small
 * against the wave; there the box counts as one with sharp edges that is a little smaller.
 *
 * An outline that turns inward is worked out with its dents filled; what goes over one edge alone is
 * then exchanged for what the real edges send, as far as the driver sees them (an estimate).
 */
export function createBaffleDiffraction(
  shape: BaffleShape,
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  if (!isConvex(shape.outline)) return dented(shape, source, frequencyHz, speedOfSoundMps);
  const turnHz = (smallBelow * speedOfSoundMps) / Math.sqrt(areaOf(shape));
  const of = (solid: Solid) => createDiffraction(solid, source, frequencyHz, speedOfSoundMps);
  const whole = of(solidOfShape(shape));
  if (isSharp(shape)) return whole;
  const blunt = of(bluntAlike(shape));
  const lows = frequencyHz.map((hz) => 1 / (1 + (hz / turnHz) ** 4));
  return {
    toward(observer) {
      // Over treated edges to the rear sound goes over more of them than are followed.
      const behind = Math.max(0, Math.min(1, -heightOf(observer) / behindFrom));
      const [alike, exact] = [blunt.toward(observer), whole.toward(observer)];
      const mix = (a: Float64Array, b: Float64Array) =>
        a.map((value, i) => {
          const share = behind + (1 - behind) * lows[i];
          return share * value + (1 - share) * b[i];
        });
      return { re: mix(alike.re, exact.re), im: mix(alike.im, exact.im) };
    },
  };
}

function dented(
  shape: BaffleShape,
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  const whole = filled(shape);
  const smooth = createBaffleDiffraction(whole, source, frequencyHz, speedOfSoundMps);
  const [real, alike] = [shape, whole].map((one) =>
    createFirstOrder(frontSeenFrom(one, source).solid, source, frequencyHz, speedOfSoundMps),
  );
  return {
    toward(observer) {
      const [all, more, less] = [smooth, real, alike].map((one) => one.toward(observer));
      return {
        re: all.re.map((value, i) => value + more.re[i] - less.re[i]),
        im: all.im.map((value, i) => value + more.im[i] - less.im[i]),
      };
    },
  };
}

/** From this far behind the front (cosine of the angle) a treated box counts as its sharp likeness. */
const behindFrom = 0.5;

const heightOf = (observer: Observer): number =>
  observer.kind === 'far'
    ? observer.direction.z
    : observer.at.z / Math.hypot(observer.at.x, observer.at.y, observer.at.z);

import { prism } from '@/core/baffle/solid';
import { createFirstOrder } from './firstOrder';
import { distanceOf, type Diffraction, type Observer, type PistonSource } from './sending';

/** A round step around a driver: its frame standing out, or the mouth of a recess. */
export interface Step {
  readonly radiusM: number;
  /** Of the driver's own plane over the front; negative below it. */
  readonly heightM: number;
}

const corners = 32;
/** First order does not reach so far down the side. */
const deepM = 1;

/**
 * What the step around a driver adds to what it radiates: sound that goes over the rim, less what
 * goes down there and comes back from the front a little later. So it fades with the height, as it
 * must. A recess is a step of negative height: to first order in height over wavelength that is the
 * same with the other sign.
 *
 * What runs on along the front counts as if there were no step.
 */
export function createRim(
  { radiusM, heightM }: Step,
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  // A polygon of the circle's area.
  const reach = radiusM * Math.sqrt((2 * Math.PI) / corners / Math.sin((2 * Math.PI) / corners));
  const outline = Array.from({ length: corners }, (_, c) => {
    const angle = (2 * Math.PI * c) / corners;
    return { x: source.x + reach * Math.cos(angle), y: source.y + reach * Math.sin(angle) };
  });
  const over = createFirstOrder(prism(outline, deepM), source, frequencyHz, speedOfSoundMps);
  return {
    toward(observer) {
      const up = cosineTo(source, observer);
      const parts = over.perEdge(observer);
      const re = new Float64Array(frequencyHz.length);
      const im = new Float64Array(frequencyHz.length);
      // Behind the front the step is not seen.
      if (up <= 0) return { re, im };
      for (let i = 0; i < frequencyHz.length; i++) {
        const turn = (4 * Math.PI * frequencyHz[i] * Math.abs(heightM) * up) / speedOfSoundMps;
        const [c, s] = [
          Math.sign(heightM) * (1 - Math.cos(turn)),
          Math.sign(heightM) * Math.sin(turn),
        ];
        for (const part of parts) {
          re[i] += part.re[i] * c - part.im[i] * s;
          im[i] += part.re[i] * s + part.im[i] * c;
        }
      }
      return { re, im };
    },
  };
}

function cosineTo(source: PistonSource, observer: Observer): number {
  if (observer.kind === 'far') return observer.direction.z;
  return observer.at.z / distanceOf(observer, { ...source, z: 0 }).lead;
}

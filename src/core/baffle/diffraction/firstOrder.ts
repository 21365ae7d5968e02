import type { Solid, Vector } from '@/core/baffle/solid';
import { createArrivals } from './arrivals';
import { reachedFrom, sizeOf } from './cells';
import {
  addDirect,
  directivityAlongWall,
  distanceOf,
  pointsOf,
  seenBy,
  sendOn,
  type Diffraction,
  type Observer,
  type PistonSource,
  type Spectrum,
} from './sending';

/** What goes over one edge alone: enough to see which edge makes a bump, and to look at many places. */
interface FirstOrder extends Diffraction {
  /** What each edge of the front adds, in the order of `edges`. */
  readonly perEdge: (observer: Observer) => Spectrum[];
  /** The edges of the front: where they begin and end. */
  readonly edges: readonly { readonly from: Vector; readonly to: Vector }[];
}

const front = 0;

/**
 * Diffraction over single edges of the front.
 *
 * @param solid convex, the piston wholly in its front
 * @param share step along an edge over the distance from there to the piston
 */
export function createFirstOrder(
  solid: Solid,
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
  share = 0.25,
): FirstOrder {
  const centre: Vector = { x: source.x, y: source.y, z: 0 };
  const points = pointsOf(source);
  const cells = reachedFrom(solid, front, points, { share, longestM: Infinity });
  const most = (3 * sizeOf(solid)) / speedOfSoundMps;
  const arrivals = createArrivals(frequencyHz, -most / 3, most);
  const factor = source.guide ? directivityAlongWall(source, frequencyHz, speedOfSoundMps) : null;
  const silence = (): Spectrum => ({
    re: new Float64Array(frequencyHz.length),
    im: new Float64Array(frequencyHz.length),
  });

  /** Adds what some edges send to an observer. */
  function add(some: typeof cells, observer: Observer, { re, im }: Spectrum): void {
    const away = distanceOf(observer, centre);
    arrivals.clear();
    for (const own of some) {
      const receiver = seenBy(own, observer, false);
      if (receiver) sendOn(own, receiver, away, speedOfSoundMps, arrivals);
    }
    arrivals.addSpectrum(re, im, factor);
  }

  return {
    edges: cells.map(({ edge: { from, along, length } }) => ({
      from,
      to: {
        x: from.x + length * along.x,
        y: from.y + length * along.y,
        z: from.z + length * along.z,
      },
    })),
    perEdge: (observer) =>
      cells.map((own) => {
        const out = silence();
        add([own], observer, out);
        return out;
      }),
    toward(observer) {
      const out = silence();
      add(cells, observer, out);
      const away = distanceOf(observer, centre);
      const { re, im } = out;
      addDirect(source, points, observer, away, frequencyHz, speedOfSoundMps, re, im);
      return out;
    },
  };
}

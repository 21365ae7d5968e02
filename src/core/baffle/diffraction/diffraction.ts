import { lengthOf, minus, type Solid, type Vector } from '@/core/baffle/solid';
import { createArrivals } from './arrivals';
import { reachedFrom, reachedOver, sizeOf, type Fineness } from './cells';
import {
  addDirect,
  directivityAlongWall,
  pointsOf,
  distanceOf,
  seenBy,
  sendOn,
  type Diffraction,
  type Observer,
  type PistonSource,
  type Spectrum,
} from './sending';

const front = 0;
/** The edges as the piston reaches them. */
const firstly: Fineness = { share: 0.25, longestM: Infinity };
/** Up to 20 kHz neighbouring pieces of an edge overlap in what they send on to another. */
const fine: Fineness = { share: 0.6, longestM: 0.025 };
/** What goes over a third edge matters only where all of it is nearly in phase. */
const coarse: Fineness = { share: 1.1, longestM: 0.14 };
const coarsest: Fineness = { share: 1, longestM: Infinity };
const coarseTopHz = 1200;
/** Of the wave at the lowest frequency, the size of a box that is a point to it. */
const lowestShare = 0.02;
/** Share of the wave up to which what is known at low frequencies holds. */
const anchorShare = 0.8;
/** From edge to edge the step is bounded by what is near alone. */
const onward = ({ share }: Fineness): Fineness => ({ share, longestM: Infinity });

/**
 * Edge diffraction: over every edge of the front, and on from there across the front and the sides
 * over every other edge of these; over a third edge at low frequencies. From the second edge on the
 * piston counts as a point with the directivity that it has along its wall.
 *
 * @param solid convex, the piston wholly in its front
 */
export function createDiffraction(
  solid: Solid,
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  const centre: Vector = { x: source.x, y: source.y, z: 0 };
  const alone = [{ at: centre, share: 1 }];
  const points = pointsOf(source);
  const first = reachedFrom(solid, front, points, firstly);
  const fromCentre = (fineness: Fineness) => reachedFrom(solid, front, alone, fineness);
  const second = reachedOver(solid, fromCentre(fine), onward(fine));
  const third = reachedOver(
    solid,
    reachedOver(solid, fromCentre(coarse), onward(coarse)),
    coarsest,
  );
  // Below everything else, to see what is left there of what is known.
  const size = sizeOf(solid);
  const grid = Float64Array.of(
    Math.min((lowestShare * speedOfSoundMps) / size, frequencyHz[0]),
    ...frequencyHz,
  );
  const anchor = grid.map((hz) => 1 / (1 + ((hz * size) / speedOfSoundMps / anchorShare) ** 4));
  const most = (4 * size) / speedOfSoundMps;
  const alongWall = directivityAlongWall(source, grid, speedOfSoundMps);
  const lows = grid.filter((hz) => hz < 4 * coarseTopHz);
  const orders = [
    {
      cells: first,
      arrivals: createArrivals(grid, -most / 4, most),
      factor: source.guide ? alongWall : null,
      isLast: false,
    },
    {
      cells: second,
      arrivals: createArrivals(grid, -most / 4, most),
      factor: alongWall,
      isLast: false,
    },
    {
      cells: third,
      arrivals: createArrivals(lows, -most / 4, 1.5 * most),
      factor: lows.map((hz, i) => alongWall[i] / (1 + (hz / coarseTopHz) ** 4)),
      isLast: true,
    },
  ];

  function toward(observer: Observer): Spectrum {
    const { re, im } = followed(observer);
    const factor = anchorOf(observer, re[0], im[0]);
    const anchored = (side: Float64Array) =>
      side.map((value, i) => value * (1 + (factor - 1) * anchor[i])).subarray(1);
    return { re: anchored(re), im: anchored(im) };
  }

  /**
   * What makes up, at low frequencies, for the edges beyond the third: a closed box is a point there,
   * half as loud as in a wall, that stands before it as far as its sound comes too early.
   */
  function anchorOf(observer: Observer, re: number, im: number): number {
    const level = Math.sqrt(re * re + im * im);
    if (observer.kind === 'far') return 0.5 / level;
    const offset = minus(observer.at, centre);
    const distance = lengthOf(offset);
    // Close to the box it is no point.
    if (distance < size) return 1;
    const k = (2 * Math.PI * grid[0]) / speedOfSoundMps;
    const before = Math.atan2(im, re) / k;
    return (0.5 * distance) / (distance - before) / level;
  }

  function followed(observer: Observer): Spectrum {
    const away = distanceOf(observer, centre);
    const re = new Float64Array(grid.length);
    const im = new Float64Array(grid.length);
    for (const { cells, arrivals, factor, isLast } of orders) {
      arrivals.clear();
      for (const own of cells) {
        const receiver = seenBy(own, observer, isLast);
        if (receiver) sendOn(own, receiver, away, speedOfSoundMps, arrivals);
      }
      arrivals.addSpectrum(re, im, factor);
    }
    addDirect(source, points, observer, away, grid, speedOfSoundMps, re, im);
    return { re, im };
  }

  return { toward };
}

import { pistonDirectivity } from '@/core/radiation/piston';
import {
  dot,
  lengthOf,
  minus,
  type Edge,
  type EdgeSide,
  type Solid,
  type Vector,
} from '@/core/baffle/solid';
import { createArrivals, type Arrivals } from './arrivals';
import { reachedFrom, reachedOver, sizeOf, type EdgeCells, type Fineness } from './cells';
import { pistonPoints } from './pistonPoints';
import { directionAround, edgeStrength, pointAround, wedgeOf, type Wedge } from './wedge';

/** A complex quantity over frequency. */
export interface Spectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Where sound is heard: in a direction of length 1, far away, or at a point, m. */
export type Observer =
  | { readonly kind: 'far'; readonly direction: Vector }
  | { readonly kind: 'point'; readonly at: Vector };

/** A piston in the front of a solid: its face number 0, in the plane z = 0. */
export interface PistonSource {
  readonly x: number;
  readonly y: number;
  readonly radiusM: number;
}

/** How a solid changes what a piston in its front radiates. */
export interface Diffraction {
  /**
   * Pressure over that of the same piston in an infinite wall, on its axis, as far away; the delay
   * from the piston's centre is taken out.
   */
  toward(observer: Observer): Spectrum;
}

const front = 0;
/** The edges as the piston reaches them. */
const firstly: Fineness = { share: 0.25, longestM: Infinity };
/** Up to 20 kHz neighbouring pieces of an edge overlap in what they send on to another. */
const fine: Fineness = { share: 0.6, longestM: 0.025 };
/** What goes over a third edge matters only where all of it is nearly in phase. */
const coarse: Fineness = { share: 0.8, longestM: 0.1 };
const coarseTopHz = 1200;
/** Of the wave at the lowest frequency, the size of a box that is a point to it. */
const lowestShare = 0.02;
/** Share of the wave up to which what is known at low frequencies holds. */
const anchorShare = 0.8;
/** From edge to edge the step is bounded by what is near alone. */
const onward = ({ share }: Fineness): Fineness => ({ share, longestM: Infinity });

/** Angles this close to a face are along it, and this close to the shadow are cut finer. */
const alongFace = 1e-7;
const nearShadow = 0.35;

/**
 * Edge diffraction: over every edge of the front, and on from there across the front and the sides
 * over every other edge of these; over a third edge at low frequencies. From the second edge on the
 * piston counts as a point with the directivity that it has along its wall.
 *
 * @param solid convex, the piston wholly in its front
 */
export function createDiffraction(
  solid: Solid,
  { x, y, radiusM }: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Diffraction {
  const points = pistonPoints(x, y, radiusM).map(({ share, ...at }) => ({
    share,
    at: { ...at, z: 0 },
  }));
  const centre: Vector = { x, y, z: 0 };
  const alone = [{ at: centre, share: 1 }];
  const first = reachedFrom(solid, front, points, firstly);
  const fromCentre = (fineness: Fineness) => reachedFrom(solid, front, alone, fineness);
  const second = reachedOver(solid, fromCentre(fine), onward(fine));
  const third = reachedOver(
    solid,
    reachedOver(solid, fromCentre(coarse), onward(coarse)),
    onward(coarse),
  );
  // Below everything else, to see what is left there of what is known.
  const size = sizeOf(solid);
  const grid = Float64Array.of(
    Math.min((lowestShare * speedOfSoundMps) / size, frequencyHz[0]),
    ...frequencyHz,
  );
  const anchor = grid.map((hz) => 1 / (1 + ((hz * size) / speedOfSoundMps / anchorShare) ** 4));
  const most = (4 * size) / speedOfSoundMps;
  const alongWall = grid.map((hz) =>
    pistonDirectivity((2 * Math.PI * hz * radiusM) / speedOfSoundMps),
  );
  const lows = grid.filter((hz) => hz < 4 * coarseTopHz);
  const orders = [
    {
      cells: first,
      arrivals: createArrivals(grid, -most / 4, most),
      factor: null,
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
    const far = followed({
      kind: 'far',
      direction: {
        x: offset.x / distance,
        y: offset.y / distance,
        z: offset.z / distance,
      },
    });
    const k = (2 * Math.PI * grid[0]) / speedOfSoundMps;
    const before = Math.atan2(far.im[0], far.re[0]) / k;
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
    addDirect(observer, away, re, im);
    return { re, im };
  }

  function addDirect(observer: Observer, away: Away, re: Float64Array, im: Float64Array): void {
    const height = observer.kind === 'far' ? observer.direction.z : observer.at.z;
    const weight = height > alongFace ? 1 : height < -alongFace ? 0 : 0.5;
    if (weight === 0) return;
    for (let i = 0; i < grid.length; i++) {
      const k = (2 * Math.PI * grid[i]) / speedOfSoundMps;
      if (observer.kind === 'far') {
        const { x: dx, y: dy } = observer.direction;
        re[i] += weight * pistonDirectivity(k * radiusM * Math.sqrt(dx * dx + dy * dy));
        continue;
      }
      for (const { at, share } of points) {
        const l = lengthOf(minus(observer.at, at));
        const size = (weight * share * away.factor) / l;
        re[i] += size * Math.cos(k * (l - away.lead));
        im[i] -= size * Math.sin(k * (l - away.lead));
      }
    }
  }

  return { toward };
}

/** What a distance is told against: path that is taken out, m, and the distance that cancels. */
interface Away {
  readonly lead: number;
  readonly factor: number;
}

function distanceOf(observer: Observer, centre: Vector): Away {
  if (observer.kind === 'far') return { lead: -dot(centre, observer.direction), factor: 1 };
  const distance = lengthOf(minus(observer.at, centre));
  return { lead: distance, factor: distance };
}

/** The receiver as an edge sees it. */
interface Seen {
  readonly wedge: Wedge;
  readonly isFar: boolean;
  /** Half where the edge is seen along one of its faces, which the face's other edge halves. */
  readonly weight: number;
  /** How near to the boundary of the shadow, radians. */
  readonly off: number;
  /** Far away: component of the direction along the edge, and across; else place and distance. */
  readonly along: number;
  readonly across: number;
  /** Far away: how much the beginning of the edge is nearer than the origin, m. */
  readonly nearer: number;
}

/** @returns null when the solid is in between */
function seenBy(
  { edge, side }: { readonly edge: Edge; readonly side: EdgeSide },
  observer: Observer,
  isLast: boolean,
): Seen | null {
  const isFar = observer.kind === 'far';
  const { angle, along, across } = isFar
    ? directionAround(edge, side, observer.direction)
    : pointAround(edge, side, observer.at);
  const nearer = isFar ? dot(edge.from, observer.direction) : 0;
  if (across < 1e-6) return null;
  // From a face of the wedge, negative inside of it.
  const isInAir = angle <= edge.airAngle;
  const clear = isInAir
    ? Math.min(angle, edge.airAngle - angle)
    : -Math.min(angle - edge.airAngle, 2 * Math.PI - angle);
  const weight = isLast ? softWeight(clear) : clear > alongFace ? 1 : clear < -alongFace ? 0 : 0.5;
  if (weight === 0) return null;
  const isBehindOwn = !isInAir && 2 * Math.PI - angle < angle - edge.airAngle;
  const within = isInAir ? angle : isBehindOwn ? 0 : edge.airAngle;
  return {
    wedge: wedgeOf(edge, within),
    ...{ isFar, along, across, nearer, weight },
    off: Math.abs(within - Math.PI),
  };
}

/** What went over the last edge that is counted goes on bending: half of it on either side of a face, rad. */
const softRad = 0.6;
const softWeight = (clear: number): number => Math.max(0, Math.min(1, 0.5 + clear / (2 * softRad)));

/** Adds what the pieces of an edge send to a receiver. */
function sendOn(
  cells: EdgeCells,
  receiver: Seen,
  { lead, factor }: Away,
  speed: number,
  arrivals: Arrivals,
): void {
  const { isFar, along, across, nearer, wedge, weight, off } = receiver;
  const { count, from, to, place, distance, path, strength } = cells;
  const scale = weight * factor;
  /** Path from where the sound came from, over a place of the edge, to the receiver. */
  const pathOver = (z: number, p: number, d: number): number => {
    const m = Math.sqrt((z - p) * (z - p) + d * d);
    return isFar
      ? m - nearer - z * along
      : m + Math.sqrt((z - along) * (z - along) + across * across);
  };
  /** Adds a part of a piece. */
  const part = (k: number, a: number, b: number, share: number) => {
    const [p, d] = [place[k], distance[k]];
    const z = (a + b) / 2;
    const m = Math.sqrt((z - p) * (z - p) + d * d);
    let l = 1;
    let eta: number;
    if (isFar) eta = (m - (z - p) * along) / (d * across);
    else {
      l = Math.sqrt((z - along) * (z - along) + across * across);
      eta = (m * l + (z - p) * (z - along)) / (d * across);
    }
    const before = path[k] - lead;
    arrivals.spread(
      (before + pathOver(a, p, d)) / speed,
      (before + pathOver(b, p, d)) / speed,
      (scale * share * strength[k] * edgeStrength(wedge, eta)) / (m * l),
    );
  };
  for (let k = 0; k < count; k++) {
    const [p, d, a, b] = [place[k], distance[k], from[k], to[k]];
    const shortest = isFar ? p + (d * along) / across : p + ((along - p) * d) / (d + across);
    if (off >= nearShadow) {
      // A piece ends where the paths stop getting shorter.
      if (shortest > a && shortest < b) {
        const share = (shortest - a) / (b - a);
        part(k, a, shortest, share);
        part(k, shortest, b, 1 - share);
      } else part(k, a, b, 1);
      continue;
    }
    // Near the shadow the strength has a peak there, the sharper the nearer.
    const sharpness = d * Math.max(1e-4, off);
    let z = a;
    while (z < b) {
      const step = 0.3 * Math.sqrt((z - shortest) ** 2 + sharpness * sharpness);
      let next = Math.min(b, z + step);
      if (z < shortest && next > shortest) next = shortest;
      if (b - next < 1e-3 * (b - a)) next = b;
      part(k, z, next, (next - z) / (b - a));
      z = next;
    }
  }
}

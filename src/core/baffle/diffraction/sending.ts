import { kaSixDown, pistonDirectivity } from '@/core/radiation/piston';
import { dot, lengthOf, minus, type Edge, type EdgeSide, type Vector } from '@/core/baffle/solid';
import type { Arrivals } from './arrivals';
import type { EdgeCells } from './cells';
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
  /** A waveguide in front of it. */
  readonly guide?: { readonly mouthRadiusM: number; readonly depthM: number };
}

/**
 * Radius of the piston that beams as a source does at a frequency, m. A waveguide radiates over its
 * whole mouth until the mouth beams as narrowly as its walls open, and keeps that angle from there
 * on, down to the piston itself (common practice; 6 dB down at the walls).
 */
export function beamRadius(
  { radiusM, guide }: PistonSource,
  hz: number,
  speedOfSoundMps: number,
): number {
  if (!guide) return radiusM;
  const opening = (Math.atan2(guide.mouthRadiusM - radiusM, guide.depthM) * 180) / Math.PI;
  const k = (2 * Math.PI * hz) / speedOfSoundMps;
  return Math.max(radiusM, Math.min(guide.mouthRadiusM, kaSixDown(Math.max(1, opening)) / k));
}

/** How a solid changes what a piston in its front radiates. */
export interface Diffraction {
  /**
   * Pressure over that of the same piston in an infinite wall, on its axis, as far away; the delay
   * from the piston's centre is taken out.
   */
  toward(observer: Observer): Spectrum;
}

/** Angles this close to a face are along it, and this close to the shadow are cut finer. */
const alongFace = 1e-7;
const nearShadow = 0.35;

/** What a distance is told against: path that is taken out, m, and the distance that cancels. */
export interface Away {
  readonly lead: number;
  readonly factor: number;
}

export function distanceOf(observer: Observer, centre: Vector): Away {
  if (observer.kind === 'far') return { lead: -dot(centre, observer.direction), factor: 1 };
  const distance = lengthOf(minus(observer.at, centre));
  return { lead: distance, factor: distance };
}

/** The receiver as an edge sees it. */
export interface Seen {
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
export function seenBy(
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
export function sendOn(
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

/**
 * Points that stand for a source, with their shares: a waveguide counts as one that beams, a piston
 * beams by its points.
 */
export const pointsOf = ({
  x,
  y,
  radiusM,
  guide,
}: PistonSource): { readonly at: Vector; readonly share: number }[] =>
  pistonPoints(x, y, guide ? 0 : radiusM).map(({ share, ...at }) => ({
    share,
    at: { ...at, z: 0 },
  }));

/** What a source sends along its wall, over what it sends straight ahead. */
export const directivityAlongWall = (
  source: PistonSource,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
): Float64Array =>
  frequencyHz.map((hz) =>
    pistonDirectivity(
      (2 * Math.PI * hz * beamRadius(source, hz, speedOfSoundMps)) / speedOfSoundMps,
    ),
  );

/**
 * Adds what a piston sends straight to an observer, over what it does on its axis in a wall.
 *
 * @param points of the piston with their shares
 */
export function addDirect(
  source: PistonSource,
  points: readonly { readonly at: Vector; readonly share: number }[],
  observer: Observer,
  away: Away,
  frequencyHz: Float64Array,
  speedOfSoundMps: number,
  re: Float64Array,
  im: Float64Array,
): void {
  const height = observer.kind === 'far' ? observer.direction.z : observer.at.z;
  const weight = height > alongFace ? 1 : height < -alongFace ? 0 : 0.5;
  if (weight === 0) return;
  for (let i = 0; i < frequencyHz.length; i++) {
    const k = (2 * Math.PI * frequencyHz[i]) / speedOfSoundMps;
    if (observer.kind === 'far') {
      const { x: dx, y: dy } = observer.direction;
      const radiusM = beamRadius(source, frequencyHz[i], speedOfSoundMps);
      re[i] += weight * pistonDirectivity(k * radiusM * Math.sqrt(dx * dx + dy * dy));
      continue;
    }
    const beam = source.guide
      ? pistonDirectivity(
          k * beamRadius(source, frequencyHz[i], speedOfSoundMps) * sineTo(source, observer.at),
        )
      : 1;
    for (const { at, share } of points) {
      const l = lengthOf(minus(observer.at, at));
      const size = (weight * share * beam * away.factor) / l;
      re[i] += size * Math.cos(k * (l - away.lead));
      im[i] -= size * Math.sin(k * (l - away.lead));
    }
  }
}

/** Sine of the angle off a source's own axis. */
const sineTo = ({ x, y }: PistonSource, at: Vector): number =>
  Math.hypot(at.x - x, at.y - y) / Math.hypot(at.x - x, at.y - y, at.z);

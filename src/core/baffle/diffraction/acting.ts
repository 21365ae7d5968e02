import type { Solid, Vector } from '@/core/baffle/solid';
import { pointOn, reachedFrom } from './cells';
import { beamRadius, distanceOf, seenBy, type Observer, type PistonSource } from './sending';
import { edgeStrength } from './wedge';
import { pistonDirectivity } from '@/core/radiation/piston';

/** A piece of an edge of the front and what it adds at one frequency. */
interface ActingPiece {
  /** Number of the edge, as the solid has the edges of its front. */
  readonly edge: number;
  readonly from: Vector;
  readonly to: Vector;
  /** Amplitude re the same piston in an infinite wall on its axis; the delay to its centre is out. */
  readonly re: number;
  readonly im: number;
}

const front = 0;
const fine = { share: 0.15, longestM: 0.02 };

/** What every piece of the front's edges adds at a frequency, each over that edge alone. */
export function piecesActing(
  solid: Solid,
  source: PistonSource,
  observer: Observer,
  hz: number,
  speedOfSoundMps: number,
): ActingPiece[] {
  const centre: Vector = { x: source.x, y: source.y, z: 0 };
  const k = (2 * Math.PI * hz) / speedOfSoundMps;
  const beam = pistonDirectivity(k * beamRadius(source, hz, speedOfSoundMps));
  const { lead, factor } = distanceOf(observer, centre);
  return reachedFrom(solid, front, [{ at: centre, share: 1 }], fine).flatMap((cells, edge) => {
    const seen = seenBy(cells, observer, false);
    if (!seen) return [];
    const { wedge, isFar, along, across, nearer, weight } = seen;
    return Array.from({ length: cells.count }, (_, c): ActingPiece => {
      const [from, to, p, d] = [cells.from[c], cells.to[c], cells.place[c], cells.distance[c]];
      const z = (from + to) / 2;
      const m = Math.hypot(z - p, d);
      const l = isFar ? 1 : Math.hypot(z - along, across);
      const eta = isFar
        ? (m - (z - p) * along) / (d * across)
        : (m * l + (z - p) * (z - along)) / (d * across);
      const onward = isFar ? -nearer - z * along : l;
      const size =
        (beam * weight * factor * cells.strength[c] * edgeStrength(wedge, eta)) / (m * l);
      const angle = -k * (cells.path[c] + m + onward - lead);
      return {
        edge,
        from: pointOn(cells.edge, from),
        to: pointOn(cells.edge, to),
        re: size * Math.cos(angle),
        im: size * Math.sin(angle),
      };
    });
  });
}
